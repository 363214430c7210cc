"""The card of a proof test on one page: a sketch with what to hang where, what to look for, and lines to fill in."""

from __future__ import annotations

import math

from fpdf import FPDF

from wattagon.design.catalogue import Catalogue
from wattagon.errors import InputError
from wattagon.exchange.units import say
from wattagon.study.strength.element import Element
from wattagon.study.strength.proof import ARM_KG, CAUTION, PROOF, look_for, proof_of
from wattagon.study.strength.study import StrengthStudy

MARGIN, WIDE = 15.0, 180.0
COLUMNS = (("date", 28.0), ("mass", 24.0), ("lever", 24.0), ("warm", 24.0), ("way", 24.0), ("held / moved / broke", 56.0))


def proof_card(found: StrengthStudy, code: str, stock: Catalogue, unit_set: str = "metric") -> bytes:
    """The page of one element.  Raises InputError for an element that there is not, or that no torque loads."""
    one = found.element(code)
    test = proof_of(one, stock=stock) if one is not None else None
    if one is None or test is None:
        able = ", ".join(e.code for e in found.elements if proof_of(e, stock=stock) is not None)
        raise InputError("element", code, able or "none: nothing here is loaded by torque")
    told = lambda value, dimension: say(value, dimension, unit_set)
    page = FPDF(unit="mm", format="A4")
    page.set_margin(MARGIN)
    page.set_title(f"Proof of {one.name}")
    page.add_page()
    _line(page, f"Proof test: {one.name}", 16, bold=True)
    variant = found.design.variant()
    _line(page, f"{found.design.vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 11)
    _draw(page, told(test.mass_kg, "mass"), told(test.lever_m, "length"))
    hang = f"Hang {told(test.mass_kg, 'mass')} on a level arm, {told(test.lever_m, 'length')} from the shaft's middle."
    _line(page, f"{hang} The arm itself may weigh {told(ARM_KG, 'mass')}, its middle half way out.", 12, bold=True)
    if test.cold_kg > 1.05 * test.mass_kg:
        warm = "Beyond twice the mass, warm the part instead." if test.cold_kg > 2.0 * test.mass_kg else ""
        _line(page, f"The part works warm: in a cold test hang {told(test.cold_kg, 'mass')}. {warm}".rstrip(), 12, bold=True)
    peak, where = told(one.wheel_nm, "torque"), found.where
    _line(page, f"That is {PROOF:g} times the drive's peak of {peak} {where}; by calculation it gives way at {_band(one, told)}.", 11)
    _line(page, look_for(one), 11)
    _line(page, f"Caution: {CAUTION}", 11, bold=True)
    _line(page, "What holds here has held here: it does not make a vehicle safe. Rules of your place and licensed practice come first.", 10)
    page.ln(4)
    page.set_font("Helvetica", size=9)
    for row in range(7):
        for name, wide in COLUMNS:
            page.cell(wide, 8, name if row == 0 else "", border=1)
        page.ln(8)
    return bytes(page.output())


def _band(one: Element, told) -> str:  # type: ignore[no-untyped-def]
    low, high = one.band
    return f"{told(low, 'torque')} to {told(high, 'torque')}"


def _line(page: FPDF, words: str, size: float, *, bold: bool = False) -> None:
    page.set_font("Helvetica", style="B" if bold else "", size=size)
    page.multi_cell(0, 0.5 * size, words.encode("latin-1", "replace").decode("latin-1"), new_x="LMARGIN", new_y="NEXT")
    page.ln(1.5)


def _draw(page: FPDF, mass: str, lever: str) -> None:
    """Wheel, arm, mass, floor."""
    top = page.get_y() + 4.0
    x, y, r = MARGIN + 40.0, top + 26.0, 18.0
    page.set_line_width(0.5)
    page.circle(x=x, y=y, radius=r)
    page.circle(x=x, y=y, radius=2.0, style="F")
    end = x + 80.0
    page.set_line_width(1.4)
    page.line(x, y, end + 4.0, y)
    page.set_line_width(0.4)
    page.line(end, y, end, y + 14.0)
    page.rect(end - 8.0, y + 14.0, 16.0, 12.0)
    floor = top + 56.0
    page.line(MARGIN, floor, MARGIN + WIDE, floor)
    for k in range(12):
        page.line(MARGIN + 15.0 * k, floor, MARGIN + 15.0 * k - 3.0, floor + 3.0)
    page.set_font("Helvetica", size=10)
    page.line(x, y - 8.0, end, y - 8.0)
    for place in (x, end):
        page.line(place, y - 10.0, place, y - 6.0)
    page.text(0.5 * (x + end) - 6.0, y - 9.5, lever.encode("latin-1", "replace").decode("latin-1"))
    page.text(end + 11.0, y + 21.0, mass.encode("latin-1", "replace").decode("latin-1"))
    page.text(end + 11.0, floor - 5.0, "close to the floor")
    turn = math.radians(40.0)
    page.text(x - r * math.cos(turn) - 28.0, y - r * math.sin(turn) - 3.0, "blocked behind it")
    page.set_y(floor + 7.0)
