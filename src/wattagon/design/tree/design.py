"""All that a `.wattagon` file holds: a line a section."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.tree.brief import Brief
from wattagon.design.tree.history import MOST_ENTRIES, Entry
from wattagon.design.tree.ids import Extra, at_most, no_extra, unique
from wattagon.design.tree.logs import Log, check_logs
from wattagon.design.tree.variant import Variant
from wattagon.design.tree.vehicle import Vehicle
from wattagon.errors import InputError
from wattagon.record import record

SCHEMA_VERSION = 1
MOST_VARIANTS = 60


@record(frozen=True, slots=True, kw_only=True)
class Design:
    """All that a `.wattagon` file holds."""

    schema_version: int = SCHEMA_VERSION
    vehicle: Vehicle
    brief: Brief = field(default_factory=Brief)
    variants: tuple[Variant, ...]
    active: str = ""  # id of the variant that is worked on; the first when empty
    note: str = ""
    history: tuple[Entry, ...] = ()
    logs: tuple[Log, ...] = ()
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if not self.variants:
            raise InputError("variants", "an empty list", "one variant or more")
        unique("variant", [variant.id for variant in self.variants])
        unique("entry of the history", [entry.id for entry in self.history])
        at_most("history", len(self.history), MOST_ENTRIES)
        check_logs(self.logs)
        at_most("variants", len(self.variants), MOST_VARIANTS)
        if self.active and self.active not in [variant.id for variant in self.variants]:
            raise InputError("active", self.active, "the id of one of the variants")

    def variant(self, variant_id: str | None = None) -> Variant:
        """A variant by id, or the active one.  Raises InputError for an id that is not there."""
        wanted = variant_id or self.active or self.variants[0].id
        for variant in self.variants:
            if variant.id == wanted:
                return variant
        raise InputError("variant", wanted, ", ".join(variant.id for variant in self.variants))

    def free_variant_id(self) -> str:
        """The next letter that no variant has; after Z V27 and so on."""
        taken = {variant.id for variant in self.variants}
        letters = (chr(65 + k) if k < 26 else f"V{k + 1}" for k in range(len(taken) + 1))
        return next(name for name in letters if name not in taken)
