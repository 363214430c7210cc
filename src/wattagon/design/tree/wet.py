"""What keeps water and dirt out of a build, place by place, and how that was tested."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra, unique
from wattagon.errors import InputError
from wattagon.record import record

MOST_PLACES = 30
YES_NO = ("", "yes", "no")
METALS = ("", "alike", "insulated", "anode", "unlike")
LEAK_TESTS = ("", "air", "dunk")
DROPPED = ("", "keeps dry", "drains", "floods")
SHUT = ("", "open", "splashes", "under water")


@record(frozen=True, slots=True, kw_only=True)
class WetPlace:
    """One place; what is empty is not stated, and then it is not checked."""

    id: str  # box, pack, controller, motor, connectors, bearings, belt, frame, hull, or one's own
    name: str = ""
    shut: str = ""  # against what it is shut
    seal: str = ""  # whether its lid has one
    squeeze: Quantity | None = field(default=None, metadata=spec("seal squeezed by", "share", 0.0, 0.9))
    glands: str = ""  # every lead through a gland of its size
    potted: str = ""  # strands filled, so that no water runs inside a lead
    drain: str = ""
    vent: str = ""  # a membrane above the water, or gel
    metals: str = ""
    coated: str = ""
    kick_plate: str = ""
    dropped: str = ""  # what happens when it falls into the water
    volume: Quantity | None = field(default=None, metadata=spec("air inside", "number", 0.01, 2000.0, "litres"))
    tested: str = ""  # how its tightness was tested
    drop: Quantity | None = field(default=None, metadata=spec("pressure lost", "pressure", 0.0, 1e5))
    seconds: Quantity | None = field(default=None, metadata=spec("in", "time", 1.0, 1e6))
    dry: str = ""  # after the dunk
    date: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        for name, value, known in (
            ("shut", self.shut, SHUT),
            ("seal", self.seal, YES_NO),
            ("glands", self.glands, YES_NO),
            ("potted", self.potted, YES_NO),
            ("drain", self.drain, YES_NO),
            ("vent", self.vent, YES_NO),
            ("metals", self.metals, METALS),
            ("coated", self.coated, YES_NO),
            ("kick_plate", self.kick_plate, YES_NO),
            ("dropped", self.dropped, DROPPED),
            ("tested", self.tested, LEAK_TESTS),
            ("dry", self.dry, YES_NO),
        ):
            if value not in known:
                raise InputError(f"{name} of {self.id}", value, ", ".join(word or "empty" for word in known))


@record(frozen=True, slots=True, kw_only=True)
class Wet:
    """Of one variant."""

    places: tuple[WetPlace, ...] = ()
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("places", len(self.places), MOST_PLACES)
        unique("place", [one.id for one in self.places])

    def place(self, code: str) -> WetPlace:
        """One place; an empty one where nothing is stated."""
        return next((one for one in self.places if one.id == code), WetPlace(id=code))
