"""A number that remembers how it came about: every operation on it is taken down, so that its equation is that of the code.

It is a float in all that code asks of one; what drops the subclass (an array, a search) ends the trace, never the calculation.
"""

from __future__ import annotations

import math
import operator
from collections.abc import Callable
from typing import Any

import numpy as np

GIVEN, STEPS = "given", "steps"  # stands in a field; worked out by steps that are not taken down one by one
OPERATORS: dict[str, Callable[[float, float], Any]] = {
    "add": operator.add,
    "sub": operator.sub,
    "mul": operator.mul,
    "truediv": operator.truediv,
    "pow": operator.pow,
}
# numpy's names of what the operators do
_UFUNCS = {
    "add": "add",
    "subtract": "sub",
    "multiply": "mul",
    "divide": "truediv",
    "true_divide": "truediv",
    "power": "pow",
    "float_power": "pow",
    "negative": "neg",
    "absolute": "abs",
    "fabs": "abs",
    "maximum": "max",
    "minimum": "min",
    "fmax": "max",
    "fmin": "min",
    "arctan": "atan",
    "arcsin": "asin",
    "arccos": "acos",
    "arctan2": "atan2",
}
FUNCTIONS = ("sqrt", "hypot", "sin", "cos", "tan", "atan", "asin", "acos", "atan2", "exp", "log", "log10", "log1p", "expm1", "pow")


class Traced(float):
    """A float with the operation that gave it, what that was done on, and what it is called where it was kept."""

    __slots__ = ("args", "name", "op", "says")

    op: str
    args: tuple[Any, ...]
    name: str  # path of a field, Record.field or the function that gave it
    says: str  # what that function says of itself

    def __new__(cls, value: float, op: str = STEPS, args: tuple[Any, ...] = (), name: str = "") -> Traced:
        made = float.__new__(cls, value)
        made.op, made.args, made.name, made.says = op, args, name, ""
        return made

    # other than a float's: what was kept for plain numbers is not taken for traced ones, nor the other way round
    def __hash__(self) -> int:
        return hash((float(self), "traced"))

    def __reduce__(self) -> tuple[Any, ...]:
        return float, (float(self),)

    def __neg__(self) -> Traced:
        return Traced(-float(self), "neg", (self,))

    def __pos__(self) -> Traced:
        return self

    def __abs__(self) -> Traced:
        return Traced(abs(float(self)), "abs", (self,))

    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        return getattr(np.float64(float(self)), name)  # shape, ndim, item ... of a scalar

    def __getitem__(self, index: Any) -> Any:
        return np.asarray(float(self))[index]

    def __array_ufunc__(self, ufunc: Any, method: str, *inputs: Any, **options: Any) -> Any:
        return _by_ufunc(ufunc, method, inputs, options)

    def __array_function__(self, function: Any, _types: Any, args: tuple[Any, ...], options: dict[str, Any]) -> Any:
        name = function.__name__
        if name == "where" and len(args) == 3 and np.ndim(args[0]) == 0:
            return args[1] if args[0] else args[2]
        if name == "clip" and len(args) == 3 and all(np.ndim(x) == 0 for x in args):
            value, low, high = args
            return low if value < low else high if value > high else value
        found = function(*plain(args), **{key: plain(value) for key, value in options.items()})
        if name == "interp" and isinstance(found, float):
            return Traced(found, "interp", (args[0],))
        return found


class TracedInt(int):
    """The same for a whole number: teeth, cells, strands.  It hashes as its number does, since tables are asked by it."""

    op: str
    args: tuple[Any, ...]
    name: str
    says: str

    def __new__(cls, value: int, op: str = STEPS, args: tuple[Any, ...] = (), name: str = "") -> TracedInt:
        made = int.__new__(cls, value)
        made.op, made.args, made.name, made.says = op, args, name, ""
        return made

    __hash__ = int.__hash__

    def __reduce__(self) -> tuple[Any, ...]:
        return int, (int(self),)

    def __neg__(self) -> TracedInt:
        return TracedInt(-int(self), "neg", (self,))

    def __array_ufunc__(self, ufunc: Any, method: str, *inputs: Any, **options: Any) -> Any:
        return _by_ufunc(ufunc, method, inputs, options)


def as_float(value: Any) -> Any:
    """What `float` gives, still traced."""
    if isinstance(value, Traced):
        return value
    if isinstance(value, TracedInt):
        made = Traced(int(value), value.op, value.args, value.name)
        made.says = value.says
        return made
    return float(value)


def plain(value: Any) -> Any:
    """A number, or numbers in tuples and lists, without a trace."""
    if isinstance(value, Traced):
        return float(value)
    if isinstance(value, TracedInt):
        return int(value)
    return type(value)(plain(item) for item in value) if type(value) in (tuple, list) else value


def _by_ufunc(ufunc: Any, method: str, inputs: tuple[Any, ...], options: dict[str, Any]) -> Any:
    found = getattr(ufunc, method)(*(plain(x) for x in inputs), **options)
    name = _UFUNCS.get(ufunc.__name__, ufunc.__name__)
    if method == "__call__" and isinstance(found, float) and name in _TAKEN:
        # an array of one number may be changed in place later
        return Traced(found, name, tuple(float(x) if isinstance(x, np.ndarray) else x for x in inputs))
    return found


_TAKEN = {"max", "min", "neg", "abs", *OPERATORS, *FUNCTIONS}


def _both(cls: type, base: type, name: str, work: Callable[[Any, Any], Any]) -> None:
    """Both sides of an operator; what is no number keeps the number's own way."""

    def made(one: Any, other: Any, found: Any) -> Any:
        if isinstance(found, float):
            return Traced(found, name, (one, other))
        return TracedInt(found, name, (one, other)) if type(found) is int else found

    def forward(self: Any, other: Any) -> Any:
        if isinstance(other, (int, float)):
            return made(self, other, work(base(self), plain(other)))
        return getattr(base, f"__{name}__")(self, other)

    def backward(self: Any, other: Any) -> Any:
        if isinstance(other, (int, float)):
            return made(other, self, work(plain(other), base(self)))
        return NotImplemented

    setattr(cls, f"__{name}__", forward)
    setattr(cls, f"__r{name}__", backward)


for _name, _work in OPERATORS.items():
    _both(Traced, float, _name, _work)
    _both(TracedInt, int, _name, _work)


def of_math(name: str) -> Callable[..., Any]:
    """A function of `math` that takes itself down when it is asked of a traced number."""
    work = getattr(math, name)

    def taken(*args: Any) -> Any:
        found = work(*args)
        return Traced(found, name, args) if any(isinstance(x, (Traced, TracedInt)) for x in args) else found

    return taken
