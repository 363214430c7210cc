"""What a report holds: plain words and tables, in the user's units, and pictures as SVG."""

from __future__ import annotations

from wattagon.record import record

Table = tuple[tuple[str, ...], ...]  # headings first


@record(frozen=True, slots=True, kw_only=True)
class Told:
    """A finding: its status in one word, title, reason, and whether it rests on an assumption."""

    status: str
    title: str
    because: str
    assumed: bool


@record(frozen=True, slots=True, kw_only=True)
class Section:
    """One bench."""

    code: str
    title: str
    headline: str = ""
    picture: str = ""  # SVG
    says: str = ""  # the picture in words
    table: Table = ()
    findings: tuple[Told, ...] = ()
    missing: str = ""  # why there is nothing


@record(frozen=True, slots=True, kw_only=True)
class Report:
    """All of it."""

    vehicle: str
    variant: str
    note: str
    made: str  # ISO date
    drive: str  # in one line
    goals: Table
    sections: tuple[Section, ...]
    assumed: tuple[tuple[str, str], ...]  # name and value of what nobody measured or stated
    inputs: int
    not_checked: tuple[str, ...]
    left_out: tuple[str, ...]  # sections that were not chosen
    cautions: tuple[str, ...]

    @property
    def title(self) -> str:
        return f"{self.vehicle}, variant {self.variant}"


CAUTIONS = (
    "Every figure follows from what is told of the design; what nobody measured is assumed and marked ≈. What is not checked says so.",
    "Lithium packs burn: none is left alone on charge, damaged cells go out of the house. Rotating and hot parts, falls, traffic, water "
    "and mains chargers hurt: the steps that touch them have their own cautions. Local rules and licensed practice come first.",
)
