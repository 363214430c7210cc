"""What a ride came to: how it ended, distance and range, heat, what held it back, where the energy went."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import elided, pen, put_right, put_text, status_mark, straight
from wattagon.desk.chart.painted import painted
from wattagon.desk.ride.book import RideBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import per_distance
from wattagon.physics.ride.names import Col, Stat, Sum
from wattagon.physics.ride.plant import NEVER
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import END_WORDS, Ride, best_range, costs
from wattagon.study.ride.words import LETTERS, balance_words, distance_text, gear_words, limit_words

WIDTH = 236
LINE = 19.0
PARTS = {
    "pack": "electrical",
    "controller": "electrical",
    "copper": "heat",
    "iron": "heat",
    "reduction": "mechanical",
    "rolling": "mechanical",
    "stirred": "mechanical",
    "hull": "mechanical",
    "air": "mechanical",
    "climb": "mechanical",
    "brakes": "heat",
    "motion": "mechanical",
}


class Story(QWidget):
    """Figures of the present ride, with the change against the first ride that lies under it."""

    def __init__(self, session: Session, book: RideBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("ride-story")
        self.setFixedWidth(WIDTH)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("What the ride came to")
        book.changed.connect(self._refresh)
        session.looks_changed.connect(self._refresh)

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, 420)

    def _refresh(self) -> None:
        ride = self._book.current
        self.setAccessibleDescription("" if ride is None else "; ".join(f"{a} {b}" for a, b, _ in self.figures(ride)))
        self.update()

    def figures(self, ride: Ride) -> list[tuple[str, str, str]]:
        """(what, value, change against the ride below) in the user's units."""
        say, under = self._session.say, self._under()
        stat = ride.run.stat

        def change(now: float, then: Ride | float | None, dimension: str) -> str:
            if (
                not isinstance(then, float)
                or not (math.isfinite(now) and math.isfinite(then))
                or abs(now - then) < 0.005 * max(abs(then), 1e-9)
            ):
                return ""
            return f"was {say(then, dimension)}"

        moved = ride.distance_m > 5.0
        rows = [
            ("Time", say(ride.time_s, "time"), change(ride.time_s, under and under.time_s, "time")),
            (
                "Distance",
                distance_text(ride.distance_m, say),
                change(ride.distance_m, under and under.distance_m, "distance" if ride.distance_m >= 1000.0 else "height"),
            ),
        ]
        top = stat(Stat.PEAK_SPEED)
        rows.append(("Fastest", say(top, "speed"), change(top, under and under.run.stat(Stat.PEAK_SPEED), "speed")))
        if moved and ride.energy_wh > 0.05 and ride.ask.run not in ("start", "hill", "stop"):
            per, unit = per_distance(ride.wh_per_km, self._session.unit_set)
            was = per_distance(under.wh_per_km, self._session.unit_set)[0] if under else per
            change_of = f"was {was:.3g}" if abs(was / per - 1.0) > 0.005 else ""
            rows.append(("Energy", f"{ride.energy_wh:.3g} Wh, {per:.3g} Wh/{unit}", change_of))
            rows.append(("Range like this", say(ride.range_m, "distance"), change(ride.range_m, under and under.range_m, "distance")))
            if (found := self._book.around) is not None and math.isfinite(found.range_m.low):
                ends = " to ".join(say(end, "distance") for end in (found.range_m.low, found.range_m.high))
                rows.append(("  four times of six", ends, ""))
            rows.append(("  with a second pack", say(2 * ride.range_m, "distance"), ""))
        if ride.ask.run in ("hold-speed", "there-and-back"):
            pace, furthest = best_range(ride.resolved)
            rows.append(("Furthest pace", say(pace, "speed"), f"a charge goes {say(furthest, 'distance')}"))
        rows.append(("Charge", f"{float(ride.run.trace[0, Col.CHARGE]):.0%} to {stat(Stat.CHARGE):.0%}", ""))
        split = ride.split_wh()
        if math.isfinite(ride.climb_capacity_m) and split["climb"] > 0.25 * ride.energy_wh:
            rows.append(("Climb in a charge", say(round(ride.climb_capacity_m), "height"), ""))
        if gears := gear_words(ride):
            rows.append(("Shifted", gears.rpartition(", ")[2].removeprefix("shifted "), gears.partition(",")[0]))
        peak = ride.motor_a(stat(Stat.PEAK_DC_A))
        rows.append(
            (
                "Most motor amps",
                say(peak, "current"),
                change(peak, under and under.motor_a(under.run.stat(Stat.PEAK_DC_A)), "current"),
            )
        )
        rows.append(
            (
                "Most pack amps",
                say(stat(Stat.PEAK_PACK_A), "current"),
                change(stat(Stat.PEAK_PACK_A), under and under.run.stat(Stat.PEAK_PACK_A), "current"),
            )
        )
        back = ride.run.energy_j(Sum.REGENERATED) / 3600.0
        if back > 0.05:
            rows.append(("Taken back", f"{back:.3g} Wh", ""))
        if ride.ask.run not in ("start", "hill", "stop") and moved and ride.energy_wh > 0.05:
            charge, hundred = costs(ride)
            money = ride.design.brief.currency
            each, unit = per_distance(hundred, self._session.unit_set)
            rows.append((f"Cost of 100 {unit}", f"{each:.2f} {money}", f"a charge {charge:.2f} {money}"))
        return rows

    def spoken(self) -> str:
        """Its values as text."""
        ride = self._book.current
        if ride is None:
            return ""
        told = [f"{what} {value}{f', {change}' if change else ''}" for what, value, change in self.figures(ride)]
        return "; ".join((*told, *(f"{what} {value}" for what, value, _ in self.heat_rows(ride))))

    def _under(self) -> Ride | None:
        if self._book.before is not None:
            return self._book.before
        return self._book.kept[0].ride if self._book.kept else None

    def heat_rows(self, ride: Ride) -> list[tuple[str, str, Status]]:
        """(part, how warm it got and when it was too warm, status)."""
        plant, over, say = ride.run.plant, ride.over_at(), self._session.say
        made = []
        parts = [
            ("winding", Stat.WINDING, plant.winding_limit),
            ("controller", Stat.CONTROLLER, plant.controller_taper_start),
            ("pack", Stat.PACK_T, plant.pack_limit),
        ]
        if plant.resistor_ohm > 0:
            parts.append(("resistor", Stat.RESISTOR_T, plant.resistor_limit))
        for name, stat, limit in parts:
            top = ride.run.stat(stat)
            words = say(top, "temperature")
            status = Status.CLEAR
            if name in over:
                status, words = Status.OVER, f"{words}, limit after {say(over[name], 'time')}"
            elif limit < NEVER / 10:
                words += f" of {say(limit, 'temperature')}"
                status = Status.TIGHT if top > limit - 10.0 else Status.CLEAR
            made.append((name.capitalize(), words, status))
        return made

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        ride = self._book.current
        if ride is not None:
            painter.setOpacity(0.55 if self._book.stale else 1.0)
            self._paint(painter, theme, ride)

    def _paint(self, painter: QPainter, theme: Theme, ride: Ride) -> None:
        left, right = 12.0, self.width() - 4.0
        y = 16.0
        painter.setPen(theme.ink)
        ended = END_WORDS[ride.run.end]
        put_text(painter, left, y, elided(ended[:1].upper() + ended[1:], font(14, 600), right - left), font(14, 600))
        y += LINE + 3
        warning = balance_words(ride.run)
        if warning:
            painter.setPen(theme.over)
            put_text(painter, left, y, elided(warning, font(12), right - left), font(12))
            y += LINE
        for what, value, change in self.figures(ride):
            painter.setPen(theme.soft)
            put_text(painter, left, y, what, font(12))
            painter.setPen(theme.ink)
            put_right(painter, right, y, value, font(12, 600))
            y += LINE - 2
            if change:
                painter.setPen(theme.soft)
                put_right(painter, right, y - 2, change, font(11))
                y += LINE - 6
        y = self._rule(painter, theme, left, right, y)
        for name, words, status in self.heat_rows(ride):
            status_mark(painter, QPointF(left + 5, y - 4), status, theme, 4.5)
            painter.setPen(theme.soft)
            put_text(painter, left + 16, y, name, font(12))
            painter.setPen(theme.over if status is Status.OVER else theme.ink)
            put_right(painter, right, y, elided(words, font(12), right - left - 80), font(12))
            y += LINE - 2
        held = ride.held_by()[:4]
        if held:
            y = self._rule(painter, theme, left, right, y)
            painter.setPen(theme.soft)
            put_text(painter, left, y, "Held back by", font(12))
            y += LINE - 2
            for name, seconds in held:
                painter.setPen(theme.ink)
                put_text(painter, left, y, LETTERS[name], font(12, 600))
                put_text(painter, left + 16, y, elided(limit_words(name), font(12), right - left - 80), font(12))
                put_right(painter, right, y, self._session.say(seconds, "time"), font(12))
                y += LINE - 2
        self._energy(painter, theme, ride, left, right, y)

    def _rule(self, painter: QPainter, theme: Theme, left: float, right: float, y: float) -> float:
        straight(painter, left, y - 7, right, y - 7, pen(theme.rule, 1.0))
        return y + 9

    def _energy(self, painter: QPainter, theme: Theme, ride: Ride, left: float, right: float, y: float) -> None:
        """Where the energy went: one bar, its pieces named below in the same order."""
        split = {name: value for name, value in ride.split_wh().items() if value > 0}
        total = sum(split.values())
        room = self.height() - y
        if total <= 0.01 or room < 66:
            return
        y = self._rule(painter, theme, left, right, y)
        painter.setPen(theme.soft)
        put_text(painter, left, y, f"Where {total:.3g} Wh went", font(12))
        y += 7
        x = left
        for k, (name, value) in enumerate(split.items()):
            width = value / total * (right - left)
            painter.fillRect(QRectF(x, y, max(width - 1.0, 0.6), 15), with_alpha(getattr(theme, PARTS[name]), 0.75 if k % 2 == 0 else 0.45))
            x += width
        y += 31
        column, face = 0, font(11)
        for name, value in sorted(split.items(), key=lambda item: -item[1]):
            if value / total < 0.012:
                continue
            if y > self.height() - 3:
                break
            at = left + column * (right - left) / 2
            painter.setPen(getattr(theme, PARTS[name]))
            put_text(painter, at, y, name, face)
            painter.setPen(theme.ink)
            put_right(painter, at + (right - left) / 2 - (10 if column == 0 else 0), y, f"{value / total:.0%}", face)
            column = 1 - column
            if column == 0:
                y += 16
