"""Three inks for three phases, which letters and marks tell apart as well; and a wire's size in words."""

from __future__ import annotations

from PySide6.QtGui import QColor

from wattagon.desk.session import Session
from wattagon.desk.theme import Theme

_LIGHT = (QColor("#5B4A94"), QColor("#8A5F12"), QColor("#1E7470"))  # A violet, B ochre, C teal
_DARK = (QColor("#B3A5EE"), QColor("#DDB15C"), QColor("#6CC7C2"))
INCH_M = 0.0254


def ink_of(theme: Theme, phase: int) -> QColor:
    """Of phase 0 to 2; not one of the colours of flow or heat."""
    return (_DARK if theme.name == "dark" else _LIGHT)[phase]


def wire_words(session: Session, bare_m: float) -> str:
    """Its size to the hundredth of a millimetre that drawn wire is sold in."""
    return (
        session.say(float(f"{bare_m / INCH_M:.3g}") * INCH_M, "length")
        if session.unit_set == "imperial"
        else session.say(round(bare_m, 5), "length")
    )
