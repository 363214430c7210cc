"""Commissioning on paper: the sheet with boxes, and the page that is handed over."""

from __future__ import annotations

import math

from wattagon.exchange.paper import latin, sheet_of, words
from wattagon.exchange.units import say
from wattagon.study.commission.item import AFLOAT, OVER, RULES, Read
from wattagon.study.commission.judge import Verdict, values
from wattagon.study.commission.study import AGAIN_EACH_SEASON, CommissionStudy, Done

COLUMNS = (("step", 44.0), ("how", 48.0), ("accepted", 48.0), ("read", 32.0), ("held", 14.0))


def commission_pdf(found: CommissionStudy, unit_set: str = "metric") -> bytes:
    """All steps that apply with their numbers, boxes and lines; those that do not are named with the reason."""
    variant, vehicle = found.design.variant(), found.design.vehicle
    page = sheet_of(f"Commissioning of {vehicle.name}")
    words(page, f"Commissioning: {vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 14, bold=True)
    at = "half charge" if found.grounds.told.of("A2").value("pack") is None else f"{found.grounds.pack_v:.1f} V as read in A2"
    words(page, f"Ranges are worked out for {at}. A step that fails stops the sequence. Numbers without a standard are typical.", 9)
    for text in RULES:
        words(page, f"Caution: {text}", 8, bold=True)
    words(page, OVER, 8)
    for stage in found.stages:
        page.ln(2)
        words(page, f"{stage.code}  {stage.name}", 12, bold=True)
        caution = AFLOAT if stage.code == "D" and found.grounds.floats else stage.caution
        words(page, f"Caution: {caution}", 8, bold=True)
        page.set_font("Helvetica", size=8)
        with page.table(col_widths=tuple(width for _, width in COLUMNS), line_height=3.8, text_align="LEFT", padding=0.8) as table:
            table.row([name for name, _ in COLUMNS])
            for one in stage.steps:
                if one.item.applies:
                    table.row([latin(cell) for cell in _cells(one, unit_set)])
        out = [f"{one.item.id} ({one.item.why_not})" for one in stage.steps if not one.item.applies]
        if out:
            words(page, f"Not for this design: {'; '.join(out)}", 8)
        signed = f"{stage.signed.name}, {stage.signed.date}" if stage.signed is not None and not stage.stale else "_" * 30
        words(page, f"Stage {stage.code} held.  Name, date: {signed}", 9)
    return bytes(page.output())


def _cells(one: Done, unit_set: str) -> tuple[str, ...]:
    item = one.item
    reads = [f"{read.words}: {between(read, unit_set)}" for read in item.reads]
    read = [shown for each in item.reads if (shown := _shown(each, one, unit_set))]
    box = {Verdict.HELD: "[x]", Verdict.TIGHT: "[x]", Verdict.FAILED: "failed"}.get(one.verdict, "[  ]")
    caution = f" Caution: {item.caution}" if item.caution else ""
    accept = "\n".join([item.accept, *reads]) if reads else item.accept
    return (f"{item.id} {item.title}", f"{item.how}{caution}", accept, "\n".join(read), box)


def said(read: Read, value: float, unit_set: str = "metric") -> str:
    """A value of a reading."""
    if read.dimension == "resistance" and value >= 1e3:
        return f"{value / 1e6:.3g} MΩ" if value >= 1e6 else f"{value / 1e3:.3g} kΩ"
    return f"{value:.3g} {read.unit}" if read.unit else say(value, read.dimension, unit_set)


def between(read: Read, unit_set: str = "metric") -> str:
    """Its range in words."""
    low, high = math.isfinite(read.low), math.isfinite(read.high)
    if low and high and read.low == read.high:
        return said(read, read.low, unit_set)
    if low and high and read.low in (0.0, -20.0):
        return f"up to {said(read, read.high, unit_set)}"
    if low and high:
        return f"{said(read, read.low, unit_set)} to {said(read, read.high, unit_set)}"
    return f"from {said(read, read.low, unit_set)} on" if low else f"up to {said(read, read.high, unit_set)}" if high else "as is"


def _shown(read: Read, one: Done, unit_set: str) -> str:
    found = values(read, one.seen)
    return ", ".join(said(read, value, unit_set) for value in found)


def handover_pdf(found: CommissionStudy, unit_set: str = "metric") -> bytes:
    """What is handed over: what held, with values; limits; what comes due; what is not checked."""
    variant, vehicle = found.design.variant(), found.design.vehicle
    page = sheet_of(f"Hand-over of {vehicle.name}")
    words(page, f"Hand-over: {vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 14, bold=True)
    words(page, OVER, 9, bold=True)
    words(page, "Check local rules before use in public. Helmets always on wheels; lifejacket and lanyard afloat.", 9)
    page.ln(2)
    missing = found.ready
    left = f"Not complete, {len(missing)} missing: {'; '.join(missing[:12])}"
    words(page, left if missing else "All steps held.", 10, bold=bool(missing))
    page.ln(2)
    page.set_font("Helvetica", size=8)
    with page.table(col_widths=(58.0, 70.0, 30.0, 28.0), line_height=3.8, text_align="LEFT", padding=0.8) as table:
        table.row(["step", "read", "verdict", "date, name"])
        for one in found.applying:
            read = "; ".join(shown for each in one.item.reads if (shown := _shown(each, one, unit_set)))
            who = " ".join(text for text in (one.seen.date, one.seen.by) if text)
            table.row([latin(cell) for cell in (f"{one.item.id} {one.item.title}", read, one.verdict.value, who)])
    page.ln(2)
    controller = variant.controller
    words(
        page,
        f"Limits: motor amps {controller.motor_current_a:g} A, pack amps {controller.pack_current_a:g} A, each controller. "
        "Photograph the settings; a spare fuse and the key ride along.",
        9,
    )
    codes = ", ".join(code for code in AGAIN_EACH_SEASON if code in {one.item.id for one in found.applying})
    words(page, f"Again each season or 50 h: {codes}. After a change of wiring or firmware: C1 to C6.", 9)
    handed = f"{found.handed.name}, {found.handed.date}" if found.handed is not None and not missing else "_" * 30
    words(page, f"Handed over by, date: {handed}      Taken over by, date: {'_' * 30}", 10)
    return bytes(page.output())


__all__ = ["between", "commission_pdf", "handover_pdf", "said"]
