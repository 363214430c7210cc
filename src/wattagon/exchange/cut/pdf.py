"""A part as PDF at 1:1 over as many pages as it takes, with registration marks and a ruler to check the printer."""

from __future__ import annotations

import math

from fpdf import FPDF

from wattagon.errors import InputError
from wattagon.exchange.cut.svg import bounds
from wattagon.physics.outline import Outline
from wattagon.study.layout.sheets import Sheet

PAPERS = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
MARGIN, HEAD = 12.0, 24.0


def pdf(sheet: Sheet, paper: str = "A4") -> bytes:
    """The file.  Raises InputError for a paper that is none."""
    if paper not in PAPERS:
        raise InputError("paper", paper, ", ".join(PAPERS))
    wide, tall = PAPERS[paper]
    page_w, page_h = wide - 2.0 * MARGIN, tall - 2.0 * MARGIN - HEAD
    left, low, right, high = bounds((*sheet.cut, *sheet.marks))
    across, up = max(math.ceil((right - left) / page_w - 1e-9), 1), max(math.ceil((high - low) / page_h - 1e-9), 1)
    document = FPDF(unit="mm", format=(wide, tall))
    document.set_auto_page_break(False)
    document.set_title(sheet.name)
    for row in range(up):
        for column in range(across):
            document.add_page()
            x0, y0 = left + column * page_w, high - row * page_h
            place = lambda point, x0=x0, y0=y0: (MARGIN + point[0] - x0, MARGIN + HEAD + y0 - point[1])
            document.set_line_width(0.1)
            with document.local_context(), document.rect_clip(MARGIN, MARGIN + HEAD, page_w, page_h):
                for outline in sheet.cut:
                    _line(document, outline, place, closed=True)
                document.set_draw_color(0, 60, 200)
                for outline in sheet.marks:
                    _line(document, outline, place, closed=False)
            _frame(document, page_w, page_h)
            document.set_font("Helvetica", size=9)
            document.set_xy(MARGIN, MARGIN - 4.0)
            words = f"{sheet.name}, {sheet.thickness_mm:g} mm; page {row * across + column + 1} of {across * up}; print at 100 %"
            document.cell(0, 5, words.encode("latin-1", "replace").decode("latin-1"))
            document.set_xy(MARGIN, MARGIN + 1.5)
            figures = ", ".join(f"{name} {mm:.2f} mm" for name, mm in sheet.figures)
            document.cell(0, 5, figures.encode("latin-1", "replace").decode("latin-1"))
            _ruler(document, MARGIN, MARGIN + 16.0)
    if sheet.card or sheet.notes:
        _card(document, sheet)
    return bytes(document.output())


def _card(document: FPDF, sheet: Sheet) -> None:
    """What its maker has to know, on a page of its own."""
    document.add_page()
    latin = lambda words: words.encode("latin-1", "replace").decode("latin-1")
    document.set_font("Helvetica", style="B", size=13)
    document.set_xy(MARGIN, MARGIN)
    document.cell(0, 8, latin(sheet.name))
    document.set_y(MARGIN + 12.0)
    rows = [*sheet.card, *((name, f"{mm:.2f} mm") for name, mm in sheet.figures)]
    for name, words in rows:
        document.set_x(MARGIN)
        document.set_font("Helvetica", style="B", size=10)
        document.cell(42, 6, latin(name))
        document.set_font("Helvetica", size=10)
        document.multi_cell(0, 6, latin(words), new_x="LMARGIN", new_y="NEXT")
    document.ln(3)
    for note in sheet.notes:
        document.set_x(MARGIN)
        document.multi_cell(0, 5, latin(note), new_x="LMARGIN", new_y="NEXT")


def _line(document: FPDF, outline: Outline, place, *, closed: bool) -> None:  # type: ignore[no-untyped-def]
    points = [place(point) for piece in outline for point in piece.points(0.02)]
    points.append(place(outline[-1].end))
    if closed and len(points) > 2:
        document.polygon(points, style="D")
    else:
        document.polyline(points, style="D")


def _frame(document: FPDF, wide: float, tall: float) -> None:
    """A cross at each corner: pages are laid over each other by them."""
    document.set_draw_color(120)
    for x in (MARGIN, MARGIN + wide):
        for y in (MARGIN + HEAD, MARGIN + HEAD + tall):
            document.line(x - 4.0, y, x + 4.0, y)
            document.line(x, y - 4.0, x, y + 4.0)
    document.set_draw_color(0)


def _ruler(document: FPDF, x: float, y: float) -> None:
    document.set_line_width(0.2)
    document.line(x, y, x + 100.0, y)
    for k in range(0, 101, 10):
        document.line(x + k, y, x + k, y - (3.0 if k % 50 == 0 else 1.8))
    document.set_font("Helvetica", size=7)
    document.set_xy(x + 102.0, y - 3.5)
    document.cell(40, 4, "100 mm: measure it")
