"""A build on paper and in a calendar: the parts list to print, steps as events."""

from __future__ import annotations

import datetime
import math

from wattagon.exchange.paper import latin, sheet_of, words
from wattagon.exchange.units import say
from wattagon.study.build.mark import words_of
from wattagon.study.build.study import BuildStudy

PARTS = (("part", 62.0), ("how many", 18.0), ("used", 40.0), ("price", 18.0), ("state", 22.0), ("measure first, note", 26.0))


def parts_pdf(found: BuildStudy, unit_set: str = "metric") -> bytes:
    """The parts list with boxes to tick."""
    variant, money = found.design.variant(), found.design.brief.currency
    page = sheet_of(f"Parts of {found.design.vehicle.name}")
    words(page, f"Parts: {found.design.vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 14, bold=True)
    cost = lambda value: say(value, "money", currency=money)
    budget = f", {cost(found.budget)} is the budget" if found.budget is not None else ""
    added = say(found.base.mass.added_kg, "mass", unit_set)
    words(page, f"{cost(found.spent)} spent, {cost(found.to_spend)} to spend{budget}. Adds {added}.", 9)
    words(page, "Prices and masses marked ~ are typical. Nothing is ordered before what it must fit is measured.", 9)
    page.ln(2)
    page.set_font("Helvetica", size=8)
    with page.table(col_widths=tuple(width for _, width in PARTS), line_height=4.0, text_align="LEFT", padding=0.8) as table:
        table.row([name for name, _ in PARTS])
        for part in found.parts:
            row = part.row
            mark = "~" if row.assumed else ""
            measure = ", ".join(path.rsplit(".", 1)[-1].replace("_", " ") for path in part.missing)
            cells = (
                f"[  ] {row.name}",
                f"{row.count:g} {row.unit}".strip(),
                row.used,
                f"{mark}{cost(row.count * part.price)}",
                words_of(part, part.state),
                "; ".join(text for text in (measure, part.mark.reason, part.mark.seller) if text),
            )
            table.row([latin(cell) for cell in cells])
    return bytes(page.output())


def steps_ics(found: BuildStudy) -> bytes:
    """Open steps and deliveries as whole-day events of a calendar; cautions stand in what is said of them."""
    from icalendar import Calendar, Event

    made = Calendar()
    made.add("prodid", "-//Wattagon//build//EN")
    made.add("version", "2.0")
    name = found.design.vehicle.name
    variant = found.design.variant()
    stamp = datetime.datetime.combine(found.today, datetime.time(), datetime.timezone.utc)  # noqa: UP017

    def event(code: str, title: str, begin: datetime.date, end: datetime.date, said: str) -> None:
        one = Event()
        one.add("uid", f"{code}@{variant.id}.{name}".replace(" ", "-"))
        one.add("dtstamp", stamp)
        one.add("summary", title)
        one.add("dtstart", begin)
        one.add("dtend", max(end, begin + datetime.timedelta(days=1)))
        if said:
            one.add("description", said)
        made.add_component(one)

    for task in found.tasks:
        if math.isnan(task.begin):
            continue
        said = "\n".join(text for text in (task.step.how, task.step.caution and f"Caution: {task.step.caution}") if text)
        event(task.step.id, f"{name}: {task.step.title}", found.day(task.begin), found.day(task.end), said)
    for part in found.parts:
        days = part.arrives(found.today)
        if days is not None and days[2] > 0.0 and part.mark.date:
            day = found.today + datetime.timedelta(days=math.ceil(days[1]))
            event(f"delivery-{part.row.id}", f"{name}: {part.row.name} comes", day, day, part.mark.seller)
    event(
        "finish",
        f"{name}: could roll",
        found.finish(0.5),
        found.finish(0.5),
        f"between {found.finish(0.1).isoformat()} and {found.finish(0.9).isoformat()} in eight of ten",
    )
    return bytes(made.to_ical())
