"""What was asked for, found among the results of a design, with its working two levels deep and further on demand."""

from __future__ import annotations

import difflib
import functools
import importlib
import math
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from wattagon.design import paths
from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MaterialPart
from wattagon.design.quantity import Known, Quantity, weakest
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.exchange.units import say as said_in
from wattagon.exchange.why.sampled import sampled
from wattagon.exchange.why.subjects import SUBJECTS, Asked, Subject
from wattagon.record import record
from wattagon.study.bands.bands import Band
from wattagon.study.bands.errors import Wide, wide
from wattagon.study.resolve import Input
from wattagon.study.say import Say
from wattagon.study.why.given import given
from wattagon.study.why.spread import SpreadOf, spread
from wattagon.study.why.words import Said, named, said
from wattagon.study.why.working import Term, Working, working
from wattagon.tape import is_long, taken_down
from wattagon.traced import GIVEN, Traced, TracedInt

if TYPE_CHECKING:
    from wattagon.study.ride.study import Ride

DEEP = 2
HOW = {
    "given": "It stands in a field.",
    "steps": "It is worked out by steps, a search or a sum over many moments: there is no single equation.",
    "interp": "It is read off a table, between two of its points.",
    "plain": "No working was kept: it is counted, told, or a figure of the program such as a bound, a typical value or a row of a table.",
}


@record(frozen=True, slots=True, kw_only=True)
class Numbers:
    """Numbers of a design's studies by the name that JSON gives them, and what was named on the way to them."""

    design: Design
    stock: Catalogue
    results: Mapping[str, Any]
    named: Mapping[str, Any]
    inputs: Mapping[str, Input]  # of the drive, by path
    dimensions: Mapping[str, str]  # of results whose name does not tell it
    fields: frozenset[str]  # paths of the design

    def called(self, typed: str) -> str:
        """A name as it is written here, from one typed in other capitals; itself where there is none alike."""
        name = typed.strip()
        return name if name in self.named else next((one for one in self.results if one.casefold() == name.casefold()), name)

    def node(self, name: str) -> Any:
        """A number by the name of a result or of a term.  Raises InputError with what is near."""
        for kept in (self.results, self.named):
            if name in kept:
                return kept[name]
        near = difflib.get_close_matches(name, [*self.results], n=3, cutoff=0.4)
        raise InputError(
            "result", name, f"a number of solve --json or of another study, such as {', '.join(near or list(self.results)[:3])}"
        )

    def working(self, name: str) -> Working:
        """Of a number by its name.  Raises InputError as `node`."""
        return working_of(self.node(name), name)

    def said(self, source: str) -> Said:
        """What a source is called, and in what it is measured."""
        if source in self.dimensions:
            return Said(name=named(source).name, dimension=self.dimensions[source])
        found = said(source, self.design, self.stock, self.fields) if source else named("part")
        kept = self.inputs.get(source)
        return found if kept is None else Said(name=found.name, dimension=found.dimension, si=found.si, unit=found.unit, known=kept.known)

    def mark(self, node: Any) -> Known | None:
        """The weakest of what a number rests on, as far as fields are behind it; None where none is."""
        seen: set[int] = set()
        marks: list[Known] = []

        def look(one: Any) -> None:
            if not isinstance(one, (Traced, TracedInt)) or id(one) in seen:
                return
            seen.add(id(one))
            there = self.inputs.get(one.name)
            kept = there.known if there is not None else self.said(one.name).known if one.op == GIVEN else None
            if kept is not None:
                marks.append(kept)
            for item in one.args:
                look(item)

        look(node)
        return weakest(marks) if marks else None

    def wide(self, path: str) -> Wide | None:
        """How wide a field may be; None where it is exact: settings, counts, sizes that are made so."""
        item = self.inputs.get(path)
        if item is not None:
            return wide(path, item)
        if path.startswith("stock."):
            return self._wide_material(path)
        if path not in self.fields:  # proposed, and not in the design
            return None
        told = paths.place(self.design, path)
        value = told.value
        if not isinstance(value, Quantity):
            return None
        dimension = told.spec.dimension if told.spec is not None else "number"
        return wide(path, Input(value=value.value, known=value.known, dimension=dimension, tolerance=value.tolerance))

    def _wide_material(self, path: str) -> Wide | None:
        name, _, end = path.removeprefix("stock.").rpartition(".")
        part = self.stock.find(name)
        if not isinstance(part, MaterialPart) or not end.endswith("_mpa"):
            return None
        value = float(getattr(part, end))
        return Wide(path=path, value=value, width=part.spread * value, relative=True, most=math.inf)

    def turned(self, name: str) -> tuple[str, float] | None:
        """(path, value) that alone would turn a verdict: of the margin of a finding or a goal; None for other numbers, and without one."""
        if not name.endswith(".margin"):
            return None
        one = self.spread(name)
        return one.turned_at(self.wide) if one.whole else None

    def spread(self, name: str) -> SpreadOf:
        """The band of a number by its derivatives.  Raises InputError as `node`."""
        # an input that follows from others and has no width of its own is walked through
        drawn = {path for path, item in self.inputs.items() if wide(path, item) is not None}
        return spread(self.node(name), functools.cache(self.wide), drawn)


def working_of(node: Any, name: str) -> Working:
    """Of a number, traced or not."""
    if isinstance(node, (Traced, TracedInt)):
        return working(node, name)
    return Working(name=name, value=float(node), equation="", terms=(), how="steps" if is_long(float(node)) else "plain")


def subject_of(result: str) -> Subject:
    """The study whose number it is; `solve` where the first word is none of the others."""
    head = result.split(".", 1)[0].casefold()
    return next((one for one in SUBJECTS if one.code and one.code == head), SUBJECTS[0])


def gather(
    design: Design,
    stock: Catalogue,
    codes: Iterable[str] = ("",),
    say: Say = said_in,
    moment: Callable[[Asked], Any] | None = None,
    ride: Ride | None = None,
) -> Numbers:
    """The numbers of some studies, taken down.  `moment` gives an operating point beside them, as `point`; `ride` is the ride in view.

    Raises InputError and PathError as the studies do.
    """
    wanted = [one for one in SUBJECTS if one.code in set(codes)]
    for subject in wanted:
        for module in subject.modules:
            importlib.import_module(module)
    own_design, own_stock = given(design, stock)
    results: dict[str, Any] = {}
    from wattagon.study.resolve.reader import Reader

    with taken_down(((Reader, "keep"),)) as tape:
        asked = Asked(own_design, own_stock, say, (design, stock), ride)
        for subject in wanted:
            results |= dict(numbers_in(subject.data(asked), subject.code))
        if moment is not None:
            from wattagon.exchange.json_data import point_data

            results |= dict(numbers_in(point_data(moment(asked)), "point"))
        inputs = {path: replace(item, value=float(item.value)) for path, item in asked.drive.resolved.inputs.items()}
        results = {name: tape.again(value) for name, value in results.items()}
        goals = {f"goals.{one.goal.id}.{end}": one.dimension for one in asked.drive.goals for end in ("target", "reached")}
    own = f"variants.{design.variant().id}."
    every = (path.removeprefix("variant.") if path.startswith("variant.") else f"/{path}" for path in paths.every_path(design))
    fields = frozenset(path[1:] if path.startswith("/") else f"{own}{path}" for path in every)
    return Numbers(design=design, stock=stock, results=results, named=tape.named, inputs=inputs, dimensions=goals, fields=fields)


def numbers_in(data: Any, name: str) -> Iterator[tuple[str, Any]]:
    """(dotted name, number) of all numbers in what JSON gets; rows of a list by their code, id or name, else by their place."""
    if isinstance(data, dict):
        for key, value in data.items():
            if key != "inputs":
                yield from numbers_in(value, f"{name}.{key}" if name else str(key))
    elif isinstance(data, (list, tuple)):
        for k, value in enumerate(data):
            row = value if isinstance(value, dict) else {}
            yield from numbers_in(value, f"{name}.{next((row[key] for key in ('code', 'id', 'name', 'key') if row.get(key)), k)}")
    elif isinstance(data, (int, float)) and not isinstance(data, bool) and (isinstance(data, int) or not math.isnan(data)):
        yield name, data


def why_data(found: Numbers, name: str) -> dict[str, Any]:
    """What `why --json` prints."""
    return {"result": name, **_data(found, found.working(name), DEEP), **_band(found, name)}


def _band(found: Numbers, name: str) -> dict[str, Any]:
    one = found.spread(name)
    drawn = None if one.whole else sampled(found.design, found.stock, name)
    if drawn is not None:
        return {"band": [drawn.low, drawn.high]}
    if not one.whole or not one.width:
        return {"band": None, "band_why_not": no_band(one)} if not one.whole else {}
    turned = found.turned(name)
    made: dict[str, Any] = {
        "band": [one.low, one.high],
        "by": [{"path": path, "share": share} for path, share in one.shares if share >= 0.005],
    }
    return {**made, "turned_by": {"path": turned[0], "value": turned[1]}} if turned is not None else made


def no_band(one: SpreadOf) -> str:
    """Why there is none, in words; empty where there is."""
    if one.missing:
        return f"it rests on what was worked out by steps ({', '.join(one.missing[:2])})"
    return "a limit may change its place within it" if one.switches else ""


def _data(found: Numbers, one: Working, deep: int) -> dict[str, Any]:
    made: dict[str, Any] = {"value": one.value, "equation": one.equation or None, "terms": [_term(found, term, deep) for term in one.terms]}
    if one.how:
        made["how"] = HOW[one.how]
    if one.says:
        made["says"] = one.says
    return made


def _term(found: Numbers, term: Term, deep: int) -> dict[str, Any]:
    mark = found.mark(term.node)
    made: dict[str, Any] = {
        "symbol": term.symbol,
        "value": term.value,
        "from": term.source or None,
        "name": found.said(term.source).name,
        "known": str(mark) if mark is not None else None,
    }
    if deep > 1 and term.opens:
        made["working"] = _data(found, working_of(term.node, term.source), deep - 1)
    return made


def text_of(found: Numbers, name: str, say: Say, deep: int = DEEP) -> str:
    """A working as lines of text, to read and to copy."""
    one = found.working(name)
    lines = [f"{name} = {value_text(found, one.value, name, say)}{band_text(found, name, say)}"]
    if (turned := found.turned(name)) is not None:
        path, value = turned
        verb = "clear" if one.value < 0.0 else "miss"
        lines.append(f"  {found.said(path).name} of {value_text(found, value, path, say)} alone would {verb} it ({path}).")
    if one.says:
        lines.append(f"  {one.says}")
    if one.how:
        lines.append(f"  {HOW[one.how]}")
    lines += _lines(found, one, say, deep, "  ")
    return "\n".join(lines)


def _lines(found: Numbers, one: Working, say: Say, deep: int, margin: str) -> Iterator[str]:
    if one.equation:
        yield f"{margin}= {one.equation}"
    for term in one.terms:
        said_of, mark = found.said(term.source), found.mark(term.node)
        known = str(mark) if term.given and mark is not None else f"rests on {mark} values" if mark is not None else ""
        tail = ", ".join(word for word in (known, term.source) if word)
        yield f"{margin}{term.symbol} = {value_text(found, term.value, term.source, say)}: {said_of.name}{f' ({tail})' if tail else ''}"
        if deep > 1 and term.opens:
            yield from _lines(found, working_of(term.node, term.source), say, deep - 1, margin + "    ")


def band_text(found: Numbers, name: str, say: Say) -> str:
    """Between what it lies, in brackets; empty where it is exact or no band is told."""
    one: SpreadOf | Band | None = found.spread(name)
    if isinstance(one, SpreadOf) and not one.whole:
        one = sampled(found.design, found.stock, name)
    if one is None or one.high == one.low:
        return ""
    low, high = (value_text(found, end, name, say) if math.isfinite(end) else "never" for end in (one.low, one.high))
    return f" ({low} to {high})"


def value_text(found: Numbers, value: float, source: str, say: Say) -> str:
    """A value in the user's units."""
    one = found.said(source)
    if one.unit:
        return f"{value:.4g} {one.unit}"
    if one.dimension == "number":
        return f"{value:.5g}"
    return say(value * one.si, one.dimension)
