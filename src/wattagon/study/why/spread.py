"""The band of a traced number by its own derivatives: how far each field behind it moves it, and all of them together.

The graph of what was done is walked once backwards (reverse accumulation; Griewank and Walther 2008, 3.2), which gives the derivative by
every field at once.  Fields are independent, so squares add up.  Where a limit could change its place within the band the straight line
does not hold, and where steps were not taken down a derivative is missing: both are told, and `bands` samples for those.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection
from typing import Any

from wattagon.record import record
from wattagon.study.bands.errors import MOST_WIDTHS, Wide
from wattagon.traced import GIVEN, STEPS, Traced, TracedInt

# the field behind a path; None for what is known exactly
Widths = Callable[[str], Wide | None]


@record(frozen=True, slots=True, kw_only=True)
class SpreadOf:
    """`width` on either side, beyond which one in six lies; `shares` of the variance by path, the largest first."""

    value: float
    width: float
    shares: tuple[tuple[str, float], ...]
    slopes: tuple[tuple[str, float], ...] = ()  # derivative by path, in the order of the shares
    missing: tuple[str, ...] = ()  # names of numbers on the way whose steps were not taken down
    switches: bool = False  # a limit may change its place within the band

    @property
    def low(self) -> float:
        return self.value - self.width

    @property
    def high(self) -> float:
        return self.value + self.width

    def turned_at(self, widths: Widths) -> tuple[str, float] | None:
        """(path, value) of the one field that alone brings it to nothing, where that lies within two of its widths; None without one."""
        for path, slope in self.slopes:
            found = widths(path)
            if found is not None and slope and abs(self.value / slope) <= MOST_WIDTHS * found.width:
                return path, found.value - self.value / slope
        return None

    @property
    def whole(self) -> bool:
        """Whether the band is that of the number, and not of a part of it."""
        return not self.missing and not self.switches


def spread(node: Any, widths: Widths, fields: Collection[str] = ()) -> SpreadOf:
    """Of a number.  `fields` are names at which the walk ends although they have a working: inputs with a width of their own."""
    if not isinstance(node, (Traced, TracedInt)):
        return SpreadOf(value=float(node), width=0.0, shares=())
    order = _order(node, fields)
    moved, missing, slopes, by_path = _moved(node, order, widths, fields)
    total = sum(moved.values())
    shares = sorted(((path, square / total) for path, square in moved.items() if total > 0.0), key=lambda row: -row[1])
    choices = [one for one in order if one.op in ("min", "max") and slopes.get(id(one))]
    return SpreadOf(
        value=float(node),
        width=math.sqrt(total),
        shares=tuple(shares),
        slopes=tuple((path, by_path[path]) for path, _ in shares),
        missing=missing,
        switches=any(_near(one, widths, fields) for one in choices),
    )


def _moved(
    node: Any, order: list[Any], widths: Widths, fields: Collection[str]
) -> tuple[dict[str, float], tuple[str, ...], dict[int, float], dict[str, float]]:
    """(squares by which each field moves it, what has no steps, slopes by each number on the way, slopes by each field)."""
    slopes: dict[int, float] = {id(node): 1.0}
    by_path: dict[str, float] = {}
    missing: list[str] = []
    for one in order:
        slope = slopes.get(id(one), 0.0)
        if slope == 0.0:
            continue
        if _ends(one, fields, root=one is node):
            if one.op in (STEPS, "interp"):
                missing.append(one.name or "a table")
            else:
                by_path[one.name] = by_path.get(one.name, 0.0) + slope
            continue
        for item, partial in _partials(one):
            if isinstance(item, (Traced, TracedInt)):
                slopes[id(item)] = slopes.get(id(item), 0.0) + slope * partial
    moved: dict[str, float] = {}
    for path, slope in by_path.items():
        found = widths(path)
        if found is not None:
            step = abs(found.value) * math.log1p(found.width / abs(found.value)) if found.relative and found.value else found.width
            moved[path] = (slope * step) ** 2
    return moved, tuple(dict.fromkeys(missing)), slopes, by_path


def _ends(one: Any, fields: Collection[str], *, root: bool) -> bool:
    return one.op in (GIVEN, STEPS, "interp") or (not root and one.name in fields)


def _order(node: Any, fields: Collection[str]) -> list[Any]:
    """All numbers behind one, each before those that it came from."""
    seen: set[int] = set()
    after: list[Any] = []
    stack: list[tuple[Any, bool]] = [(node, False)]
    while stack:
        one, done = stack.pop()
        if done:
            after.append(one)
            continue
        if id(one) in seen:
            continue
        seen.add(id(one))
        stack.append((one, True))
        if not _ends(one, fields, root=one is node):
            stack += [(item, False) for item in one.args if isinstance(item, (Traced, TracedInt))]
    return after[::-1]


def _partials(one: Any) -> list[tuple[Any, float]]:
    """(operand, derivative of the result by it) of one operation."""
    values = [float(item) for item in one.args]
    made = float(one)
    if one.op in ("add", "sub"):
        slopes = [1.0, 1.0 if one.op == "add" else -1.0]
    elif one.op == "mul":
        slopes = [values[1], values[0]]
    elif one.op == "truediv":
        slopes = [1.0 / values[1], -made / values[1]]
    elif one.op == "pow":
        base, power = values
        slopes = [power * base ** (power - 1.0) if base or power >= 1.0 else 0.0, made * math.log(base) if base > 0.0 else 0.0]
    elif one.op in ("min", "max"):
        chosen = values.index(made) if made in values else 0
        slopes = [1.0 if k == chosen else 0.0 for k in range(len(values))]
    elif one.op == "hypot":
        slopes = [value / made if made else 0.0 for value in values]
    elif one.op == "atan2":
        square = values[0] ** 2 + values[1] ** 2
        slopes = [values[1] / square, -values[0] / square] if square else [0.0, 0.0]
    else:
        slopes = [_ONE[one.op](values[0], made) if one.op in _ONE else 0.0]
    return list(zip(one.args, slopes, strict=False))


_ONE: dict[str, Callable[[float, float], float]] = {
    "neg": lambda _x, _y: -1.0,
    "abs": lambda x, _y: 1.0 if x >= 0.0 else -1.0,
    "sqrt": lambda _x, y: 0.5 / y if y else 0.0,
    "sin": lambda x, _y: math.cos(x),
    "cos": lambda x, _y: -math.sin(x),
    "tan": lambda _x, y: 1.0 + y * y,
    "asin": lambda x, _y: 1.0 / math.sqrt(1.0 - x * x) if abs(x) < 1.0 else 0.0,
    "acos": lambda x, _y: -1.0 / math.sqrt(1.0 - x * x) if abs(x) < 1.0 else 0.0,
    "atan": lambda x, _y: 1.0 / (1.0 + x * x),
    "exp": lambda _x, y: y,
    "log": lambda x, _y: 1.0 / x,
    "log10": lambda x, _y: 1.0 / (x * math.log(10.0)),
    "log1p": lambda x, _y: 1.0 / (1.0 + x),
    "expm1": lambda _x, y: 1.0 + y,
}


def _near(one: Any, widths: Widths, fields: Collection[str]) -> bool:
    """Whether the two that a limit chooses from are so near each other that the other one may be it."""
    first, second = one.args[0], one.args[1] if len(one.args) > 1 else one.args[0]
    apart = first - second
    if not isinstance(apart, Traced) or not math.isfinite(float(apart)):
        return False
    moved, *_ = _moved(apart, _order(apart, fields), widths, fields)
    return abs(float(apart)) < 2.0 * math.sqrt(sum(moved.values()))
