"""The wiring on paper: schematic as SVG, cut list as CSV or PDF, drilling list for glands at 1:1."""

from __future__ import annotations

import csv
import io
import math
import textwrap
from xml.sax.saxutils import escape

from fpdf import FPDF

from wattagon.design.catalogue import Catalogue
from wattagon.exchange.units import say
from wattagon.study.wiring.cutlist import Cut, Gland, cut_list, glands
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy

CUT_HEAD = ("lead", "pole", "count", "length mm", "cable", "copper mm2", "colour", "ends", "shrink mm", "sample bears N")
GLAND_HEAD = ("for", "count", "lead mm", "gland thread mm", "insert mm", "drill mm")
RECORD = "Record before cutting: write the colours that you find beside those that you lay."
CAUTION = (
    "Caution: disconnect the pack and wait until the bus measures under 5 V before a lead is cut. Above 60 V direct every live part is "
    "covered. Mains and house wiring are for licensed persons; local rules come first."
)
ROW, STEP = 52.0, 92.0


def cut_rows(cuts: list[Cut]) -> list[list[str]]:
    """The cut list as text, headings first."""
    rows = [list(CUT_HEAD)]
    for one in cuts:
        rows.append(
            [
                one.name,
                one.pole,
                str(one.pieces),
                f"{1e3 * one.length_m:.0f}",
                one.cable,
                f"{one.area_mm2:.2f}",
                one.colour,
                one.ends,
                f"{1e3 * one.shrink_m:.0f}",
                f"{one.pull_n:.0f}",
            ]
        )
    return rows


def gland_rows(holes: list[Gland]) -> list[list[str]]:
    """The drilling list as text, headings first."""
    rows = [list(GLAND_HEAD)]
    return rows + [[h.name, str(h.pieces), f"{h.outer_mm:g}", f"M{h.thread_mm:g}", h.insert, f"{h.drill_mm:g}"] for h in holes]


def cut_csv(found: WiringStudy, stock: Catalogue) -> str:
    """Cut list, then the drilling list where leads go into a box."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerows(cut_rows(cut_list(found, stock)))
    holes = glands(found, stock)
    if holes:
        out.write("\n")
        writer.writerows(gland_rows(holes))
    return out.getvalue()


def cut_pdf(found: WiringStudy, stock: Catalogue, unit_set: str = "metric") -> bytes:
    """Cut list, table of old and new colours, the holes of the glands at 1:1, and the schematic."""
    page = FPDF(unit="mm", format="A4", orientation="L")
    page.set_margin(12.0)
    page.set_title("Cut list")
    page.add_page()
    variant = found.resolved.variant
    _line(page, f"Cut list: {found.design.vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 14, bold=True)
    if found.proposed:
        _line(page, "Proposed: nobody told how it is wired. Measure before cutting.", 11, bold=True)
    _line(page, CAUTION, 10)
    _line(page, RECORD, 10, bold=True)
    wide = (44.0, 18.0, 13.0, 20.0, 62.0, 20.0, 22.0, 42.0, 16.0, 16.0)
    _table(page, cut_rows(cut_list(found, stock)), wide)
    page.ln(4)
    wires = [["signal", "from", "pin", "to", "pin", "colour found", "colour laid"]]
    wires += [[w.signal, w.start, w.start_pin, w.end, w.end_pin, w.found, w.wanted] for w in found.told.wires]
    if len(wires) > 1:
        _line(page, "Control wires", 12, bold=True)
        _table(page, wires, (40.0, 40.0, 36.0, 40.0, 36.0, 38.0, 38.0))
    holes = glands(found, stock)
    if holes:
        page.add_page()
        _line(page, "Glands, holes at 1:1: entry from below, one lead a hole", 12, bold=True)
        _table(page, gland_rows(holes), (70.0, 20.0, 24.0, 36.0, 30.0, 24.0))
        x, y = 25.0, page.get_y() + 26.0
        for hole in holes:
            for _ in range(hole.pieces):
                r = 0.5 * hole.drill_mm
                if x + r > 280.0:
                    x, y = 25.0, y + 45.0
                page.ellipse(x - r, y - r, 2.0 * r, 2.0 * r)
                page.line(x - 3, y, x + 3, y)
                page.line(x, y - 3, x, y + 3)
                x += 2.0 * r + 22.0
        page.line(25.0, y + 32.0, 75.0, y + 32.0)
        page.set_xy(25.0, y + 33.0)
        _line(page, "50 mm: measure this line before drilling", 9)
    told = say(found.total_loss_w, "power", unit_set)
    _line(page, f"Loss of all leads and contacts at their worst lasting currents: {told}. Nothing here says that it is safe or legal.", 9)
    page.add_page()
    plain = schematic(found, stock).encode("latin-1", "replace").decode("latin-1")
    drawn = "\n".join(line for line in plain.splitlines() if not line.startswith("<title>"))  # a PDF has its own
    page.image(io.BytesIO(drawn.encode()), x=12.0, y=12.0, w=273.0, h=186.0, keep_aspect_ratio=True)
    return bytes(page.output())


def _line(page: FPDF, words: str, size: float, *, bold: bool = False) -> None:
    page.set_font("Helvetica", style="B" if bold else "", size=size)
    plain = words.replace("²", "2").replace("Ω", "ohm").replace("µ", "u").replace("≈", "~").encode("latin-1", "replace").decode("latin-1")
    page.multi_cell(0, 0.5 * size, plain, new_x="LMARGIN", new_y="NEXT")


def _table(page: FPDF, rows: list[list[str]], wide: tuple[float, ...]) -> None:
    for k, row in enumerate(rows):
        page.set_font("Helvetica", style="B" if k == 0 else "", size=8)
        for text, width in zip(row, wide, strict=True):
            plain = text.replace("²", "2").replace("Ω", "ohm").encode("latin-1", "replace").decode("latin-1")
            while plain and page.get_string_width(plain) > width - 2.0:
                plain = plain[:-1]
            page.cell(width, 6, plain, border=1)
        page.ln(6)


# the schematic


def schematic(found: WiringStudy, stock: Catalogue, *, every_wire: bool = True) -> str:
    """The power path and the control wires as text; `every_wire` False: one line for all poles.

    Leads are as thick as their copper; branches stand below one another.
    """
    rows = [
        code
        for code in ("brick", "pack", "controller", "phase", "charge", "aux", "brake")
        if any(p.branch.code == code for p in found.pieces)
    ]
    longest = max((sum(1 for p in found.pieces if p.branch.code == code) for code in rows), default=1)
    wide = 150.0 + STEP * longest + 90.0
    wires = found.told.wires
    tall = 70.0 + ROW * 1.6 * len(rows) + (40.0 + 20.0 * len(wires) if wires else 0.0)
    head = escape(f"{found.design.vehicle.name}, variant {found.resolved.variant.id}, schematic{' (proposed)' if found.proposed else ''}")
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.0f}" height="{tall:.0f}" viewBox="0 0 {wide:.0f} {tall:.0f}" '
        'font-family="sans-serif" font-size="10">',
        f"<title>{head}</title>",
        f'<text x="12" y="20" font-size="13" font-weight="bold">{head}</text>',
    ]
    y = 60.0
    for code in rows:
        pieces = [p for p in found.pieces if p.branch.code == code]
        count = pieces[0].branch.count
        many = f" x {count}" if count > 1 else ""
        out.append(f'<g id="{code}"><text x="12" y="{y:.1f}" font-weight="bold">{escape(pieces[0].branch.name)}{many}</text>')
        x = 150.0
        for one in pieces:
            out += _symbol(one, x, y, every_wire)
            x += STEP
        out.append(f'<text x="{x + 4:.1f}" y="{y + 4:.1f}">{_end_of(code)}</text></g>')
        y += ROW * 1.6
    if wires:
        out.append(f'<g id="control"><text x="12" y="{y:.1f}" font-weight="bold">control wires, pin by pin</text>')
        for wire in wires:
            y += 20.0
            colour = wire.wanted or wire.found or "colour not recorded"
            out.append(
                f'<text x="24" y="{y + 4:.1f}">{escape(f"{wire.start} {wire.start_pin}".strip())}</text>'
                f'<line x1="190" y1="{y:.1f}" x2="420" y2="{y:.1f}" stroke="#444"/>'
                f'<text x="200" y="{y - 3:.1f}">{escape(wire.signal)}, {escape(colour)}</text>'
                f'<text x="428" y="{y + 4:.1f}">{escape(f"{wire.end} {wire.end_pin}".strip())}</text>'
            )
        out.append("</g>")
    out.append("</svg>")
    return "\n".join(out) + "\n"


def _end_of(code: str) -> str:
    return {"phase": "motor", "charge": "cells", "brake": "resistor", "aux": "lights, converter", "brick": "pack"}.get(code, "controller")


def _symbol(one: Held, x: float, y: float, every_wire: bool) -> list[str]:
    """A piece between x and x + STEP; the words under it."""
    poles = one.branch.poles if every_wire else 1
    gap = 7.0
    lines = [y + gap * (k - 0.5 * (poles - 1)) for k in range(poles)]
    thick = min(1.0 + 0.35 * math.sqrt(max(_area(one), 0.3)), 4.5)
    made = []
    in_one = {"fuse", "key", "switch", "contactor"}  # stand in plus alone
    for k, at in enumerate(lines):
        colour = "#a03028" if poles == 2 and k == 0 else "#222"
        made.append(f'<line x1="{x:.1f}" y1="{at:.1f}" x2="{x + STEP:.1f}" y2="{at:.1f}" stroke="{colour}" stroke-width="{thick:.2f}"/>')
    middle, first = x + 0.5 * STEP, lines[0]
    if one.kind == "fuse":
        made.append(f'<rect x="{middle - 12:.1f}" y="{first - 4:.1f}" width="24" height="8" fill="white" stroke="#222"/>')
    elif one.kind in in_one:
        made.append(f'<rect x="{middle - 9:.1f}" y="{first - 3:.1f}" width="18" height="6" fill="white" stroke="none"/>')
        made.append(
            f'<line x1="{middle - 9:.1f}" y1="{first:.1f}" x2="{middle + 8:.1f}" y2="{first - 8:.1f}" stroke="#222" stroke-width="1.5"/>'
        )
    elif one.kind == "joint":
        for at in lines:
            left = middle - 4
            made.append(f'<path d="M{left:.1f} {at - 4:.1f} L{middle:.1f} {at:.1f} L{left:.1f} {at + 4:.1f}" fill="none" stroke="#222"/>')
            made.append(f'<circle cx="{middle + 3:.1f}" cy="{at:.1f}" r="2.4" fill="white" stroke="#222"/>')
    elif one.kind != "lead":
        high = lines[-1] - lines[0] + 12.0
        made.append(f'<rect x="{middle - 14:.1f}" y="{lines[0] - 6:.1f}" width="28" height="{high:.1f}" fill="white" stroke="#222"/>')
    low = lines[-1] + 14.0
    for k, words in enumerate(_words(one)):
        made.append(f'<text x="{middle:.1f}" y="{low + 11 * k:.1f}" text-anchor="middle">{escape(words)}</text>')
    return made


def _area(one: Held) -> float:
    return one.laid.beside.area_m2 * 1e6


def _words(one: Held) -> list[str]:
    name = textwrap.wrap(one.name, 18)
    if one.kind == "lead":
        return [*name, f"{1e3 * one.laid.length_m:.0f} mm, {_area(one):.3g} mm²"]
    return [*name, f"{one.bears.rating_a:.0f} A" if math.isfinite(one.bears.rating_a) else ""]
