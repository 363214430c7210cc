"""Small drawings under the pack: cell volts over the seasons, a charge in time, other chemistries as bars."""

from __future__ import annotations

import datetime
import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.axes import round_step, tick_text, ticks
from wattagon.desk.chart.ink import curve, elided, fill, pen, put_right, put_text, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.study.findings.status import Status
from wattagon.study.pack.checks import FAIR_V, GOOD_V, SOON_V
from wattagon.study.pack.others import WORDS
from wattagon.study.pack.study import PackStudy


class _Drawn(QWidget):
    """A drawing of the pack."""

    name, words = "", ""
    low = 96

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.found: PackStudy | None = None
        self.setObjectName(self.name)
        self.setAccessibleName(self.words)
        self.setMinimumSize(240, self.low)

    def sizeHint(self) -> QSize:
        return QSize(420, 160)

    def show_pack(self, found: PackStudy | None) -> None:
        """Another result."""
        self.found = found
        self.update()

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        rect = QRectF(self.rect())
        painter.fillRect(rect, theme.panel)
        if self.found is not None:
            self.draw(painter, theme, rect, self.found)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: PackStudy) -> None:
        """What it shows."""


class Seasons(_Drawn):
    """Every group against the middle one, over the days of the checks."""

    name, words = "cell-seasons", "Cell volts over the seasons"

    def spoken(self) -> str:
        """Its values as text."""
        checks = self.found.checks if self.found is not None else ()
        return "; ".join(f"{one.check.date}: {one.verdict}" for one in checks)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: PackStudy) -> None:
        checks = [one for one in found.checks if len(one.check.volts) == found.groups]
        if not checks:
            p.setPen(theme.soft)
            p.setFont(font(13))
            words = "No check of this pack yet. At rest, read the volts of every group and type or paste them on the right."
            p.drawText(rect.adjusted(30, 0, -30, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            return
        plot = rect.adjusted(52, 12, -92, -24)
        days = [datetime.date.fromisoformat(one.check.date).toordinal() for one in checks]
        away = np.array([np.array(one.check.volts) - np.median(one.check.volts) for one in checks])
        least = float(away.min())
        low, high = min(least * 1.15, -0.012), max(float(away.max()) * 1.3, 0.012)
        first, last = days[0], max(days[-1], days[0] + 30)
        x_of = lambda day: plot.left() + plot.width() * (day - first) / (last - first)
        y_of = lambda volts: plot.bottom() - plot.height() * (volts - low) / (high - low)
        for bound, ink in ((GOOD_V, theme.clear), (FAIR_V, theme.tight), (SOON_V, theme.over)):
            if -bound > low:
                p.setPen(pen(ink, 1.0, (4.0, 3.0)))
                p.drawLine(QPointF(plot.left(), y_of(-bound)), QPointF(plot.right(), y_of(-bound)))
        step = round_step(1e3 * (high - low), max(int(plot.height() / 26), 2))
        for tick in ticks(1e3 * low, 1e3 * high, max(int(plot.height() / 26), 2)):
            y = y_of(1e-3 * tick)
            p.setPen(pen(theme.rule, 1.0))
            p.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
            p.setPen(theme.soft)
            put_right(p, plot.left() - 4, y + 4, f"{tick_text(tick, step)} mV", font(12))
        for group in range(found.groups):
            marked = group == found.outlier
            line = np.array([(x_of(day), y_of(volts)) for day, volts in zip(days, away[:, group], strict=True)])
            ink = theme.tight if marked else with_alpha(theme.electrical, 0.5)
            if len(days) > 1:
                curve(p, line, pen(ink, 2.2 if marked else 1.1), whole=True)
            p.setPen(pen(ink, 1.2))
            p.setBrush(ink)
            for x, y in line:
                p.drawEllipse(QPointF(x, y), 2.6 if marked else 1.6, 2.6 if marked else 1.6)
            if marked:
                p.setPen(theme.tight)
                put_text(p, plot.right() + 6, line[-1][1] + 4, f"group {group + 1}", font(12, 600))
        face = font(12)
        wide, taken = text_width("00 Mmm 0000", face), -math.inf
        p.setPen(theme.soft)
        for day in days:
            date = datetime.date.fromordinal(day)
            words = f"{date.day} {date:%b} {date.year}"
            x = min(max(x_of(day) - 0.5 * wide, plot.left() - 20), plot.right() - wide + 30)
            if x > taken:
                put_text(p, x, rect.bottom() - 7, words, face)
                taken = x + wide + 8


class ChargeLine(_Drawn):
    """One charge in time: amps while it is bulk, then the taper; where it passes storage and 80 %."""

    name, words = "charge-line", "A charge in time"

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return ""
        one, say = self.found.charged, self._session.say
        return f"bulk {say(one.bulk_s, 'time')}, taper {say(one.taper_s, 'time')}, full after {say(one.full_s, 'time')}"

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: PackStudy) -> None:
        one, say = found.charged, self._session.say
        plot = rect.adjusted(20, 22, -50, -40)
        whole = max(one.full_s, 60.0)
        x_of = lambda seconds: plot.left() + plot.width() * min(seconds, whole) / whole
        top = plot.top() + 0.15 * plot.height()
        steps = [(x_of(0.0), top), (x_of(one.bulk_s), top)]
        tau = max((whole - one.bulk_s) / 3.0, 1.0)
        for k in range(1, 25):
            t = one.bulk_s + (whole - one.bulk_s) * k / 24.0
            steps.append((x_of(t), plot.bottom() - (plot.bottom() - top) * math.exp(-(t - one.bulk_s) / tau)))
        shape = np.array([(plot.left(), plot.bottom()), *steps, (plot.right(), plot.bottom())])
        fill(p, shape, with_alpha(theme.electrical, 0.18))
        curve(p, np.array(steps), pen(theme.electrical, 2.0), whole=True)
        p.setPen(theme.electrical)
        put_text(p, plot.left() + 6, top - 6, f"{say(one.amps, 'current')}, {say(one.volts, 'voltage')} at the end", font(12, 600))
        marks = [(one.storage_s, "storage"), (one.to_80_s, "80 %"), (one.full_s, "full")]
        if one.taper_s > 0.04 * whole:
            marks.append((one.bulk_s, "taper begins"))
        taken = [-math.inf, -math.inf]
        for seconds, words in sorted(mark for mark in marks if math.isfinite(mark[0]) and mark[0] > 0.0):
            x = x_of(seconds)
            p.setPen(pen(theme.rule, 1.2))
            p.drawLine(QPointF(x, plot.top() + 4), QPointF(x, plot.bottom()))
            text = f"{words} {say(seconds, 'time')}"
            p.setPen(theme.ink)
            left = min(max(x - 0.5 * text_width(text, font(12)), plot.left() - 10), plot.right() + 46 - text_width(text, font(12)))
            row = next((k for k in (0, 1) if left >= taken[k]), None)
            if row is None:
                continue  # no room: its line stands there all the same
            put_text(p, left, plot.bottom() + 15 + 15 * row, text, font(12))
            taken[row] = left + text_width(text, font(12)) + 8


class Chemistries(_Drawn):
    """The same energy in each chemistry: mass, price, charges, as bars."""

    name, words = "chemistries", "The same energy in other chemistries"

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return ""
        say = self._session.say
        return "; ".join(
            f"{WORDS[o.chemistry]} {o.series}S{o.parallel}P {say(o.mass_kg, 'mass')}, {say(o.price, 'money')}" for o in self.found.others
        )

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: PackStudy) -> None:
        say = self._session.say
        columns = (
            ("mass", lambda o: o.mass_kg, lambda o: say(o.mass_kg, "mass")),
            ("volume", lambda o: o.litres, lambda o: f"{o.litres:.1f} l"),
            ("price", lambda o: o.price, lambda o: say(o.price, "money")),
            ("lasting amps", lambda o: o.lasting_a, lambda o: say(o.lasting_a, "current")),
            ("full charges", lambda o: o.cycles, lambda o: f"{o.cycles:.0f}"),
        )
        names = 232.0
        wide = (rect.width() - names - 20) / len(columns)
        row = min((rect.height() - 26) / max(len(found.others), 1), 26.0)
        p.setPen(theme.soft)
        for k, (head, _, _) in enumerate(columns):
            put_text(p, rect.left() + names + k * wide, rect.top() + 16, head, font(12))
        for n, other in enumerate(found.others):
            y = rect.top() + 24 + n * row
            own = other.chemistry == found.resolved.train.pack.chemistry
            p.setPen(theme.ink)
            face = font(12, 600 if own else 400)
            put_text(
                p, rect.left() + 12, y + 14, elided(f"{WORDS[other.chemistry]}, {other.series}S{other.parallel}P", face, names - 18), face
            )
            for k, (head, value, words) in enumerate(columns):
                most = max(value(o) for o in found.others)
                x, long = rect.left() + names + k * wide, (wide - 74) * value(other) / most if most > 0 else 0.0
                weak = head == "lasting amps" and other.lasting_a < found.asked_a
                ink = theme.of(Status.OVER) if weak else with_alpha(theme.electrical if own else theme.soft, 0.55)
                p.fillRect(QRectF(x, y + 4, max(long, 1.0), 11), ink)
                p.setPen(theme.of(Status.OVER) if weak else theme.ink)
                put_text(p, x + long + 4, y + 14, words(other), font(12))
