"""The picture of a ride: profile and speed, amps, temperatures, volts and what held it back, over one axis; scrubbed and played."""

from __future__ import annotations

import functools
import itertools
import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.axes import Axes, paint_grid, round_step, tick_text, ticks
from wattagon.desk.chart.ground import Ground
from wattagon.desk.chart.ink import Labels, curve, fill, pen, put_right, put_text, straight, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.ride.book import RideBook
from wattagon.desk.ride.underlay import paint_gears, paint_profile, paint_stream
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown, unit_of
from wattagon.physics.ride.names import Col
from wattagon.physics.ride.plant import NEVER, RIDE_LIMITS
from wattagon.record import record
from wattagon.study.ride.around import BY_TIME, BY_WAY
from wattagon.study.ride.study import Ride
from wattagon.study.ride.words import LETTERS, distance_text, limit_words

LEFT, RIGHT, TITLE, GAP, BOTTOM, BAND, GEARS = 46.0, 10.0, 18.0, 6.0, 30.0, 20.0, 22.0
FADE_POINTS = 500
PLAY_MS, PLAY_S = 33, 14.0  # a ride plays in that many seconds, short ones in true time
HEAT_LIMITS = {"thermal", "controller_heat", "boost"}
ELECTRIC_LIMITS = {
    "motor_current",
    "battery_current",
    "pack_current",
    "low_voltage",
    "duty",
    "erpm",
    "motor_regen",
    "battery_regen",
    "bus_overvoltage",
    "resistor",
}


@record(frozen=True, slots=True)
class Line:
    """One curve of a lane, in SI."""

    words: str
    values: NDArray[np.float64]
    colour: str  # a name in the theme
    width: float
    dash: tuple[float, ...] = ()
    limit: float = math.inf
    column: Col | None = None  # of the trace, whose band is drawn
    per: float = 1.0  # times that column


@record(frozen=True, slots=True)
class Lane:
    """Curves that share an axis."""

    title: str
    dimension: str
    lines: tuple[Line, ...]
    share: float  # of the height
    from_zero: bool = True


def lanes_of(ride: Ride) -> list[Lane]:
    """What is drawn of a ride."""
    run, train = ride.run, ride.resolved.train
    dc = train.motor.dc_per_motor_amp
    count = float(train.count)
    each = " each" if count > 1 else ""
    pack_most = min(count * float(train.controller.battery_current_a), float(train.pack.burst_a))
    plant = run.plant
    hot = [
        Line("winding", run.column(Col.WINDING), "heat", 2.2, (), plant.winding_limit, Col.WINDING),
        Line("case", run.column(Col.CASE), "heat", 1.2, (6.0, 2.0)),
    ]
    hot += [
        Line("controller", run.column(Col.CONTROLLER), "electrical", 1.6, (), plant.controller_taper_start, Col.CONTROLLER),
        Line("pack", run.column(Col.PACK_T), "electrical", 1.2, (2.0, 2.0), plant.pack_limit),
    ]
    if plant.resistor_ohm > 0:
        hot.append(Line("brake resistor", run.column(Col.RESISTOR_T), "ink", 1.2, (3.0, 2.0), plant.resistor_limit))
    volts = Line("", run.column(Col.BUS_V), "electrical", 1.8, (), plant.cutback_start, Col.BUS_V)
    return [
        Lane("Speed", "speed", _speeds(ride), 0.27),
        Lane(
            "Amps",
            "current",
            (
                Line("allowed", run.column(Col.CEILING_A) / dc, "soft", 1.0, (4.0, 3.0)),
                Line(f"motor{each}", run.column(Col.DC_A) / dc, "electrical", 2.0, (), math.inf, Col.DC_A, 1.0 / dc),
                Line("pack", run.column(Col.PACK_A), "mechanical", 1.6, (), pack_most, Col.PACK_A),
            ),
            0.27,
            False,
        ),
        Lane("Temperature", "temperature", tuple(hot), 0.26, False),
        Lane("Pack volts", "voltage", (volts,), 0.20, False),
    ]


def _speeds(ride: Ride) -> tuple[Line, ...]:
    """Of a boat in a current both: through the water and over ground."""
    speed, stream = ride.run.column(Col.SPEED), ride.streams_m_s()
    if not ride.floats or not np.any(np.abs(stream) > 0.02):
        return (Line("", speed, "ink", 2.2, (), math.inf, Col.SPEED),)
    return Line("over ground", speed - stream, "mechanical", 1.8, (5.0, 2.0)), Line("through the water", speed, "ink", 2.2)


class RideLanes(QWidget):
    """Paints the rides of a book; press or drag sets the moment, space plays, arrows step."""

    def __init__(self, session: Session, book: RideBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.axes: list[Axes] = []
        self._ground = Ground(12)
        self._playing = QTimer(self, interval=PLAY_MS)
        self._playing.timeout.connect(self.tick)
        self.by_time = False
        self.setObjectName("ride-lanes")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(360, 260)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAccessibleName("The ride over its course")
        book.changed.connect(self._renewed)
        session.moment_changed.connect(self._refresh)
        session.looks_changed.connect(self._refresh)

    def _refresh(self) -> None:
        self.update()

    def _renewed(self) -> None:
        ride = self._book.current
        if ride is None:
            self._playing.stop()
        self.setAccessibleDescription("" if ride is None else f"{ride.name}, {self._session.say(ride.distance_m, 'distance')}")
        self.update()

    # what is shown

    @property
    def row(self) -> int | None:
        """The row of the present ride where the moment is, if it is on it."""
        ridden = self._session.moment.ridden if self._session.docs else None
        return ridden.row if ridden is not None and ridden.ride is self._book.current else None

    def show_by_time(self, on: bool) -> None:
        """Time or distance along the axis."""
        self.by_time = on
        self.update()

    def along(self, ride: Ride) -> NDArray[np.float64]:
        """Positions on the axis in shown units."""
        if self.time_axis(ride):
            return ride.run.column(Col.TIME) / self._time_unit()[1]
        return np.asarray(shown(1.0, "distance", self._session.unit_set)) * ride.run.column(Col.DISTANCE)

    def time_axis(self, ride: Ride) -> bool:
        """Time where it was chosen, and on runs that hardly move."""
        return self.by_time or not ride.legs

    def _time_unit(self) -> tuple[str, float]:
        rides = self.rides()
        longest = max((ride.time_s for _, ride, _ in rides), default=0.0)
        return ("h", 3600.0) if longest > 7200 else ("min", 60.0) if longest > 240 else ("s", 1.0)

    def rides(self) -> list[tuple[str, Ride, bool]]:
        """(name, ride, is the present one), the present one last so that it lies on top."""
        made = [(kept.name, kept.ride, False) for kept in self._book.kept]
        if self._book.before is not None:
            made.insert(0, ("before", self._book.before, False))
        if self._book.current is not None:
            made.append(("", self._book.current, True))
        return made

    # painting

    def spoken(self) -> str:
        """Its values as text."""
        ride = self._book.current
        if ride is None:
            return self._book.problem
        row = self.row
        told = [f"{lane.title}: {', '.join(self._reading(line, lane, row) for line in lane.lines)}" for lane in lanes_of(ride)]
        return "; ".join((ride.name, *told))

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.axes = self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, painter: QPainter, rect: QRectF) -> list[Axes]:
        """Draw into any rectangle; the axes of the lanes."""
        theme, book = THEMES[self._session.theme_name], self._book
        rides = self.rides()
        if not rides or book.current is None:
            painter.fillRect(rect.adjusted(LEFT, TITLE, -RIGHT, -BOTTOM), theme.panel)
            painter.setFont(font(14))
            painter.setPen(theme.soft)
            words = book.problem or (
                "Riding ... The first run on a machine compiles the simulator, which takes a quarter of a minute."
                if book.running
                else "Choose a run above."
            )
            painter.drawText(rect.adjusted(LEFT + 30, 0, -RIGHT - 30, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            return []
        ride = book.current
        x_high = max(float(self.along(r)[-1]) for _, r, _ in rides)
        x_high = x_high if x_high > 0 else 1.0
        lanes = [lanes_of(r) for _, r, _ in rides]
        geared = bool(ride.run.column(Col.GEAR).any())
        room = rect.height() - BOTTOM - BAND - GAP - 2 - (GEARS if geared else 0.0)
        made, y = [], rect.top() + 2
        painter.setOpacity(0.55 if book.stale else 1.0)
        for k, lane in enumerate(lanes[-1]):
            height = room * lane.share
            plot = QRectF(rect.left() + LEFT, y + TITLE, rect.width() - LEFT - RIGHT, height - TITLE - GAP)
            low, high = self._span([own[k] for own in lanes])
            axes = Axes(plot, 0.0, x_high, low, high)
            made.append(axes)
            around = QRectF(math.floor(rect.left()), math.floor(y), math.ceil(rect.width()), math.ceil(height + 1))
            key = (lane.title, axes.key, theme.name, self._session.unit_set)
            self._ground.paint(painter, around, key, functools.partial(self._frame, theme=theme, axes=axes, lane=lane))
            painter.setClipRect(plot.adjusted(0, -1, 0, 1))
            if k == 0:
                under = paint_stream if ride.floats else paint_profile
                under(painter, theme, axes, ride, self.along(ride), self.row, self._session.say)
            self._fade(painter, theme, axes, ride, lane)
            for (_, other, now), own in zip(rides, lanes, strict=True):
                self._lines(painter, theme, axes, self.along(other), own[k], now)
            painter.setClipping(False)
            self._readings(painter, theme, axes, lane)
            y += height
        if geared:
            area = QRectF(rect.left() + LEFT, y, rect.width() - LEFT - RIGHT, GEARS)
            paint_gears(painter, theme, area, ride, area.left() + self.along(ride) / x_high * area.width())
            y += GEARS
        self._band(painter, theme, QRectF(rect.left() + LEFT, y, rect.width() - LEFT - RIGHT, BAND), ride, x_high)
        self._foot(painter, theme, QRectF(rect.left() + LEFT, y + BAND, rect.width() - LEFT - RIGHT, BOTTOM), made[0], ride)
        self._cursor(painter, theme, made, ride, y + BAND)
        painter.setOpacity(1.0)
        if self.hasFocus():
            painter.setPen(pen(theme.electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(rect.left() + LEFT - 2, rect.top() + 2, rect.width() - LEFT - RIGHT + 4, y + BAND - rect.top()))
        return made

    def _span(self, lanes: list[Lane]) -> tuple[float, float]:
        """The axis of a lane over all rides, in shown units; a limit is in sight once it is near."""
        unit_set, first = self._session.unit_set, lanes[0]
        lows, highs = [], []
        for lane in lanes:
            for line in lane.lines:
                if line.words == "allowed":
                    continue
                lows.append(float(line.values.min()))
                highs.append(float(line.values.max()))
                if lane is lanes[-1] and line.column is not None and (found := self._book.around) is not None and not self._book.stale:
                    lows.append(float(np.nanmin(line.per * found.low[BY_TIME, line.column])))
                    highs.append(float(np.nanmax(line.per * found.high[BY_TIME, line.column])))
        low, high = min(lows), max(highs)
        reach = max(high - min(low, 0.0 if first.from_zero else low), 1e-6)
        for lane in lanes:
            for line in lane.lines:
                if line.limit < NEVER / 10 and low - 0.6 * reach < line.limit < high + 0.9 * reach:
                    low, high = min(low, line.limit), max(high, line.limit)
        if first.dimension == "current":
            low = min(low, 0.0)
            allowed = max(float(line.values.max()) for lane in lanes for line in lane.lines if line.words == "allowed")
            if allowed < 2.0 * high:
                high = max(high, allowed)
        low, high = (0.0 if first.from_zero else shown(low, first.dimension, unit_set)), shown(high, first.dimension, unit_set)
        if high - low < 1e-6:
            high = low + 1.0
        step = round_step((high - low) * 1.06, 4) / 2
        return math.floor(low / step + 1e-9) * step if low else 0.0, math.ceil(high * 1.02 / step - 1e-9) * step

    def _frame(self, painter: QPainter, *, theme: Theme, axes: Axes, lane: Lane) -> None:
        painter.fillRect(axes.rect, theme.panel)
        y_ticks = ticks(axes.y_low, axes.y_high, 3)
        paint_grid(painter, axes, theme, x_ticks=ticks(axes.x_low, axes.x_high, 8), y_ticks=y_ticks, size=11, x_numbers=False)
        painter.setPen(theme.ink)
        put_text(painter, axes.rect.left(), axes.rect.top() - 4, lane.title, font(12, 600))
        painter.setPen(theme.soft)
        put_text(
            painter,
            axes.rect.left() + 6 + text_width(lane.title, font(12, 600)),
            axes.rect.top() - 4,
            unit_of(lane.dimension, self._session.unit_set).text,
            font(12),
        )

    def _fade(self, painter: QPainter, theme: Theme, axes: Axes, ride: Ride, lane: Lane) -> None:
        """Between what the curves may lie, four times of six, by how well the inputs are known."""
        found = self._book.around
        if found is None or self._book.stale:
            return
        axis, x = BY_TIME if self.time_axis(ride) else BY_WAY, self.along(ride)
        scale = shown(1.0, lane.dimension, self._session.unit_set) - shown(0.0, lane.dimension, self._session.unit_set)
        zero = shown(0.0, lane.dimension, self._session.unit_set)
        for line in lane.lines:
            if line.column is None:
                continue
            low, high = (scale * line.per * ends[axis, line.column] + zero for ends in (found.low, found.high))
            good = np.isfinite(low) & np.isfinite(high)
            if good.sum() < 2:
                continue
            every = np.flatnonzero(good)[:: max(int(good.sum() // FADE_POINTS), 1)]
            top, base = axes.pixels(x[every], high[every]), axes.pixels(x[every], low[every])
            fill(painter, np.vstack([top, base[::-1]]), with_alpha(getattr(theme, line.colour), 0.16))

    def _lines(self, painter: QPainter, theme: Theme, axes: Axes, x: NDArray[np.float64], lane: Lane, now: bool) -> None:
        unit_set = self._session.unit_set
        for line in lane.lines:
            if not now and line.words in ("allowed", "case", "pack", "brake resistor"):
                continue
            colour: QColor = getattr(theme, line.colour)
            values = np.asarray(shown(1.0, lane.dimension, unit_set) - shown(0.0, lane.dimension, unit_set)) * line.values + shown(
                0.0, lane.dimension, unit_set
            )
            points = axes.pixels(x, values)
            curve(
                painter,
                points,
                pen(colour, line.width, line.dash) if now else pen(with_alpha(colour, 0.55), 1.2, (2.0, 2.5)),
                whole=True,
            )
            limit = shown(line.limit, lane.dimension, unit_set)
            if now and line.limit < NEVER / 10 and axes.y_low < limit < axes.y_high:
                y = axes.y(limit)
                straight(painter, axes.rect.left(), y, axes.rect.right(), y, pen(theme.tight, 1.0, (5.0, 3.0)))
                labels = Labels(painter, theme, axes.rect)
                words = {"voltage": "cutback starts", "current": "pack limit"}.get(
                    lane.dimension, f"{line.words} limit" if line.words != "controller" else "controller cuts back"
                )
                labels.text([QPointF(axes.rect.left() + 4, y - 16), QPointF(axes.rect.left() + 4, y + 1)], words, theme.tight, font(11))

    def _readings(self, painter: QPainter, theme: Theme, axes: Axes, lane: Lane) -> None:
        """Above the lane on the right: each curve by a sample and its name, with its value at the moment or the most it came to."""
        row, ride = self.row, self._book.current
        x, y = axes.rect.right(), axes.rect.top() - 4
        if ride is None:
            return
        least = axes.rect.left() + 34 + text_width(lane.title, font(12, 600))  # the title stands there
        named = [(line, self._reading(line, lane, row)) for line in lane.lines]
        extra = 28 if len(lane.lines) > 1 else 4
        for spare in ("case", "pack", "allowed"):  # where there is no room for all, the least telling go
            if sum(text_width(words, font(12)) + extra for _, words in named) <= x - least:
                break
            named = [(line, words) for line, words in named if line.words != spare]
        for line, words in reversed(named):
            painter.setPen(getattr(theme, line.colour))
            put_right(painter, x, y, words, font(12))
            x -= text_width(words, font(12)) + 4
            if extra > 4:
                straight(painter, x - 16, y - 4, x, y - 4, pen(getattr(theme, line.colour), line.width, line.dash))
                x -= 28
        if row is None and x - 52 > least:
            painter.setPen(theme.soft)
            put_right(painter, x - 2, y, "lowest" if lane.dimension == "voltage" else "at most", font(12))
            x -= 48
        others = [name for name, _, now in self.rides() if not now]
        if lane.title == "Speed" and others:
            painter.setPen(theme.soft)
            put_right(painter, x - 14, y, f"dotted: {', '.join(others)}", font(12))

    def _reading(self, line: Line, lane: Lane, row: int | None) -> str:
        """A curve's name with its value at a row, or the most it came to (of volts the least)."""
        if line.words == "allowed":
            return line.words
        if row is None:
            value = line.values.min() if lane.dimension == "voltage" else line.values.max()
            return f"{line.words} {self._session.say(float(value), lane.dimension)}".strip()
        words = f"{line.words} {self._session.say(float(line.values[row]), lane.dimension)}".strip()
        if lane.dimension == "voltage" and self._book.current is not None:
            words += f", {float(self._book.current.run.trace[row, Col.CHARGE]):.0%} left"
        return words

    def _band(self, painter: QPainter, theme: Theme, rect: QRectF, ride: Ride, x_high: float) -> None:
        """What held the ride back: a colour by its kind and a letter, so that neither is needed alone."""
        painter.fillRect(rect, theme.panel)
        painter.setPen(theme.ink)
        put_right(painter, rect.left() - 6, rect.center().y() + 4, "limit", font(12, 600))
        limit = ride.run.column(Col.LIMIT).astype(int)
        x = rect.left() + self.along(ride) / x_high * rect.width()
        edges = np.concatenate([[0], np.flatnonzero(np.diff(limit)) + 1, [limit.size - 1]])
        for start, end in itertools.pairwise(edges):
            which = int(limit[start])
            if which < 0 or end <= start:
                continue
            name = RIDE_LIMITS[which]
            colour = theme.heat if name in HEAT_LIMITS else theme.electrical if name in ELECTRIC_LIMITS else theme.mechanical
            area = QRectF(float(x[start]), rect.top() + 2, max(float(x[end] - x[start]), 1.0), rect.height() - 4)
            painter.fillRect(area, with_alpha(colour, 0.30))
            if area.width() > 11:
                painter.setPen(colour)
                letter = LETTERS[name]
                words = f"{letter}  {limit_words(name)}"
                text = words if text_width(words, font(11, 600)) + 10 < area.width() else letter
                put_text(painter, area.center().x() - text_width(text, font(11, 600)) / 2, rect.center().y() + 4, text, font(11, 600))
        if (limit < 0).all():
            painter.setPen(theme.clear)
            put_text(painter, rect.left() + 8, rect.center().y() + 4, "nothing: the drive gives all that is asked", font(11))

    def _foot(self, painter: QPainter, theme: Theme, rect: QRectF, axes: Axes, ride: Ride) -> None:
        painter.setPen(theme.soft)
        marks = ticks(0.0, axes.x_high, 8)
        step = marks[1] - marks[0] if len(marks) > 1 else 1.0
        for value in marks:
            text = tick_text(value, step)
            put_text(painter, axes.x(value) - text_width(text, font(11)) / 2, rect.top() + 13, text, font(11))
        unit = self._time_unit()[0] if self.time_axis(ride) else unit_of("distance", self._session.unit_set).text
        put_right(painter, rect.right(), rect.top() + 26, unit, font(11))
        row = self.row
        if row is None:
            put_text(
                painter,
                rect.left(),
                rect.top() + 26,
                "Press or drag to ride along: the ribbon and the pull map follow. Space plays.",
                font(11),
            )
        else:
            t = float(ride.run.trace[row, Col.TIME])
            clock = f"{int(t // 60)}:{t % 60:04.1f} min" if t >= 60.0 else f"{t:.1f} s"
            words = f"{clock}, {distance_text(float(ride.run.trace[row, Col.DISTANCE]), self._session.say)}"
            name = int(ride.run.trace[row, Col.LIMIT])
            gear = int(ride.run.trace[row, Col.GEAR])
            words += f", gear {gear}" if gear else ""
            words += f", held back by {limit_words(RIDE_LIMITS[name])}" if name >= 0 else ""
            painter.setPen(theme.ink)
            put_text(painter, rect.left(), rect.top() + 26, words, font(12))

    def _cursor(self, painter: QPainter, theme: Theme, made: list[Axes], ride: Ride, bottom: float) -> None:
        row = self.row
        if row is None:
            return
        x = made[0].x(float(self.along(ride)[row]))
        straight(painter, x, made[0].rect.top(), x, bottom, pen(theme.ink, 1.0, (3.0, 3.0)))

    # scrubbing

    def seek(self, x: float) -> None:
        """The moment at a place on the axis, in pixels."""
        ride = self._book.present
        if ride is None or not self.axes:
            return
        wanted = self.axes[0].value_x(x)
        along = self.along(ride)
        self._session.scrub(ride, int(np.clip(np.searchsorted(along, wanted), 0, len(along) - 1)))

    def step(self, rows: int) -> None:
        """Some rows on or back."""
        ride = self._book.present
        if ride is not None:
            self._session.scrub(ride, int(np.clip((self.row or 0) + rows, 0, len(ride.run.trace) - 1)))

    @property
    def playing(self) -> bool:
        return self._playing.isActive()

    def play(self) -> None:
        """Let the moment run along the ride, faster than life on long ones; again to stop."""
        ride = self._book.present
        if ride is None or self._playing.isActive():
            self._playing.stop()
            return
        if self.row is None or self.row >= len(ride.run.trace) - 1:
            self._session.scrub(ride, 0)
        self._playing.start()

    def tick(self) -> None:
        ride, row = self._book.present, self.row
        if ride is None or row is None or row >= len(ride.run.trace) - 1:
            self._playing.stop()
            return
        seconds = PLAY_MS / 1000.0 * max(ride.time_s / PLAY_S, 1.0)
        t = ride.run.column(Col.TIME)
        self._session.scrub(ride, int(min(max(np.searchsorted(t, t[row] + seconds), row + 1), len(t) - 1)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is Qt.MouseButton.LeftButton:
            self._playing.stop()
            self.seek(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.seek(event.position().x())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        ride = self._book.present
        big = 25 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 4
        if ride is None:
            super().keyPressEvent(event)
        elif key == Qt.Key.Key_Space:
            self.play()
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Left):
            self.step(big if key == Qt.Key.Key_Right else -big)
        elif key == Qt.Key.Key_Home:
            self._session.scrub(ride, 0)
        elif key == Qt.Key.Key_End:
            self._session.scrub(ride, len(ride.run.trace) - 1)
        else:
            super().keyPressEvent(event)
