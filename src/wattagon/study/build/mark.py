"""What a maker does to a build, as edits: buy and fit parts, tick, move, split and add steps, record what failed."""

from __future__ import annotations

import datetime
from dataclasses import replace
from typing import Any

from wattagon.design.paths import Edit
from wattagon.design.tree import (
    Build,
    BuildPart,
    Design,
    Entry,
    EntryKind,
    OwnStep,
    PartState,
    Rework,
    StepState,
)
from wattagon.errors import InputError
from wattagon.study.build.study import Part, Task
from wattagon.study.history.study import fresh_id, version_of

SAID = {
    PartState.TO_ORDER: "to order",
    PartState.SHELF: "on the shelf",
    PartState.ORDERED: "ordered",
    PartState.ARRIVED: "arrived",
    PartState.FITTED: "fitted",
}
MADE = {
    PartState.TO_ORDER: "to make",
    PartState.SHELF: "on the shelf",
    PartState.ORDERED: "being made",
    PartState.ARRIVED: "made",
    PartState.FITTED: "fitted",
}
_ENTRY = {PartState.ORDERED: EntryKind.ORDER, PartState.ARRIVED: EntryKind.ARRIVAL}
_ON = {
    "motor": BuildPart.MOTOR,
    "controller": BuildPart.CONTROLLER,
    "cell": BuildPart.PACK,
    "board": BuildPart.PACK,
    "pulley": BuildPart.REDUCTION,
    "driven": BuildPart.REDUCTION,
    "loop": BuildPart.REDUCTION,
    "wheel": BuildPart.WHEEL,
    "cable": BuildPart.WIRING,
    "connector": BuildPart.WIRING,
    "fuse": BuildPart.WIRING,
}


def build_of(design: Design) -> Build:
    """As the design has it."""
    return design.variant().build or Build()


def words_of(part: Part, state: PartState) -> str:
    """A state in words; what is made here is not ordered."""
    return (MADE if part.row.made else SAID)[state]


def _put(label: str, build: Build, *more: tuple[str, Any]) -> Edit:
    return Edit(label=label, changes=(("variant.build", build), *more))


def mark_part(design: Design, part: Part, state: PartState, today: datetime.date, reason: str = "") -> Edit:
    """Another state of a row; one that is ordered or has come goes into the history too.

    A gate that is closed is kept by whoever applies the edit: it needs a reason then.
    """
    reason = reason.strip() or part.mark.reason
    mark = replace(part.mark, state=state, date=today.isoformat(), reason=reason)
    edit = _put(f"{part.row.name}: {words_of(part, state)}", _with_part(build_of(design), mark))
    kind = _ENTRY.get(state)
    if kind is None or part.row.made or part.state is state:
        return edit
    variant = design.variant()
    why = f"; before it was measured: {reason}" if part.missing and reason else ""
    entry = Entry(
        id=fresh_id(design.history),
        date=today.isoformat(),
        kind=kind,
        text=f"{_count(part)} {part.row.name}{why}",
        variant=variant.id,
        version=version_of(variant),
        on=(_ON[part.row.kind],) if part.row.kind in _ON else (),
    )
    return replace(edit, changes=(*edit.changes, ("history", (*design.history, entry))))


def _count(part: Part) -> str:
    return f"{part.row.count:g}{f' {part.row.unit} of' if part.row.unit else ''}"


def note_part(design: Design, part: Part, **changes: Any) -> Edit:
    """Price paid, delivery, seller, note of a row."""
    return _put(f"{part.row.name}: {', '.join(changes)}".replace("_", " "), _with_part(build_of(design), replace(part.mark, **changes)))


def _with_part(build: Build, mark: Any) -> Build:
    kept = [one for one in build.parts if one.id != mark.id]
    place = next((k for k, one in enumerate(build.parts) if one.id == mark.id), len(kept))
    return replace(build, parts=(*kept[:place], mark, *kept[place:]))


def _with_step(build: Build, mark: Any) -> Build:
    kept = [one for one in build.steps if one.id != mark.id]
    place = next((k for k, one in enumerate(build.steps) if one.id == mark.id), len(kept))
    return replace(build, steps=(*kept[:place], mark, *kept[place:]))


def mark_step(design: Design, task: Task, state: StepState, today: datetime.date, spent: float | None = None, by: str = "") -> Edit:
    """Open, begun or done; whoever marks it done may say how long it took."""
    done = state is StepState.DONE
    mark = replace(
        task.mark,
        state=state,
        date=today.isoformat() if done else "",
        spent=spent if done else None,
        by=by or task.mark.by,
    )
    return _put(f"{task.step.title}: {state.value}", _with_step(build_of(design), mark))


def change_step(design: Design, task: Task, **changes: Any) -> Edit:
    """Its times, who, another way, a day, what it waits for besides, left out."""
    told = {"low": "times", "likely": "times", "high": "times", "by": "who", "way": "how", "not_before": "not before", "gone": "left out"}
    what = ", ".join(dict.fromkeys(told.get(name, name) for name in changes))
    return _put(f"{task.step.title}: {what}", _with_step(build_of(design), replace(task.mark, **changes)))


def leave_out(design: Design, task: Task) -> Edit:
    """A step that is not needed; one of the maker's own is taken away, pieces of a split one likewise."""
    build = build_of(design)
    if not task.own:
        return change_step(design, task, gone=True)
    own = tuple(one for one in build.own_steps if one.id != task.step.id)
    marks = tuple(one for one in build.steps if one.id != task.step.id)
    return _put(f"{task.step.title}: left out", replace(build, own_steps=own, steps=marks))


def all_back(design: Design) -> Edit:
    """Every step that was left out stands again."""
    build = build_of(design)
    return _put("All steps again", replace(build, steps=tuple(replace(one, gone=False) for one in build.steps)))


def add_step(
    design: Design, title: str, hours: tuple[float, float, float], after: tuple[str, ...] = (), before: tuple[str, ...] = ()
) -> Edit:
    """A step of the maker's own."""
    if not title.strip():
        raise InputError("title", "nothing", "what is to be done")
    build = build_of(design)
    made = OwnStep(id=_free(build, "own"), title=title.strip(), low=hours[0], likely=hours[1], high=hours[2], after=after, before=before)
    return _put(f"New step: {made.title}", replace(build, own_steps=(*build.own_steps, made)))


def split_step(design: Design, task: Task, titles: tuple[str, ...]) -> Edit:
    """A step in pieces that are done one after the other; the step itself is what is left when they are done.

    Its time is shared by them in equal parts.
    """
    names = [title.strip() for title in titles if title.strip()]
    if len(names) < 2:
        raise InputError("pieces", len(names), "two titles or more, one a line")
    build, made, last = build_of(design), list(build_of(design).own_steps), ""
    share = 1.0 / len(names)
    low, likely, high = (value * share for value in task.hours)
    for name in names:
        code = _free(replace(build, own_steps=tuple(made)), f"{task.step.id}-part")
        made.append(OwnStep(id=code, title=name, low=low, likely=likely, high=high, after=(last,) if last else (), of=task.step.id))
        last = code
    mark = replace(task.mark, low=0.0, likely=0.0, high=0.0)
    return _put(f"{task.step.title}: in {len(names)} pieces", _with_step(replace(build, own_steps=tuple(made)), mark))


def record_rework(design: Design, task: Task, today: datetime.date, text: str, hours: float, cost: float) -> Edit:
    """A failure or a second try; it goes into the history and teaches the next estimate of steps of its kind."""
    build, variant = build_of(design), design.variant()
    made = Rework(step=task.step.id, date=today.isoformat(), text=text.strip(), hours=hours, cost=cost)
    entry = Entry(
        id=fresh_id(design.history),
        date=today.isoformat(),
        kind=EntryKind.REPAIR,
        text=f"{task.step.title}: {text.strip() or 'done again'}, {hours:g} h",
        variant=variant.id,
        version=version_of(variant),
    )
    return _put(f"{task.step.title}: again", replace(build, reworks=(*build.reworks, made)), ("history", (*design.history, entry)))


def _free(build: Build, stem: str) -> str:
    taken = {one.id for one in build.own_steps}
    return next(name for name in (f"{stem}-{k}" for k in range(1, len(taken) + 2)) if name not in taken)
