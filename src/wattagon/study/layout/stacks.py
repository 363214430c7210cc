"""What sits on each shaft: does it fill the width, is there thread left, does it stay clear of where the shaft whirls."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import NamedTuple

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Layout, OnShaft, Stack
from wattagon.physics.clearance import gap
from wattagon.physics.vibration import SOFT, bare_rpm, between_n_m, critical_rpm, overhung_n_m, together_rpm
from wattagon.study.findings.status import Status
from wattagon.study.layout.found import Found, judged, unknown
from wattagon.study.layout.gaps import Scene
from wattagon.study.layout.place import PLATE_M, PULLEY_GAP_M, tolerance_m
from wattagon.study.layout.stage import Running

PRINT_M = 0.0015  # of a pulley's face over its belt; 1 to 1.5 mm is usual
SPROCKET_SHARE = 0.95  # of a chain's inner width
USUAL_M: dict[str, float] = {  # widths where nobody measured; typical
    "mount": 0.010,
    "bearing": 0.008,
    "spacer": 0.003,
    "cog": 0.006,
    "hub": 0.040,
    "disc": 0.004,
    "washer": 0.0015,
    "nut": 0.006,
}
THREAD_LEFT_M = 0.0015  # beyond the nut: a turn and a half of a fine thread; judged
FILLS_M = 0.0005  # by which a stack may miss the width of its dropouts; judged


class Piece(NamedTuple):
    """One thing on a shaft in its place: from, to along the shaft [m], its tolerance and how known."""

    kind: str
    name: str
    begin: float
    end: float
    by: float
    assumed: bool


class Stacked(NamedTuple):
    """A stack as it stands."""

    stack: Stack
    own: int  # its index among the layout's own; -1 where it is proposed
    pieces: tuple[Piece, ...]

    @property
    def long_m(self) -> float:
        """All together."""
        return self.pieces[-1].end if self.pieces else 0.0

    @property
    def by(self) -> list[float]:
        """Tolerances of all."""
        return [piece.by for piece in self.pieces]


def usual_stacks(layout: Layout, stages: Iterable[Running], scene_wheels: int, tread_m: float, *, axle: bool) -> list[Stack]:
    """What commonly sits on each shaft of such a drive: its widths follow from plate, belt and wheel."""
    runs = list(stages)
    told = lambda kind, width, known=Known.COMPUTED: OnShaft(kind=kind, width=Quantity(value=round(width, 5), known=known))
    plate = layout.plate or Quantity(value=PLATE_M, known=Known.ASSUMED)
    free = layout.pulley_gap or Quantity(value=PULLEY_GAP_M, known=Known.ASSUMED)
    made = []
    if runs:
        made.append(
            Stack(shaft="motor", items=(OnShaft(kind="mount", width=plate), OnShaft(kind="spacer", width=free), _wheel_of(runs[0])))
        )
    for before, after in itertools.pairwise(runs):
        name = "jackshaft" if len(runs) == 2 else f"jackshaft {after.position}"
        items = (OnShaft(kind="bearing"), _wheel_of(before), OnShaft(kind="spacer"), _wheel_of(after), OnShaft(kind="bearing"))
        made.append(Stack(shaft=name, items=items))
    if axle:
        inner = [OnShaft(kind="mount"), OnShaft(kind="spacer"), _wheel_of(runs[-1])] if runs and scene_wheels > 1 else []
        wheel = told("wheel", tread_m, Known.ASSUMED)
        made.append(Stack(shaft="axle", items=(*inner, wheel, OnShaft(kind="washer"), OnShaft(kind="nut"))))
    return made


def _wheel_of(run: Running) -> OnShaft:
    if run.made.kind is not None:
        width = (run.width_m or 0.015) + PRINT_M
        return OnShaft(kind="pulley", width=Quantity(value=round(width, 5), known=Known.COMPUTED))
    inner = 1e-3 * (run.made.family.inner_mm or 6.0)
    return OnShaft(kind="sprocket", width=Quantity(value=round(SPROCKET_SHARE * inner, 5), known=Known.COMPUTED))


def stacked(layout: Layout, proposed: Iterable[Stack]) -> tuple[Stacked, ...]:
    """Every shaft: as told, else as proposed; what no proposal names stands behind."""
    told = {stack.shaft: (k, stack) for k, stack in enumerate(layout.stacks)}
    made = []
    for usual in proposed:
        index, stack = told.pop(usual.shaft, (-1, usual))
        made.append(_put(stack if stack.items else replace(stack, items=usual.items), index))
    return (*made, *(_put(stack, index) for index, stack in told.values()))


def _put(stack: Stack, index: int) -> Stacked:
    at, pieces = 0.0, []
    for item in stack.items:
        width = item.width.value if item.width is not None else USUAL_M.get(item.kind, 0.010)
        by = tolerance_m(item.width) if item.width is not None else 0.05 * width
        assumed = item.width is None or item.width.known is Known.ASSUMED
        pieces.append(Piece(item.kind, item.name or item.kind, at, at + width, by, assumed))
        at += width
    return Stacked(stack, index, tuple(pieces))


def stack_gaps(stacks: Iterable[Stacked]) -> Iterator[Found]:
    """Thread beyond the nut, and the width between dropouts."""
    for one in stacks:
        stack, name = one.stack, one.stack.shaft
        code = f"stack.{name.replace(' ', '_')}"
        if stack.length is not None:
            left = gap(stack.length.value - one.long_m, (tolerance_m(stack.length), *one.by))
            nut = any(piece.kind == "nut" for piece in one.pieces)
            what = "thread beyond the nut" if nut else "shaft beyond the last thing"
            yield judged(f"{code}.length", f"{name}: {what}", left, THREAD_LEFT_M if nut else 0.0)
            if stack.thread is not None and nut:
                first = next(piece for piece in one.pieces if piece.kind == "nut")
                reach = first.begin - (stack.length.value - stack.thread.value)
                by = (tolerance_m(stack.length), tolerance_m(stack.thread), *(p.by for p in one.pieces[: one.pieces.index(first)]))
                yield judged(f"{code}.thread", f"{name}: thread under the nut's inner face", gap(reach, by), 0.0)
        elif one.own >= 0 or name == "axle":
            yield unknown(f"{code}.length", f"{name}: what sits on it", "the length of its free end is not measured")
        if stack.between is not None:
            inner = [piece for piece in one.pieces if piece.kind not in ("nut", "washer")]
            short = stack.between.value - sum(piece.end - piece.begin for piece in inner)
            wide = math.fsum([tolerance_m(stack.between), *(piece.by for piece in inner)])
            status = Status.OVER if abs(short) - FILLS_M > wide else Status.CLEAR if abs(short) <= FILLS_M else Status.TIGHT
            words = "between its dropouts, to be filled by a spacer" if short > FILLS_M else "between its dropouts"
            yield Found(
                code=f"{code}.between",
                between=f"{name}: room {words}" if short >= 0.0 else f"{name}: what stands between its dropouts",
                nominal=short,
                worst=short - wide,
                likely=short - wide,
                wanted=0.0,
                status=status,
            )


class Whirl(NamedTuple):
    """Where a shaft whirls: its critical speed with soft supports [rpm], how fast it turns at top speed."""

    shaft: str
    critical_rpm: float
    turns_rpm: float


def whirls(stacks: Iterable[Stacked], scene: Scene, masses: dict[str, float]) -> Iterator[Whirl]:
    """Of every shaft whose diameter and bearings are told; `masses` is what sits on each [kg]."""
    turns: dict[str, float] = {}
    for run in scene.stages:
        turns[scene.shafts[run.position].name] = run.driver_rpm
        turns[scene.shafts[run.position + 1].name] = run.driver_rpm * run.made.choice.driver_teeth / run.made.choice.driven_teeth
    for one in stacks:
        stack = one.stack
        if stack.diameter is None or stack.bearings is None or stack.bearings.value <= 0.0 or stack.shaft not in turns:
            continue
        diameter, apart, mass = stack.diameter.value, stack.bearings.value, masses.get(stack.shaft, 0.0)
        beyond = stack.beyond.value if stack.beyond is not None else 0.0
        speeds = [bare_rpm(diameter, apart)]
        if mass > 0.0:
            stiff = overhung_n_m(diameter, beyond, apart) if beyond > 0.0 else between_n_m(diameter, 0.5 * apart, 0.5 * apart)
            speeds.append(critical_rpm(SOFT * stiff, mass))
        yield Whirl(stack.shaft, together_rpm(*speeds), turns[stack.shaft])
