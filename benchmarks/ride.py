"""The ride loop beside plain Python and beside a compiled C loop of the same equations; and batches of designs on both cores.

Run: .venv/bin/python benchmarks/ride.py.  The C loop is translated from the source of the ride loop itself, line by line, and
compiled with gcc -O3, so that both do the same arithmetic; without gcc that row is left out.  Ratios in one process, in turns.
"""

from __future__ import annotations

import ast
import ctypes
import inspect
import math
import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np

from wattagon.design import catalogue, file
from wattagon.physics.pack import rest_curve
from wattagon.physics.ride import loop, parts
from wattagon.physics.ride.names import Col, Mode, Stat, Sum
from wattagon.physics.ride.plant import RIDE_LIMITS, Plant
from wattagon.physics.ride.ride import EVENTS, PACKED
from wattagon.study.resolve import resolve
from wattagon.study.ride.inputs import plant_of

DEMO = Path(catalogue.__file__).resolve().parent.parent / "stock" / "demo" / "dunlin.json"
HOUR, STEP = 3600.0, 0.01
ROUNDS = 9
WHOLE = {
    "mode",
    "stride",
    "steps_most",
    "top",
    "cell",
    "last",
    "rows",
    "told",
    "step",
    "until_heat",
    "acting",
    "candidate",
    "limit",
    "at",
    "k",
    "which",
    "found",
    "reason",
    "steps",
    "ceiling_name",
}
ARRAYS = {
    "cells": 7,
    "trace": len(Col),
    "events": 3,
    "sums": 0,
    "stats": 0,
    "held": 0,
    "driver": 0,
    "start": 0,
    "curve": 0,
    "temps": 0,
    "joules": 0,
    "hot": 0,
    "hot_at": 0,
    "now": 0,
}
FLAGS = {"waiting", "coupled", "cut_told", "over_told", "full", "resisting", "rising", "to_stop", "fresh"}


class ToC(ast.NodeVisitor):
    """C text of the small part of Python that the loop is written in; numbers are doubles but for the WHOLE names."""

    def __init__(self, module: object, returns: dict[str, int]) -> None:
        self.names, self.returns, self.out, self.local, self.depth, self.args = vars(module), returns, [], set(), 1, set()
        self.n_return = 0

    def kind(self, name: str) -> str:
        return "long" if name in WHOLE or name in FLAGS else "double"

    def line(self, text: str) -> None:
        self.out.append("  " * self.depth + text)

    def function(self, node: ast.FunctionDef) -> str:
        arguments = [a.arg for a in node.args.args]
        self.args, self.local = set(arguments), set()
        counts = [
            len(s.value.elts) if isinstance(s.value, ast.Tuple) else 1
            for s in ast.walk(node)
            if isinstance(s, ast.Return) and s.value is not None
        ]
        self.n_return = counts[0] if counts else 0
        self.returns[node.name] = self.n_return
        self.out = []
        for statement in node.body:
            self.statement(statement)
        head = [("const P *p" if a == "p" else f"double *{a}" if a in ARRAYS else f"{self.kind(a)} {a}") for a in arguments]
        if self.n_return > 1:
            head += [f"double *out{k}_" for k in range(self.n_return)]
        kind = "static inline double" if self.n_return == 1 else "static inline void"
        if node.name == "ride_loop":
            kind = "void"
            head += ["long trace_n", "long events_n", "long curve_n", "long cells_n"]
        declared = "".join(
            f"  {'double *' if name in ARRAYS else self.kind(name) + ' '}{name};\n" for name in sorted(self.local - self.args)
        )
        return f"{kind} {node.name}({', '.join(head)}) {{\n{declared}" + "\n".join(self.out) + "\n}\n"

    def statement(self, s: ast.stmt) -> None:
        if isinstance(s, ast.Expr):
            if isinstance(s.value, ast.Call):
                self.line(self.e(s.value) + ";")
        elif isinstance(s, ast.Assign):
            for target in s.targets:
                self.assign(target, s.value)
        elif isinstance(s, ast.AugAssign):
            op = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*"}.get(type(s.op))
            target = self.e(s.target)
            self.line(f"{target} {op}= {self.e(s.value)};" if op else f"{target} = {target} / {self.e(s.value)};")
        elif isinstance(s, ast.If):
            self.line(f"if ({self.e(s.test)}) {{")
            self.block(s.body)
            if s.orelse:
                self.line("} else {")
                self.block(s.orelse)
            self.line("}")
        elif isinstance(s, ast.While):
            self.line(f"while ({self.e(s.test)}) {{")
            self.block(s.body)
            self.line("}")
        elif isinstance(s, ast.For):
            ends = [self.e(a) for a in s.iter.args]
            low, high = ends if len(ends) == 2 else ("0", ends[0])
            name = s.target.id if s.target.id != "_" else "turn_"
            if name == "turn_":
                self.line(f"for (long turn_ = {low}; turn_ < {high}; turn_++) {{")
            else:
                self.local.add(name)
                self.line(f"for ({name} = {low}; {name} < {high}; {name}++) {{")
            self.block(s.body)
            self.line("}")
        elif isinstance(s, ast.Break):
            self.line("break;")
        elif isinstance(s, ast.Return):
            if isinstance(s.value, ast.Tuple):
                for k, item in enumerate(s.value.elts):
                    self.line(f"*out{k}_ = {self.e(item)};")
                self.line("return;")
            else:
                self.line(f"return {self.e(s.value)};")
        else:
            raise NotImplementedError(ast.dump(s))

    def block(self, body: list[ast.stmt]) -> None:
        self.depth += 1
        for s in body:
            self.statement(s)
        self.depth -= 1

    def assign(self, target: ast.expr, value: ast.expr) -> None:
        if isinstance(target, ast.Tuple) and isinstance(value, ast.Tuple):
            # right sides first, as Python has it
            self.line("{")
            for k, item in enumerate(value.elts):
                array = isinstance(target.elts[k], ast.Name) and target.elts[k].id in ARRAYS
                self.line(f"{'double *' if array else 'double '}t{k}_ = {self.e(item)};")
            for k, item in enumerate(target.elts):
                self.line(f"{self.place(item)} = t{k}_;")
            self.line("}")
        elif isinstance(target, ast.Tuple):
            assert isinstance(value, ast.Call)
            given = ", ".join(self.e(a) for a in value.args)
            self.line("{ double " + ", ".join(f"t{k}_" for k in range(len(target.elts))) + ";")
            self.line(f"{value.func.id}({given}, {', '.join(f'&t{k}_' for k in range(len(target.elts)))});")
            for k, item in enumerate(target.elts):
                self.line(f"{self.place(item)} = t{k}_;")
            self.line("}")
        elif isinstance(target, ast.Subscript) and isinstance(target.slice, ast.Slice):
            self.line(f"for (int j_ = 0; j_ < 5; j_++) {self.e(target.value)}[j_] = {self.e(value)};")
        elif isinstance(target, ast.Subscript) and target.value.id in ("trace",) and not isinstance(target.slice, ast.Tuple):
            n = ARRAYS["trace"]
            self.line(f"memcpy(trace + {n} * ({self.e(target.slice)}), trace + {n} * ({self.e(value.slice)}), {n} * sizeof(double));")
        else:
            self.line(f"{self.place(target)} = {self.e(value)};")

    def place(self, target: ast.expr) -> str:
        if isinstance(target, ast.Name):
            self.local.add(target.id)
        return self.e(target)

    def e(self, x: ast.expr) -> str:
        if isinstance(x, ast.Constant):
            return str(int(x.value)) if isinstance(x.value, bool) else repr(x.value)
        if isinstance(x, ast.Name):
            known = x.id not in self.local and x.id not in self.args and isinstance(self.names.get(x.id), (int, float))
            return repr(self.names[x.id]) if known else x.id
        if isinstance(x, ast.Attribute):
            if isinstance(x.value, ast.Name) and x.value.id == "p":
                return f"p->{x.attr}"
            if x.attr == "value":
                return self.e(x.value)
            if x.attr == "size":
                return f"{x.value.id}_n"
            return str(int(getattr(self.names[x.value.id], x.attr)))
        if isinstance(x, ast.Subscript):
            if isinstance(x.value, ast.Attribute):  # shape[0]
                return f"{x.value.value.id}_n"
            if isinstance(x.slice, ast.Slice):
                return f"({x.value.id} + {self.e(x.slice.lower)})"
            if isinstance(x.slice, ast.Tuple):
                row, column = x.slice.elts
                return f"{x.value.id}[{ARRAYS[x.value.id]} * ({self.e(row)}) + {self.e(column)}]"
            return f"{x.value.id}[{self.e(x.slice)}]"
        if isinstance(x, ast.BinOp):
            a, b = self.e(x.left), self.e(x.right)
            if isinstance(x.op, ast.Pow):
                return f"pow({a}, {b})"
            sign = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.Mod: "%", ast.FloorDiv: "/"}[type(x.op)]
            return f"({a} {sign} {b})"
        if isinstance(x, ast.UnaryOp):
            return f"({'!' if isinstance(x.op, ast.Not) else '-'}{self.e(x.operand)})"
        if isinstance(x, ast.BoolOp):
            return "(" + (" && " if isinstance(x.op, ast.And) else " || ").join(self.e(v) for v in x.values) + ")"
        if isinstance(x, ast.Compare):
            sign = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!="}[type(x.ops[0])]
            return f"({self.e(x.left)} {sign} {self.e(x.comparators[0])})"
        if isinstance(x, ast.IfExp):
            return f"({self.e(x.test)} ? {self.e(x.body)} : {self.e(x.orelse)})"
        if isinstance(x, ast.Call):
            name = x.func.attr if isinstance(x.func, ast.Attribute) else x.func.id
            given = [self.e(a) for a in x.args]
            if name in ("min", "max"):
                text = given[0]
                for other in given[1:]:
                    text = f"{name}_({text}, {other})"
                return text
            if name == "tell":
                given.append("events_n")
            return {"abs": "fabs", "int": "(long)", "float": "(double)"}.get(name, name) + f"({', '.join(given)})"
        raise NotImplementedError(ast.dump(x))


def c_source() -> str:
    """The loop and its pieces as C."""
    fields = "".join(f"double {name}; " for name in Plant._fields)
    text = f"#include <math.h>\n#include <string.h>\ntypedef struct {{ {fields} }} P;\n"
    text += (
        "static inline double min_(double a, double b) { return a < b ? a : b; }\nstatic inline "
        "double max_(double a, double b) { return a > b ? a : b; }\n"
    )
    returns: dict[str, int] = {}
    for module in (parts, loop):
        tree = ast.parse(inspect.getsource(module))
        for node in ast.walk(tree):
            if isinstance(node, ast.Name) and node.id == "case":
                node.id = "case_"  # a word of C
        for node in tree.body:
            if isinstance(node, ast.FunctionDef):
                code = ToC(module, returns).function(node)
                if node.name == "tell":
                    code = code.replace("double kind)", "double kind, long events_n)")
                text += code
    return text


class CLoop:
    """The translated loop, compiled and loaded."""

    def __init__(self, folder: str) -> None:
        source, library = Path(folder) / "ride.c", Path(folder) / "ride.so"
        source.write_text(c_source(), encoding="utf-8")
        subprocess.run(
            ["gcc", "-O3", "-march=native", "-ffast-math", "-w", "-shared", "-fPIC", "-o", str(library), str(source), "-lm"],
            check=True,
        )
        self.call = ctypes.CDLL(str(library)).ride_loop
        self.call.restype = None

    def __call__(self, plant, curve, cells, driver, start, trace, sums, stats, held, events):
        pointer = lambda a: a.ctypes.data_as(ctypes.c_void_p)
        out = [ctypes.c_double() for _ in range(3)]
        self.call(
            *(pointer(a) for a in (plant, curve, cells, driver, start, trace, sums, stats, held, events)),
            *(ctypes.byref(x) for x in out),
            ctypes.c_long(trace.shape[0]),
            ctypes.c_long(events.shape[0]),
            ctypes.c_long(curve.size),
            ctypes.c_long(cells.shape[0]),
        )
        return tuple(int(x.value) for x in out)


def arguments(plant: Plant, seconds: float):
    """What one hour at changing speed over rolling ground needs."""
    legs = [[0.0, 0.02, 1.0, 0.0, 36.0, 0.0, 0.0]]
    for k in range(1, 400):
        legs.append([k * 60.0, 0.04 * math.sin(k), 1.0, math.cos(k), (5.0 + 2.0 * math.sin(0.7 * k)) ** 2, 0.0, 0.0])
    driver = np.array([float(Mode.FOLLOW), 1.0, 1e18, 1.5, seconds, STEP, 1.0, 0.0, 0.0, 0.0])
    start = np.array([0.0, 0.95, *(25.0,) * 5, 0.0, 0.0, *(0.0,) * 5, *(25.0,) * 5, *(-1.0,) * 5, *(0.0,) * 6])
    packed = np.array([tuple(plant)], dtype=PACKED)
    return (
        packed,
        rest_curve("nmc_power"),
        np.array(legs),
        driver,
        start,
        np.zeros((3000, len(Col))),
        np.zeros(len(Sum)),
        np.zeros(len(Stat)),
        np.zeros(len(RIDE_LIMITS)),
        np.zeros((EVENTS, 3)),
    )


def main() -> int:
    design, stock = file.read(DEMO).design, catalogue.load()
    plant, _ = plant_of(design, resolve(design, stock))
    begin = time.perf_counter()
    a = arguments(plant, 1.0)
    loop.ride_loop(a[0][0], *a[1:])
    print(f"first call           {time.perf_counter() - begin:8.2f} s (with its cache on disk, or compiling)")
    runs = {"compiled Python": lambda a: loop.ride_loop(a[0][0], *a[1:])}
    with tempfile.TemporaryDirectory() as folder:
        if shutil.which("gcc"):
            runs["C, translated"] = CLoop(folder)
            runs["C, translated"] = (lambda c: lambda a: c(*a))(runs["C, translated"])
        times: dict[str, list[float]] = {name: [] for name in runs}
        ends = {}
        for _ in range(ROUNDS):
            for name, run in runs.items():
                a = arguments(plant, HOUR)
                start = time.perf_counter()
                run(a)
                times[name].append(time.perf_counter() - start)
                ends[name] = (a[7][Stat.DISTANCE], a[6][Sum.CHEMICAL], a[7][Stat.WINDING])
        steps = HOUR / STEP
        for name, found in times.items():
            print(
                f"{name:20} {1e9 * statistics.median(found) / steps:8.0f} ns a step, one hour in "
                f"{1e3 * statistics.median(found):.0f} ms; {ends[name][0]:.2f} m, {ends[name][1] / 3600:.4f} "
                f"Wh, {ends[name][2]:.3f} C"
            )
        if len(times) == 2:
            pairs = statistics.median(x / y for x, y in zip(*times.values(), strict=True))
            print(f"ratio                {pairs:8.2f} compiled Python to C (aim: at most 1.5)")
    plain = arguments(plant, 20.0)
    # the same source without the compiler: the pieces are swapped for their Python
    names = [name for name in vars(parts) if hasattr(vars(parts)[name], "py_func")]
    kept = {name: vars(loop).get(name) for name in names}
    inner = {name: vars(parts)[name] for name in names}
    try:
        for name in names:
            setattr(parts, name, inner[name].py_func)
            if kept[name] is not None:
                setattr(loop, name, inner[name].py_func)
        start = time.perf_counter()
        loop.ride_loop.py_func(plant, *plain[1:])
        print(f"plain Python         {1e9 * (time.perf_counter() - start) / (20.0 / STEP):8.0f} ns a step")
    finally:
        for name in names:
            setattr(parts, name, inner[name])
            if kept[name] is not None:
                setattr(loop, name, kept[name])
    batch = 16
    one = lambda _k: loop.ride_loop(*(lambda a: (a[0][0], *a[1:]))(arguments(plant, HOUR)))
    for workers in (1, os.cpu_count() or 1):
        with ThreadPoolExecutor(workers) as pool:
            start = time.perf_counter()
            list(pool.map(one, range(batch)))
            took = time.perf_counter() - start
        print(
            f"{batch} designs, {workers} core{'s' if workers > 1 else ' '}  {took:8.2f} s, "
            f"{1e9 * took / batch / steps:.0f} ns a step and design"
        )
    return 0


if __name__ == "__main__":
    sys.exit(main())
