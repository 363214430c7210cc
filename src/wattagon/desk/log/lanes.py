"""The lanes of a log: what was measured over what was predicted, with the band of the prediction; what is left over under each."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.axes import Axes, paint_grid, round_step, tick_text, ticks
from wattagon.desk.chart.ink import curve, elided, fill, frame, pen, put_right, put_text, say_instead, straight, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.log.book import LogBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown, unit_of
from wattagon.physics.ride.names import Col
from wattagon.record import record
from wattagon.study.log.channels import CHANNELS
from wattagon.study.log.compare import measured_of, residual_of
from wattagon.study.log.data import Floats, thinned
from wattagon.study.log.enter import charge_words

LEFT, RIGHT, TITLE, BOTTOM, STRETCH, LEFT_OVER, GAP = 46.0, 10.0, 17.0, 30.0, 20.0, 46.0, 4.0
LANES = (
    ("speed", "ink", 0.24),
    ("pack_a", "electrical", 0.22),
    ("motor_a", "electrical", 0.20),
    ("motor_c", "heat", 0.16),
    ("bus_v", "electrical", 0.18),
)


@record(frozen=True, slots=True)
class Lane:
    """One channel."""

    channel: str
    colour: str
    share: float


class LogLanes(QWidget):
    """Paints the log in front; press or drag rides along it, Shift and drag chooses the stretch to learn from."""

    stretch_chosen = Signal(float, float)
    offset_chosen = Signal(float)  # seconds that the track is dragged by

    def __init__(self, session: Session, book: LogBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.axes: list[Axes] = []
        self._low, self._high = 0.0, 1.0  # seconds in view
        self._begun: float | None = None  # of a stretch under the hand
        self._pending: tuple[float, float] | None = None
        self._dragged: tuple[float, float] | None = None  # of a track: where it was taken, by how much it was moved
        self._bar = QRectF()
        self.setObjectName("log-lanes")
        self.setAccessibleName("The log over its time: measured and predicted")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(380, 220)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.CrossCursor)
        book.changed.connect(self._renewed)
        session.moment_changed.connect(self.update)
        session.looks_changed.connect(self.update)

    def _renewed(self) -> None:
        made = self._book.comparison
        if made is not None:
            end = float(made.replay.seen.time[-1])
            if self._high > end * 1.001 or self._high <= 1.0 or self._of != self._book.log_id:
                self._low, self._high, self._of = 0.0, end, self._book.log_id
        self.update()

    _of = ""
    in_hand = ""  # channel of the lane that was pressed

    # what is shown

    def lanes(self) -> list[Lane]:
        """Channels that are there, their shares of the height together 1."""
        made = self._book.comparison
        if made is None:
            return []
        have = [Lane(name, colour, share) for name, colour, share in LANES if measured_of(made.replay, name) is not None]
        whole = sum(one.share for one in have) or 1.0
        return [Lane(one.channel, one.colour, one.share / whole) for one in have]

    @property
    def row(self) -> int | None:
        """Where the moment is on the log's clock, if it is on it."""
        made, ridden = self._book.comparison, self._session.moment.ridden if self._session.docs else None
        if made is None or ridden is None or ridden.ride is not made.replay.ride:
            return None
        t = float(made.replay.ride.run.trace[ridden.row, Col.TIME])
        return int(np.clip(np.searchsorted(made.replay.seen.time, t), 0, made.replay.seen.time.size - 1))

    def spoken(self) -> str:
        """Its values as text."""
        made = self._book.comparison
        if made is None:
            return self._book.problem or self.words()
        return "; ".join(f"{one.channel}: {self._reading(one)}" for one in self.lanes())

    def words(self) -> str:
        """What stands there instead."""
        book = self._book
        if book.problem:
            return book.problem
        if not self._session.docs:
            return "No vehicle is open."
        if book.log is None:
            return (
                "No log yet. Drop a table of any layout or a GPX track on the window, or press Bring in; runs by the stopwatch are typed."
            )
        if not book.log.member:
            return "\n".join(self._typed()) or "This log has no table."
        return "The log is ridden again ..." if book.running else "The log is not read yet."

    def _typed(self) -> list[str]:
        log = self._book.log
        assert log is not None
        say = self._session.say
        if log.energy_wh is not None:
            return [charge_words(self._session.design, log, say)]
        return [f"{say(one.start, 'speed')} to {say(one.end, 'speed')} in {say(one.seconds, 'time')} {one.way}" for one in log.runs]

    # painting

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.axes = self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> list[Axes]:
        """Draw into any rectangle; the axes of the lanes."""
        theme, made = THEMES[self._session.theme_name], self._book.comparison
        if made is None:
            area = rect.adjusted(LEFT, TITLE, -RIGHT, -BOTTOM)
            p.fillRect(area, theme.panel)
            say_instead(p, theme, area, self.words())
            self._framed(p, theme, rect)
            return []
        p.setOpacity(0.55 if self._book.stale else 1.0)
        lanes, axes, y = self.lanes(), [], rect.top() + 2
        room = rect.height() - BOTTOM - STRETCH - LEFT_OVER - GAP
        for k, lane in enumerate(lanes):
            height = room * lane.share
            plot = QRectF(rect.left() + LEFT, y + TITLE, rect.width() - LEFT - RIGHT, height - TITLE - GAP)
            axes.append(self._lane(p, theme, plot, lane, made.replay, k == 0))
            y += height
        strip = QRectF(rect.left() + LEFT, y + TITLE, rect.width() - LEFT - RIGHT, LEFT_OVER - TITLE - GAP)
        self._left_over(p, theme, strip, self._in_hand(lanes), made.replay)
        y += LEFT_OVER
        bar = QRectF(rect.left() + LEFT, y, rect.width() - LEFT - RIGHT, STRETCH)
        self._bar = bar
        self._stretches(p, theme, bar)
        self._foot(p, theme, QRectF(bar.left(), bar.bottom(), bar.width(), BOTTOM), axes)
        row = self.row
        if row is not None and axes:
            x = axes[0].x(float(made.replay.seen.time[row]) / self._unit()[1])
            straight(p, x, axes[0].rect.top(), x, bar.bottom(), pen(theme.ink, 1.0, (3.0, 3.0)))
        p.setOpacity(1.0)
        self._framed(p, theme, rect)
        return axes

    def _framed(self, p: QPainter, theme: Theme, rect: QRectF) -> None:
        if self.hasFocus():
            frame(p, theme, QRectF(rect.left() + 1, rect.top() + 1, rect.width() - 2, rect.height() - 2))

    def _unit(self) -> tuple[str, float]:
        span = self._high - self._low
        return ("h", 3600.0) if span > 7200 else ("min", 60.0) if span > 240 else ("s", 1.0)

    def _lane(self, p: QPainter, theme: Theme, plot: QRectF, lane: Lane, made: Any, first: bool) -> Axes:
        channel = CHANNELS[lane.channel]
        to = lambda values: self._shown(values, channel.dimension)
        t, unit = made.seen.time, self._unit()[1]
        inside = (t >= self._low - 1e-9) & (t <= self._high + 1e-9)
        columns = max(int(plot.width()), 50)
        measured = measured_of(made, lane.channel)
        assert measured is not None
        mt, mv = thinned(t[inside], to(measured[inside]), columns)
        guess = made.predicted.get(lane.channel)
        pt, pv = thinned(t[inside], to(guess[inside]), columns) if guess is not None else (mt[:0], mv[:0])
        low, high = self._span(mv, pv, lane.channel)
        axes = Axes(plot, self._low / unit, max(self._high, self._low + 1e-6) / unit, low, high)
        p.fillRect(plot, theme.panel)
        paint_grid(
            p,
            axes,
            theme,
            x_ticks=ticks(axes.x_low, axes.x_high, 8),
            y_ticks=ticks(low, high, max(min(int(plot.height() / 20.0), 4), 1)),
            size=11,
            x_numbers=False,
        )
        p.setClipRect(plot.adjusted(0, -1, 0, 1))
        if first and np.ptp(made.seen.grade) > 1e-4:
            self._ground(p, theme, axes, made, inside)
        colour: QColor = getattr(theme, lane.colour) if lane.colour != "ink" else theme.mechanical
        if lane.channel in made.low:
            self._band(
                p,
                axes,
                with_alpha(colour, 0.16),
                t[inside],
                to(made.low[lane.channel][inside]),
                to(made.high[lane.channel][inside]),
                columns,
            )
        following = lane.channel == "speed" and made.way == "speed"
        if guess is not None and not following:
            curve(p, axes.pixels(pt / unit, pv), pen(colour, 2.0), whole=True)
        if lane.channel == "speed":
            self._tracks(p, theme, axes, columns)
        self._with_gaps(p, axes, mt / unit, mv, pen(theme.ink, 1.1))
        p.setClipping(False)
        p.setPen(theme.ink)
        put_text(p, plot.left(), plot.top() - 4, channel.words.capitalize(), font(12, 600))
        p.setPen(theme.soft)
        at = plot.left() + 6 + text_width(channel.words.capitalize(), font(12, 600))
        put_text(p, at, plot.top() - 4, unit_of(channel.dimension, self._session.unit_set).text, font(12))
        self._legend(p, theme, plot, lane, colour, following, lane.channel in made.low)
        return axes

    def _tracks(self, p: QPainter, theme: Theme, axes: Axes, columns: int) -> None:
        """The speed of tracks that ran along, where they lie now or under the hand."""
        moved = self._dragged[1] if self._dragged is not None else 0.0
        for track in self._book.tracks:
            if "speed" not in track:
                continue
            clock = track.time + track.log.offset + moved
            inside = (clock >= self._low) & (clock <= self._high)
            if inside.sum() < 2:
                continue
            t, v = thinned(clock[inside], self._shown(track.clean("speed")[inside], "speed"), columns)
            self._with_gaps(p, axes, t / self._unit()[1], v, pen(theme.heat, 1.4, (3.0, 2.0)))

    def _shown(self, values: Floats, dimension: str) -> Floats:
        unit_set = self._session.unit_set
        zero = shown(0.0, dimension, unit_set)
        return np.asarray(values * (shown(1.0, dimension, unit_set) - zero) + zero)

    def _span(self, measured: Floats, guess: Floats, channel: str) -> tuple[float, float]:
        both = np.concatenate([measured[np.isfinite(measured)], guess[np.isfinite(guess)]])
        if not both.size:
            return 0.0, 1.0
        low, high = float(np.quantile(both, 0.0005)), float(np.quantile(both, 0.9995))
        low = 0.0 if channel == "speed" else min(low, 0.0) if channel.endswith("_a") else low
        if high - low < 1e-6:
            high = low + 1.0
        step = round_step((high - low) * 1.06, 4) / 2
        return math.floor(low / step + 1e-9) * step, math.ceil(high * 1.02 / step - 1e-9) * step

    def _band(self, p: QPainter, axes: Axes, colour: QColor, t: Floats, low: Floats, high: Floats, columns: int) -> None:
        step = max(t.size // columns, 1)
        edges = np.arange(0, t.size, step)
        lows, highs = np.minimum.reduceat(low, edges), np.maximum.reduceat(high, edges)
        top, base = axes.pixels(t[edges] / self._unit()[1], highs), axes.pixels(t[edges] / self._unit()[1], lows)
        fill(p, np.vstack([top, base[::-1]]), colour)

    def _with_gaps(self, p: QPainter, axes: Axes, x: Floats, y: Floats, with_pen: Any) -> None:
        good = np.isfinite(y)
        edges = np.flatnonzero(np.diff(np.concatenate([[0], good.astype(int), [0]])))
        for begin, end in zip(edges[::2], edges[1::2], strict=True):
            if end - begin > 1:
                curve(p, axes.pixels(x[begin:end], y[begin:end]), with_pen, whole=True)

    def _ground(self, p: QPainter, theme: Theme, axes: Axes, made: Any, inside: Any) -> None:
        seen = made.seen
        sine = seen.grade / np.sqrt(1.0 + seen.grade**2)
        up = np.concatenate([[0.0], np.cumsum(sine[1:] * np.diff(seen.distance))])
        span = float(np.ptp(up))
        if span < 0.3:
            return
        share = (up - up.min()) / span * 0.6 + 0.05
        t = seen.time[inside][:: max(int(inside.sum() // 800), 1)]
        y = np.interp(t, seen.time, share) * (axes.y_high - axes.y_low) + axes.y_low
        points = axes.pixels(t / self._unit()[1], y)
        floor = np.array([[points[-1, 0], axes.rect.bottom()], [points[0, 0], axes.rect.bottom()]])
        fill(p, np.vstack([points, floor]), with_alpha(theme.mechanical, 0.14))
        p.setPen(theme.mechanical)
        words = f"ground by {seen.grades_from}, {self._session.say(round(span, 1), 'height')} from lowest to highest"
        put_right(p, axes.rect.right() - 6, axes.rect.bottom() - 5, words, font(11))

    def _reading(self, lane: Lane) -> str:
        """Measured and predicted at the moment; without one how far off on average."""
        made, say = self._book.comparison, self._session.say
        dimension, row = CHANNELS[lane.channel].dimension, self.row
        measured = measured_of(made.replay, lane.channel)
        guess = made.replay.predicted.get(lane.channel)
        if row is not None and measured is not None:
            words = f"measured {say(float(measured[row]), dimension)}" if math.isfinite(measured[row]) else "nothing measured"
            if guess is not None and not (lane.channel == "speed" and made.replay.way == "speed"):
                words += f", predicted {say(float(guess[row]), dimension)}"
            return words
        one = next((one for one in made.channels if one.name == lane.channel), None)
        if one is None:
            return "followed as it was measured"
        inside = f", {one.inside_band:.0%} of the time in the band" if math.isfinite(one.inside_band) else ""
        sign = "more" if one.bias > 0.0 else "less"
        unit = unit_of(dimension, self._session.unit_set)
        return f"on average {abs(one.bias) * unit.per_si:.3g} {unit.text} {sign} than predicted{inside}"

    def _legend(self, p: QPainter, theme: Theme, plot: QRectF, lane: Lane, colour: QColor, following: bool, band: bool) -> None:
        x, y = plot.right(), plot.top() - 4
        words = self._reading(lane)
        p.setPen(theme.soft)
        room = plot.width() - 150
        put_right(p, x, y, elided(words, font(12), room), font(12))

    def _in_hand(self, lanes: list[Lane]) -> Lane:
        """The lane whose left-over is shown: the one that was pressed, else pack amps, never a speed that was followed."""
        follows = self._book.comparison.replay.way == "speed"
        able = [one for one in lanes if not (one.channel == "speed" and follows)] or lanes
        wanted = self.in_hand or ("pack_a" if any(one.channel == "pack_a" for one in able) else able[0].channel)
        return next((one for one in able if one.channel == wanted), able[0])

    def _left_over(self, p: QPainter, theme: Theme, area: QRectF, lane: Lane, made: Any) -> None:
        """Measured less predicted of the lane in hand, about a line of zero."""
        words = f"Left over: {CHANNELS[lane.channel].words}, measured less predicted"
        p.setPen(theme.ink)
        put_text(p, area.left(), area.top() - 4, words, font(12, 600))
        p.setPen(theme.soft)
        hint = "press another lane for its own"
        if text_width(words, font(12, 600)) + text_width(hint, font(11)) + 12 < area.width():
            put_right(p, area.right(), area.top() - 4, hint, font(11))
        off = residual_of(made, lane.channel)
        if off is None:
            return
        p.fillRect(area, with_alpha(theme.rule, 0.25))
        t = made.seen.time
        inside = (t >= self._low) & (t <= self._high)
        some = off[inside & np.isfinite(off)]
        if not some.size:
            return
        reach = max(float(np.quantile(np.abs(some), 0.99)), 1e-9)
        axes = Axes(area, self._low / self._unit()[1], self._high / self._unit()[1], -reach, reach)
        straight(p, area.left(), area.center().y(), area.right(), area.center().y(), pen(theme.soft, 0.8))
        width = max(int(1.0 / made.seen.step_s), 1)
        mean = np.convolve(np.nan_to_num(off), np.full(width, 1.0 / width), mode="same")
        x, y = thinned(t[inside], mean[inside], max(int(area.width() / 2), 50))
        p.setClipRect(area)
        curve(p, axes.pixels(x / self._unit()[1], y), pen(theme.tight, 1.1), whole=True)
        p.setClipping(False)
        p.setPen(theme.soft)
        dimension = CHANNELS[lane.channel].dimension
        unit = unit_of(dimension, self._session.unit_set)
        put_right(p, area.left() - 4, area.center().y() + 4, f"±{reach * unit.per_si:.2g}", font(11))

    def _stretches(self, p: QPainter, theme: Theme, bar: QRectF) -> None:
        """What is learnt from, and what is held out."""
        p.fillRect(bar, theme.panel)
        p.setPen(theme.ink)
        put_right(p, bar.left() - 6, bar.center().y() + 4, "learn", font(12, 600))
        log = self._book.log
        end = float(self._book.comparison.replay.seen.time[-1])
        spans = [(one.begin, one.end) for one in log.learn] if log is not None and log.learn else [(0.0, end)]
        if self._pending is not None:
            spans = [self._pending]
        held = 0.2 * sum(b - a for a, b in spans)
        for k, (a, b) in enumerate(spans):
            cut = b - held if k == len(spans) - 1 else b
            for x0, x1, colour, words in ((a, max(cut, a), theme.electrical, "learnt from"), (max(cut, a), b, theme.soft, "held out")):
                left, right = self._pixel(bar, x0), self._pixel(bar, x1)
                left, right = max(left, bar.left()), min(right, bar.right())
                if right <= left:
                    continue
                p.fillRect(QRectF(left, bar.top() + 3, right - left, bar.height() - 6), with_alpha(colour, 0.28))
                if right - left > text_width(words, font(11)) + 8:
                    p.setPen(theme.ink)
                    put_text(p, left + 5, bar.center().y() + 4, words, font(11))

    def _pixel(self, bar: QRectF, seconds: float) -> float:
        return bar.left() + (seconds - self._low) / max(self._high - self._low, 1e-9) * bar.width()

    def _foot(self, p: QPainter, theme: Theme, rect: QRectF, axes: list[Axes]) -> None:
        if not axes:
            return
        p.setPen(theme.soft)
        marks = ticks(axes[0].x_low, axes[0].x_high, 8)
        step = marks[1] - marks[0] if len(marks) > 1 else 1.0
        for value in marks:
            text = tick_text(value, step)
            put_text(p, axes[0].x(value) - text_width(text, font(11)) / 2, rect.top() + 12, text, font(11))
        put_right(p, rect.right(), rect.top() + 26, self._unit()[0], font(11))
        straight(p, rect.left(), rect.top() + 21, rect.left() + 18, rect.top() + 21, pen(theme.ink, 1.3))
        put_text(p, rect.left() + 23, rect.top() + 25, "measured", font(11))
        at = rect.left() + 29 + text_width("measured", font(11))
        straight(p, at, rect.top() + 21, at + 18, rect.top() + 21, pen(theme.electrical, 2.0))
        put_text(p, at + 23, rect.top() + 25, "predicted", font(11))
        at += 29 + text_width("predicted", font(11))
        if self._book.comparison.replay.low:
            p.fillRect(QRectF(at, rect.top() + 15, 18, 11), with_alpha(theme.electrical, 0.2))
            put_text(p, at + 23, rect.top() + 25, "band: four times of six inside", font(11))
            at += 29 + text_width("band: four times of six inside", font(11))
        words = "Shift and drag: learn from a stretch; wheel: nearer"
        if text_width(words, font(11)) < rect.right() - at - 40:
            put_text(p, at + 4, rect.top() + 25, words, font(11))

    # the hand

    def _seconds(self, x: float) -> float:
        bar = self._bar
        return self._low + (x - bar.left()) / max(bar.width(), 1.0) * (self._high - self._low)

    def seek(self, seconds: float) -> None:
        """The moment at a time of the log."""
        made = self._book.present
        if made is None:
            return
        ride = made.replay.ride
        t = ride.run.column(Col.TIME)
        self._session.scrub(ride, int(np.clip(np.searchsorted(t, seconds), 0, len(t) - 1)), self.read_at(seconds))

    def read_at(self, seconds: float) -> dict[str, float]:
        """What the log read then, SI, with the thrust that its motor amps mean."""
        made = self._book.comparison
        seen, resolved = made.replay.seen, made.replay.resolved
        k = int(np.clip(np.searchsorted(seen.time, seconds), 0, seen.time.size - 1))
        read = {name: float(values[k]) for name, values in seen.columns.items() if math.isfinite(values[k])}
        if "motor_a" in read and "speed" in read and resolved.load.kinematic:
            train, load = resolved.train, resolved.load
            shaft = read["speed"] * float(train.reduction.ratio) * float(load.shaft_speed_rad_s(1.0, 0.0))
            dc = read["motor_a"] * float(train.motor.dc_per_motor_amp)
            read["thrust"] = float(load.thrust_n(read["speed"], train.output_torque_nm(dc, shaft)))
        return read

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is not Qt.MouseButton.LeftButton or not self.axes:
            return
        x = event.position().x()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier or self._bar.contains(event.position()):
            self._begun = self._seconds(x)
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self._dragged = (x, 0.0)
        else:
            for lane, axes in zip(self.lanes(), self.axes, strict=False):
                if axes.rect.top() - TITLE <= event.position().y() <= axes.rect.bottom():
                    self.in_hand = lane.channel
            self.seek(self._seconds(x))
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not event.buttons() & Qt.MouseButton.LeftButton or not self.axes:
            return
        x = event.position().x()
        if self._begun is not None:
            a, b = sorted((self._begun, self._seconds(x)))
            self._pending = (max(a, 0.0), b)
            self.update()
        elif self._dragged is not None:
            self._dragged = (self._dragged[0], self._seconds(x) - self._seconds(self._dragged[0]))
            self.update()
        else:
            self.seek(self._seconds(x))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._begun is not None and self._pending is not None:
            end = float(self._book.comparison.replay.seen.time[-1])
            a, b = self._pending[0], min(self._pending[1], end)
            if b - a > 5.0:
                self.stretch_chosen.emit(a, b)
        elif self._dragged is not None and abs(self._dragged[1]) > 0.05:
            self.offset_chosen.emit(self._dragged[1])
        self._begun = self._pending = self._dragged = None
        self.update()

    def wheelEvent(self, event: Any) -> None:
        made = self._book.comparison
        if made is None or not self.axes:
            return
        self.zoom(0.8 if event.angleDelta().y() > 0 else 1.25, self._seconds(event.position().x()))

    def zoom(self, factor: float, about: float) -> None:
        """Nearer (below 1) or further, about a time."""
        end = float(self._book.comparison.replay.seen.time[-1])
        low, high = about - (about - self._low) * factor, about + (self._high - about) * factor
        if high - low < 5.0:
            return
        self._low, self._high = max(low, 0.0), min(high, end)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, made = Qt.Key(event.key()), self._book.present
        if made is None:
            super().keyPressEvent(event)
            return
        seen = made.replay.seen
        now = float(seen.time[self.row]) if self.row is not None else 0.0
        far = (self._high - self._low) / (12.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 120.0)
        if key in (Qt.Key.Key_Right, Qt.Key.Key_Left):
            self.seek(float(np.clip(now + (far if key == Qt.Key.Key_Right else -far), 0.0, seen.time[-1])))
        elif key == Qt.Key.Key_Home:
            self.seek(0.0)
        elif key == Qt.Key.Key_End:
            self.seek(float(seen.time[-1]))
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self.zoom(0.7 if key == Qt.Key.Key_Plus else 1.4, now)
        elif key == Qt.Key.Key_0:
            self._low, self._high = 0.0, float(seen.time[-1])
            self.update()
        else:
            super().keyPressEvent(event)
