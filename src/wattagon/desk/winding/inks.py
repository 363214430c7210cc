"""Three inks for three phases; letters and marks tell them apart as well."""

from __future__ import annotations

from PySide6.QtGui import QColor

from wattagon.desk.theme import Theme

_LIGHT = (QColor("#5B4A94"), QColor("#8A5F12"), QColor("#1E7470"))  # A violet, B ochre, C teal
_DARK = (QColor("#B3A5EE"), QColor("#DDB15C"), QColor("#6CC7C2"))


def ink_of(theme: Theme, phase: int) -> QColor:
    """Of phase 0 to 2; not one of the colours of flow or heat."""
    return (_DARK if theme.name == "dark" else _LIGHT)[phase]
