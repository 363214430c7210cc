"""What a family of belt or chain has in stock."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.design.parts.loop import LoopPart
from wattagon.design.parts.toothed import ToothedPart

if TYPE_CHECKING:
    from wattagon.design.catalogue import Catalogue


def toothed(stock: Catalogue, profile: str, role: str) -> list[ToothedPart]:
    """Pulleys or sprockets of a family for a role (driver or driven), by teeth."""

    def make() -> list[ToothedPart]:
        return sorted(
            (part for part in stock.all(ToothedPart) if part.profile == profile and part.role in (role, "both")),
            key=lambda part: part.teeth,
        )

    found: list[ToothedPart] = stock.kept(("toothed", profile, role), make)
    return found


def loops(stock: Catalogue, profile: str) -> list[LoopPart]:
    """Belts or chain of a family, by length."""
    found: list[LoopPart] = stock.kept(
        ("loops", profile), lambda: sorted((part for part in stock.all(LoopPart) if part.profile == profile), key=lambda part: part.teeth)
    )
    return found
