"""Templates over a report: HTML in one file with its pictures and its typeface inside, and Markdown for a post."""

from __future__ import annotations

import base64
import re
from functools import cache
from importlib import resources

from jinja2 import Environment, FunctionLoader, StrictUndefined
from markupsafe import Markup

from wattagon.exchange.report.model import Report, Table

FACES = (("400", "AtkinsonHyperlegibleNext_400Regular.ttf"), ("600", "AtkinsonHyperlegibleNext_600SemiBold.ttf"))
MARKS = {"over": "◣", "tight": "▮", "clear": "○", "not checked": "?"}
_ID = re.compile(r'\b(id="|url\(#|xlink:href="#|href="#)')


def _template(name: str) -> str:
    return resources.files("wattagon.stock").joinpath("report", name).read_text(encoding="utf-8")


@cache
def _environment(escape: bool) -> Environment:
    made = Environment(loader=FunctionLoader(_template), autoescape=escape, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)
    made.filters["cell"] = md_cell
    made.filters["mark"] = lambda status: MARKS.get(status, "")
    return made


def html_of(report: Report) -> str:
    """One file: nothing is fetched when it is opened."""
    pictures = {one.code: Markup(inline(one.picture, one.code)) for one in report.sections if one.picture}
    fonts = resources.files("wattagon.stock").joinpath("fonts")
    faces = [(weight, base64.b64encode(fonts.joinpath(name).read_bytes()).decode()) for weight, name in FACES]
    return _environment(True).get_template("report.html.j2").render(report=report, pictures=pictures, faces=faces)


def markdown_of(report: Report) -> str:
    """Words and tables; pictures stay out of it."""
    return _environment(False).get_template("report.md.j2").render(report=report, table=md_table)


def inline(svg: str, prefix: str) -> str:
    """An SVG file as a part of a page: without its head, its names made its own, as wide as the page lets it be.

    Several pictures stand on one page, and their gradients and clips are called alike.
    """
    body = svg[svg.index("<svg") :]
    body = _ID.sub(lambda match: f"{match[1]}{prefix}-", body)
    head, rest = body.split(">", 1)
    head = re.sub(r'\s(width|height)="[^"]*"', "", head)
    return f"{head}>{rest}"


def md_cell(text: str) -> str:
    """Text that a table of Markdown bears."""
    return str(text).replace("\\", "\\\\").replace("|", "\\|").replace("\n", " ")


def md_table(rows: Table) -> str:
    """A table with headings."""
    if not rows:
        return ""
    head, *body = rows
    lines = [f"| {' | '.join(md_cell(cell) for cell in head)} |", f"|{' --- |' * len(head)}"]
    lines += [f"| {' | '.join(md_cell(cell) for cell in row)} |" for row in body]
    return "\n".join(lines)
