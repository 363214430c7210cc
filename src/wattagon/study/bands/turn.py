"""A finding that may turn within what is known, and the one field that alone would turn it."""

from __future__ import annotations

from typing import Any

from wattagon.record import record
from wattagon.study.say import Say


@record(frozen=True, slots=True, kw_only=True)
class Turn:
    """A finding by its code, its margin with the band, and the field that alone would bring the margin to nothing.

    `value` is in its `unit`: that of SI where there is a dimension, else that of the field.  It is a straight line's where not `exact`.
    """

    code: str
    margin: float
    low: float
    high: float
    path: str
    name: str
    value: float
    dimension: str
    unit: str
    exact: bool

    def text(self, say: Say) -> str:
        """Such as "grip of 0.43 alone would put it past its limit"."""
        value = say(self.value, self.dimension) if self.dimension else f"{self.value:.4g} {self.unit}".rstrip()
        about = "" if self.exact else "about "
        return f"{self.name} of {about}{value} alone would {'clear it' if self.margin < 0.0 else 'put it past its limit'}"

    @property
    def row(self) -> dict[str, Any]:
        """As JSON has it."""
        by = {
            "path": self.path,
            "name": self.name,
            "value": self.value,
            "dimension": self.dimension,
            "unit": self.unit,
            "exact": self.exact,
        }
        return {"code": self.code, "margin": self.margin, "low": self.low, "high": self.high, "turned_by": by}


def turn_of(row: dict[str, Any]) -> Turn:
    """Of what JSON has.  Raises KeyError and TypeError where it is something else."""
    by = row["turned_by"]
    return Turn(
        code=row["code"],
        margin=row["margin"],
        low=row["low"],
        high=row["high"],
        path=by["path"],
        name=by["name"],
        value=by["value"],
        dimension=by["dimension"],
        unit=by["unit"],
        exact=by["exact"],
    )
