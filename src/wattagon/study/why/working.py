"""A traced number as its working: the equation over what has a name of its own, and those terms."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Mapping
from typing import Any, TypeAlias

from wattagon.errors import InputError
from wattagon.record import record
from wattagon.traced import FUNCTIONS, GIVEN, STEPS, Traced, TracedInt

Node: TypeAlias = "Traced | TracedInt"

MOST = 14  # operations of one line; what is deeper becomes a term of its own
_SIGNS = {"add": (" + ", 1), "sub": (" - ", 1), "mul": (" * ", 2), "truediv": (" / ", 2), "pow": (" ** ", 4)}


@record(frozen=True, slots=True, kw_only=True)
class Term:
    """One symbol of an equation: its value in SI, and where it comes from, a path of the design or of the stock, or a name of a working."""

    symbol: str
    value: float
    source: str
    given: bool  # it stands in a field: there is nothing behind it
    node: Node

    @property
    def opens(self) -> bool:
        """Whether it has a working of its own."""
        return not self.given and self.node.op != STEPS and self.node.op != "interp"


@record(frozen=True, slots=True, kw_only=True)
class Working:
    """`equation` is plain arithmetic of the terms' symbols, in SI; empty for a number that comes from steps or stands in a field."""

    name: str
    value: float
    equation: str
    terms: tuple[Term, ...]
    says: str = ""
    how: str = ""  # "given", "steps" or "interp" where there is no equation


def working(node: Node, name: str = "") -> Working:
    """Of one number."""
    if node.op in (GIVEN, STEPS):
        term = Term(symbol=_word(node.name), value=float(node), source=node.name, given=node.op == GIVEN, node=node)
        return Working(name=name or node.name, value=float(node), equation="", terms=(term,) if node.op == GIVEN else (), how=node.op)
    while (same := _nothing_done(node)) is not None and isinstance(same, (Traced, TracedInt)) and not same.name:
        node = same
    writer = _Writer()
    text = writer.operation(node)[0] if node.op != "interp" else ""
    if node.op == "interp":
        writer.term(node.args[0]) if isinstance(node.args[0], (Traced, TracedInt)) else None
    return Working(
        name=name or node.name,
        value=float(node),
        equation=text,
        terms=tuple(writer.terms.values()),
        says=node.says,
        how="interp" if node.op == "interp" else "",
    )


class _Writer:
    """Writes an equation down and collects its terms."""

    def __init__(self) -> None:
        self.terms: dict[int, Term] = {}
        self.symbols: set[str] = set()
        self.room = MOST

    def term(self, node: Node) -> str:
        if id(node) not in self.terms:
            word = _word(node.name) if node.name else "part"
            symbol, k = word, 2
            while symbol in self.symbols:
                symbol, k = f"{word}_{k}", k + 1
            self.symbols.add(symbol)
            self.terms[id(node)] = Term(symbol=symbol, value=float(node), source=node.name, given=node.op == GIVEN, node=node)
        return self.terms[id(node)].symbol

    def any(self, value: Any) -> tuple[str, int]:
        """(text, how tightly it binds) of an operand."""
        while isinstance(value, (Traced, TracedInt)) and not value.name and (same := _nothing_done(value)) is not None:
            value = same
        if not isinstance(value, (Traced, TracedInt)):
            number = float(value)
            return (_number(number), 9) if number >= 0.0 or math.isnan(number) else (f"({_number(number)})", 9)
        if value.name or value.op in (GIVEN, STEPS, "interp") or self.room <= 0:
            return self.term(value), 9
        return self.operation(value)

    def operation(self, node: Node) -> tuple[str, int]:
        same = _nothing_done(node)
        if same is not None:
            return self.any(same)
        if node.op != "add":
            self.room -= 1
        if node.op in _SIGNS:
            sign, binds = _SIGNS[node.op]
            (left, tight_left), (right, tight_right) = self.any(node.args[0]), self.any(node.args[1])
            if node.op in ("add", "sub") and right == "0":
                return left, tight_left
            if node.op == "add" and left == "0":
                return right, tight_right
            # a power binds to the right, a difference and a quotient do not carry on to the right
            if tight_left < binds or (node.op == "pow" and tight_left <= binds):
                left = f"({left})"
            if tight_right < binds or (tight_right == binds and node.op in ("sub", "truediv", "pow")):
                right = f"({right})"
            return f"{left}{sign}{right}", binds
        if node.op == "neg":
            text, tight = self.any(node.args[0])
            return (f"-{text}" if tight > 2 else f"-({text})"), 1
        return f"{node.op}({', '.join(self.any(item)[0] for item in node.args)})", 9


def _number(value: float) -> str:
    return f"{value:.0f}" if math.isfinite(value) and value == round(value) and abs(value) < 1e15 else repr(value)


def _nothing_done(node: Node) -> Any:
    """The operand that an operation leaves as it is: one plus nothing, times one; a bare 0 for times nothing."""
    if node.op not in _SIGNS:
        return None
    left, right = (None if isinstance(x, (Traced, TracedInt)) else float(x) for x in node.args)
    if node.op == "mul" and 0.0 in (left, right):
        return 0.0
    if (node.op in ("add", "sub") and right == 0.0) or (node.op in ("mul", "truediv", "pow") and right == 1.0):
        return node.args[0]
    return node.args[1] if (node.op == "add" and left == 0.0) or (node.op == "mul" and left == 1.0) else None


_TIDY = (
    ("0.8660254037844386", "√3/2"),
    ("6.283185307179586", "2π"),
    ("3.141592653589793", "π"),
    ("9.80665", "g"),
    (" ** 2", "²"),
    (" ** 3", "³"),
    (" ** 4", "⁴"),
    (" * ", " × "),
    ("sqrt(", "√("),
)


def readable(equation: str, names: Mapping[str, str]) -> str:
    """An equation for the eye: symbols by their names, constants and powers as they are written by hand."""

    def named(found: re.Match[str]) -> str:
        name = names.get(found.group("symbol"), found.group("symbol"))
        # a power of several words is one of them all
        return f"({name}){found.group('power')}" if found.group("power") and " " in name else f"{name}{found.group('power')}"

    text = re.sub(r"(?P<symbol>[A-Za-z_]\w*)(?!\w*\()(?P<power>(?: \*\* \d)?)", named, equation)
    for written, sign in _TIDY:
        text = text.replace(written, sign)
    return text


def _word(name: str) -> str:
    """The last part of a name as a symbol."""
    parts = [part for part in name.split(".") if part and not part.isdigit()]
    word = "".join(letter if letter.isascii() and (letter.isalnum() or letter == "_") else "_" for letter in (parts[-1] if parts else "x"))
    return f"x_{word}" if word[:1].isdigit() or not word else word


_WORK: dict[type, Any] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
}
_CALLS: dict[str, Any] = {"min": min, "max": max, "abs": abs, **{name: getattr(math, name) for name in FUNCTIONS}}


def worked_out(equation: str, values: Mapping[str, float]) -> float:
    """The value of an equation; nothing but arithmetic is understood.  Raises InputError for anything else."""

    def of(node: ast.AST) -> float:
        if isinstance(node, ast.Expression):
            return of(node.body)
        if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)):
            return float(node.value)
        if isinstance(node, ast.Name) and node.id in values:
            return float(values[node.id])
        if isinstance(node, ast.Name) and node.id in ("inf", "nan"):
            return float(node.id)
        if isinstance(node, ast.BinOp) and type(node.op) in _WORK:
            return float(_WORK[type(node.op)](of(node.left), of(node.right)))
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
            return -of(node.operand)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _CALLS and not node.keywords:
            return float(_CALLS[node.func.id](*(of(item) for item in node.args)))
        raise InputError("equation", equation, "numbers, symbols of its terms, + - * / ** and functions of one or two numbers")

    try:
        return of(ast.parse(equation, mode="eval"))
    except SyntaxError:
        raise InputError("equation", equation, "arithmetic") from None
