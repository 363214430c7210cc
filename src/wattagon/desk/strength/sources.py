"""What an element's factor rests on, as links to where each value is entered."""

from __future__ import annotations

from html import escape

from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.strength.element import Element
from wattagon.study.strength.study import StrengthStudy, rests_on

# where a value is entered, by a piece of its path: bench and what of it; the first that fits
PLACES: tuple[tuple[str, str, str], ...] = (
    (".strength.", "strength", "made"),
    (".layout.", "layout", ""),
    ("vehicle.", "brief", ""),
    (".controller.", "drive", "controller"),
    (".stages.", "drive", "reduction"),
    (".propeller.", "drive", "propeller"),
    ("stock.prop", "drive", "propeller"),
    ("", "drive", "motor"),
)
NAMES = {"kv_rpm_per_v": "kv", "diameter_m": "propeller", "area_ratio": "blade area ratio", "hub_ratio": "hub over diameter"}
KNOWN = {"assumed": " ≈"}


def leads_to(path: str) -> tuple[str, str]:
    """(bench, what of it) where the value of a path is entered."""
    return next((bench, what) for piece, bench, what in PLACES if piece in path)


def sources(session: Session, found: StrengthStudy, one: Element) -> str:
    """A line of links, each with its value; ≈ marks what is assumed."""
    made = []
    for path in rests_on(found, one):
        item, (bench, what) = found.inputs[path], leads_to(path)
        value = session.say(item.value, item.dimension)
        made.append(f'<a href="{bench}:{what}">{escape(_name(session, path))} {escape(value)}{KNOWN.get(item.known.value, "")}</a>')
    return ", ".join(made)


def _name(session: Session, path: str) -> str:
    from wattagon.design.paths import place

    last = path.rsplit(".", 1)[-1]
    if path.startswith("stock."):
        return NAMES.get(last, last.replace("_", " "))
    try:
        spec = place(session.design, path).spec
    except WattagonError:
        spec = None
    return spec.label if spec is not None else last.replace("_", " ")
