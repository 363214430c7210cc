"""The settings sheet on paper, with room for what was read back."""

from __future__ import annotations

from wattagon.exchange.paper import latin, sheet_of, words
from wattagon.exchange.units import say
from wattagon.study.controller.failsafe import OUTCOME_WORDS
from wattagon.study.controller.setting import Setting
from wattagon.study.controller.study import ControllerStudy

COLUMNS = (("setting", 44.0), ("value", 24.0), ("from", 20.0), ("to", 20.0), ("because", 58.0), ("read back", 20.0))
CAUTION = "Wheels off the ground, belt or propeller off, for every first try. Rules of your place and licensed practice come first."


def settings_pdf(found: ControllerStudy, unit_set: str = "metric") -> bytes:
    """All pages."""
    variant = found.drive.resolved.variant
    page = sheet_of(f"Settings of {found.design.vehicle.name}")
    words(page, f"Controller settings: {found.design.vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 14, bold=True)
    words(page, f"{found.school.name[0].upper()}{found.school.name[1:]}. {found.school.words}", 9)
    words(page, f"Caution: {CAUTION}", 9, bold=True)
    page.ln(2)
    page.set_font("Helvetica", size=8)
    with page.table(col_widths=tuple(width for _, width in COLUMNS), line_height=4.0, text_align="LEFT", padding=0.8) as table:
        table.row([name for name, _ in COLUMNS])
        for one in found.settings:
            table.row([latin(cell) for cell in _cells(one, unit_set)])
    page.ln(3)
    words(page, "What it does when something fails", 11, bold=True)
    for failure in found.failures:
        known = OUTCOME_WORDS[failure.outcome] if failure.outcome else f"not known: test {failure.test}"
        words(page, f"{failure.name}: {known} ({failure.words})", 9)
    return bytes(page.output())


def _cells(one: Setting, unit_set: str) -> list[str]:
    told = lambda value: say(float(value), one.dimension, unit_set) if isinstance(value, (int, float)) else str(value or "")
    words = dict(one.options)
    value = words.get(str(one.value), told(one.value)) if not one.cannot else "not here"
    low = f"{told(one.low)} {one.low_from}".strip() if one.low is not None else ""
    high = f"{told(one.high)} {one.high_from}".strip() if one.high is not None else ""
    return [f"{one.name}{' *' if one.overridden else ''}", value, low, high, one.cannot or one.because, ""]
