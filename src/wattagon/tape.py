"""Takes down what the studies work out: while it runs, modules see stand-ins for `float`, `math` and `np` that keep the trace.

Plain numbers go through the stand-ins as they are, so other threads are served as ever.  Names come from where a number is kept: the
field of a record, or the function that gave it.
"""

from __future__ import annotations

import dataclasses
import functools
import inspect
import math
import os
import re
import sys
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from types import FrameType, FunctionType, ModuleType
from typing import Any

import numpy as np

from wattagon import record as records
from wattagon.traced import FUNCTIONS, GIVEN, STEPS, Traced, TracedInt, as_float, of_math, plain

ROOMS = ("wattagon.physics.", "wattagon.study.")
ONE_BY_ONE = threading.Lock()
SHORT = 5  # digits: a number of more is the same one where its bits are
# records that keep numbers of any kind: their field's name says nothing
CARRIERS = frozenset({"Quantity", "Input", "GoalResult"})
# what is kept for later is dear: it is asked in plain numbers and counts as steps, but for loops, which are the working itself
LOOPS = ("wattagon.physics.belt", "wattagon.physics.chain")
# what goes forward in small steps of time or heat: asked in plain numbers
BY_STEPS = (
    "wattagon.physics.wiring.contact",
    "wattagon.physics.wiring.short",
    "wattagon.physics.wiring.warmth",
    "wattagon.physics.holding",
    "wattagon.study.controller.feel",
)
_Kept = type(functools.lru_cache(lambda: None))


class _Real(type):
    """`float` for `isinstance`, for a call and for `dtype=`."""

    dtype = np.dtype(float)

    def __instancecheck__(cls, value: object) -> bool:
        return isinstance(value, float)

    def __call__(cls, value: Any = 0.0) -> Any:
        return as_float(value)


class _AsFloat(metaclass=_Real):
    dtype = np.dtype(float)


class _Np:
    """numpy, but for making an array of a traced number, which stays one."""

    def __getattr__(self, name: str) -> Any:
        return getattr(np, name)

    @staticmethod
    def asarray(value: Any, *args: Any, **options: Any) -> Any:
        return value if isinstance(value, Traced) else np.asarray(value, *args, **options)


class _Math:
    """`math`, whose functions take themselves down."""

    def __getattr__(self, name: str) -> Any:
        return getattr(math, name)


for _name in FUNCTIONS:
    if hasattr(math, _name):
        setattr(_Math, _name, staticmethod(of_math(_name)))


class Tape:
    """What was taken down: numbers by their value, to find again one whose trace an array or a carrier dropped."""

    def __init__(self) -> None:
        self.by_value: dict[float, Traced] = {}
        self.named: dict[str, Traced | TracedInt] = {}

    def again(self, value: Any) -> Any:
        """A plain number as the traced one it is by its bits; itself where it is none, or too short to tell."""
        if type(value) is not float and type(value) is not np.float64:
            return value
        return self.by_value.get(float(value), value) if is_long(float(value)) else value

    def keep(self, made: Traced | TracedInt) -> None:
        if made.name and made.name not in self.named:
            self.named[made.name] = made
        if isinstance(made, Traced) and is_long(float(made)):
            # the first of its value is how it came about, all later ones are copies
            self.by_value.setdefault(float(made), made)


def is_long(value: float) -> bool:
    """Whether a number has so many digits that it was worked out, and is the same one wherever its bits are."""
    return math.isfinite(value) and len(repr(value).split("e")[0].replace(".", "").replace("-", "").strip("0")) > SHORT


def _modules() -> list[ModuleType]:
    """Those of the physics, the studies and their JSON; compiled code reads its module's names itself and is left alone."""
    return [module for name, module in list(sys.modules.items()) if module is not None and _listened(name) and not hasattr(module, "jit")]


def _listened(name: str) -> bool:
    if name.startswith("wattagon.exchange."):
        return name.endswith(("_json", "json_data"))
    return name.startswith(ROOMS) and not name.startswith(BY_STEPS)


@contextmanager
def taken_down(keepers: Sequence[tuple[type, str]] = ()) -> Iterator[Tape]:
    """What runs inside on traced numbers is taken down.

    `keepers`: (class, method) of what notes a value under a path, called (path, value, ...): what it gives is a field of that path, a
    default that no field told among them.
    """
    tape, owner = Tape(), threading.get_ident()
    shims = {"np": (np, _Np()), "math": (math, _Math())}
    changed: list[tuple[dict[str, Any], str, Any]] = []
    missing = object()

    def made(self: Any, names: tuple[str, ...], kind: str) -> None:
        if threading.get_ident() == owner:
            _kept(tape, self, names, kind)

    def profile(frame: FrameType, event: str, value: Any) -> None:
        if event == "return" and isinstance(value, (Traced, TracedInt)):
            _returned(tape, frame, value)

    with ONE_BY_ONE:
        before = sys.getprofile()
        inits = _hook(made)
        methods = [(cls, name, getattr(cls, name)) for cls, name in keepers]
        for cls, name, method in methods:
            setattr(cls, name, _noting(tape, owner, method))
        for module in _modules():
            space = vars(module)
            for name, (real, shim) in shims.items():
                if space.get(name) is real:
                    changed.append((space, name, real))
                    space[name] = shim
            for name, value in list(space.items()):
                kept = isinstance(value, _Kept) and value.__module__ not in LOOPS
                if kept or (isinstance(value, FunctionType) and value.__module__ in BY_STEPS and name.isidentifier()):
                    changed.append((space, name, value))
                    space[name] = _in_plain_numbers(value)
            changed.append((space, "float", space.get("float", missing)))
            space["float"] = _AsFloat
        sys.setprofile(profile)
        try:
            yield tape
        finally:
            sys.setprofile(before)
            for space, name, real in changed:
                if real is missing:
                    del space[name]
                else:
                    space[name] = real
            for cls, name, method in methods:
                setattr(cls, name, method)
            for cls, init in inits:
                cls.__init__ = init  # type: ignore[misc]


def _noting(tape: Tape, owner: int, method: Any) -> Any:
    def noted(self: Any, path: str, *args: Any, **options: Any) -> Any:
        value = method(self, path, *args, **options)
        if threading.get_ident() != owner or not isinstance(value, float):
            return value
        if not isinstance(value, Traced):
            value = Traced(value, GIVEN)
        if value.op != GIVEN:
            # a field of its own beside the number that it is by itself: what is told replaces the one and leaves the other
            told = Traced(float(value), value.op, value.args, path)
            told.says, value = value.says, told
        elif not value.name:
            value.name = path
        tape.named[value.name] = value
        return value

    return noted


def _in_plain_numbers(function: Any) -> Any:
    def called(*args: Any, **options: Any) -> Any:
        watching = sys.getprofile()
        sys.setprofile(None)
        try:
            return function(*plain(args), **{name: plain(value) for name, value in options.items()})
        finally:
            sys.setprofile(watching)

    return called


def _hook(made: Any) -> list[tuple[type, Any]]:
    """Every record tells of its making; the classes with what they had before."""
    had = []
    for cls in list(records.MADE):
        init = cls.__init__  # type: ignore[misc]
        names = tuple(item.name for item in dataclasses.fields(cls))

        def telling(self: Any, *args: Any, _init: Any = init, _names: Any = names, _kind: str = cls.__name__, **options: Any) -> None:
            _init(self, *args, **options)
            made(self, _names, _kind)

        cls.__init__ = telling  # type: ignore[misc]
        had.append((cls, init))
    return had


def _kept(tape: Tape, record: Any, names: tuple[str, ...], kind: str) -> None:
    """Numbers of a record get its field's name; one without a trace that is long enough to be worked out becomes one by steps."""
    if type(record).__module__ in BY_STEPS:
        for name in names:
            value = getattr(record, name, None)
            if isinstance(value, (Traced, TracedInt, tuple)):
                object.__setattr__(record, name, plain(value))
        return
    for name in names:
        value = getattr(record, name, None)
        if isinstance(value, TracedInt) and not value.name and kind not in CARRIERS:
            value.name = f"{kind}.{name}"
            tape.keep(value)
        if not isinstance(value, float):
            continue
        found = tape.again(value)
        if not isinstance(found, Traced):
            if kind in CARRIERS or not is_long(float(value)):
                continue
            found = Traced(value, STEPS)
        if not found.name and kind not in CARRIERS:
            found.name = f"{kind}.{name}"
        tape.keep(found)
        if found is not value:
            object.__setattr__(record, name, found)


def _returned(tape: Tape, frame: FrameType, value: Traced | TracedInt) -> None:
    code = frame.f_code
    ours = f"{os.sep}wattagon{os.sep}" in code.co_filename and code.co_filename not in (__file__, of_math.__code__.co_filename)
    if ours and not value.name and not code.co_name.startswith(("_", "<")):
        value.name = code.co_qualname.replace(".<locals>", "")
        doc = code.co_consts[0] if code.co_consts and isinstance(code.co_consts[0], str) else ""
        value.says = _for_users(doc)
    tape.keep(value)


def _for_users(doc: str) -> str:
    """What a function says of itself, without what only a programmer asks."""
    text = " ".join(inspect.cleandoc(doc).split("\n\n")[0].split())
    sentences = re.split(r"(?<=[.;])\s+", text)
    kept = [one for one in sentences if not re.search(r"\b(nan|inf|None|Raises|shape|broadcast\w*|`)", one)]
    return " ".join(kept).rstrip(";")
