"""The pull map: force against speed, the edge of the drive and what binds along it, loads, goals and the moment."""

from __future__ import annotations

import functools
import itertools

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.design.tree import GoalKind
from wattagon.desk.bands import weighed
from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.ground import Ground
from wattagon.desk.chart.ink import Labels, curve, fill, flag, pen, put_right, put_text, straight, thinned
from wattagon.desk.chart.painted import painted
from wattagon.desk.drive.water_map import lines_afloat, paint_bubbles, paint_fans, paint_hull
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown, unit_of
from wattagon.physics.envelope import Edge
from wattagon.physics.powertrain import LIMITS
from wattagon.record import record
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.study import DriveStudy, rated_pull
from wattagon.study.drive.words import goal_name, limit_label, shortfall

LEFT, RIGHT, TOP, BOTTOM = 50.0, 50.0, 22.0, 32.0
SNAP_PX = 7.0
KEY_SPEED, KEY_GRADE = 0.5 / 3.6, 0.005  # one arrow key


@record(frozen=True, slots=True)
class Flag:
    """A goal on the map: where, in SI, and what it says."""

    speed_m_s: float
    force_n: float
    result: GoalResult


def flags(study: DriveStudy) -> list[Flag]:
    """Goals that have a place on the map."""
    road, wind = study.resolved.load, study.resolved.headwind_m_s
    made = []
    for result in study.goals:
        goal = result.goal
        if goal.kind is GoalKind.TOP_SPEED:
            made.append(Flag(goal.speed or 0.0, float(road.resistance_n(goal.speed or 0.0, 0.0, wind)), result))
        elif goal.kind is GoalKind.CLIMB:
            made.append(Flag(goal.speed or 0.0, float(road.resistance_n(goal.speed or 0.0, goal.grade or 0.0, wind)), result))
        elif goal.kind in ON_WATER:
            made.append(_on_water(study, result))
        elif goal.kind is GoalKind.START:
            made.append(Flag(0.0, float(road.resistance_n(0.0, goal.grade or 0.0, wind)), result))
    return made


ON_WATER = (GoalKind.CRUISE, GoalKind.UPSTREAM, GoalKind.CROSSING, GoalKind.BOLLARD)


def _on_water(study: DriveStudy, result: GoalResult) -> Flag:
    """A boat's goal at its speed through the water."""
    goal = result.goal
    if goal.kind is GoalKind.BOLLARD:
        return Flag(0.0, goal.pull or 0.0, result)
    over_ground = goal.speed or 0.0
    if goal.kind is GoalKind.CROSSING:
        over_ground = (goal.distance or 0.0) / (goal.time or 1.0)
    speed = max(over_ground + (goal.current or 0.0), 0.0)
    return Flag(speed, float(study.resolved.load.resistance_n(speed, 0.0, study.resolved.headwind_m_s)), result)


class PullMap(QWidget):
    """Paints the session's study; a press or drag on it sets the moment, arrow keys move it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.axes: Axes | None = None
        self._ground = Ground()
        self._lines: dict[int, NDArray[np.float64]] = {}
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("pull-map")
        self.setMinimumSize(360, 200)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAccessibleName("Pull against speed")
        for signal in (
            session.design_changed,
            session.moment_changed,
            session.ghost_changed,
            session.looks_changed,
            session.previews_changed,
        ):
            signal.connect(self._refresh)
        session.schedule.arrived.connect(self._arrived)

    def _refresh(self) -> None:
        self.update()

    def _arrived(self, code: str) -> None:
        if code == "bands":
            self.update()

    # painting

    def spoken(self) -> str:
        """Its values as text."""
        session = self._session
        study, state, point = session.study, session.state, session.point
        if study is None or state is None or point is None:
            return session.problem
        say, by = session.say, lambda limit: limit_label(limit, study.resolved, session.say)
        goals = "; ".join(f"{goal_name(result.goal, say)}: {shortfall(result, say)}" for result in study.goals)
        return (
            f"{state.name} pack: {say(state.standstill_force_n, 'force')} at standstill, by {by(state.standstill_limited_by)}; "
            f"{say(state.top_speed_m_s, 'speed')} at most, by {by(state.top_speed_limited_by)}; "
            f"now {say(point.speed_m_s, 'speed')} with {say(point.thrust_n, 'force')}. {goals}"
        )

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.axes = self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, painter: QPainter, rect: QRectF) -> Axes | None:
        """Draw into any rectangle; the axes that were used."""
        session = self._session
        theme, study = THEMES[session.theme_name], session.study
        plot = rect.adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        if study is None:
            painter.fillRect(plot, theme.panel)
            painter.setFont(font(14))
            painter.setPen(theme.soft)
            words = session.problem or "No vehicle is open."
            painter.drawText(plot.adjusted(30, 0, -30, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            return None
        axes = self._frame(plot, study)
        self._lines = {}
        key = (axes.key, theme.name, self._session.unit_set)
        self._ground.paint(painter, rect, key, functools.partial(self._grid, axes=axes, theme=theme))
        labels = Labels(painter, theme, plot.adjusted(1, 1, -1, -1))
        painter.save()
        painter.setClipRect(plot)
        self._heat(painter, axes, theme, study)
        hot = self._hot_lines(painter, axes, theme, study)
        floats = study.design.vehicle.kind.floats
        loads = self._water(painter, axes, theme, study) if floats else self._road(painter, axes, theme, study)
        self._gear_edges(painter, axes, theme, study)
        self._other_edges(painter, axes, theme, study)
        self._fade(painter, axes, theme)
        self._compared(painter, axes, theme)
        bold = self._bold_edge(painter, axes, theme)
        rated = None if floats else self.rated(painter, axes, theme, study)
        state = session.state
        bubbles = paint_bubbles(painter, theme, study.bubbles[state.name], bold[1]) if floats and state is not None else None
        painter.restore()
        given = self._moment(painter, axes, theme, labels)
        marks = flags(study)
        self._flags(painter, axes, theme, marks, labels)
        # who is asked first is sure of a place: what binds, then the goals, then the moment
        self._limits(axes, theme, bold, labels, study)
        self._goals(painter, axes, theme, study, marks, labels)
        if rated is not None:
            labels.on_line(rated[1], rated[0], theme.tight, font(12), shares=(0.5, 0.3, 0.7, 0.15, 0.85))
        if bubbles is not None:
            labels.on_line(bubbles, "bubbles at the blades", theme.tight, font(12), shares=(0.5, 0.3, 0.7, 0.15, 0.85))
        if given is not None:
            self._moment_words(given, theme, labels)
        for minutes, line in hot:
            labels.on_line(line, f"{minutes:.0f} min", theme.heat, font(12), shares=(0.5, 0.35, 0.65, 0.2))
        self._words(axes, theme, study, labels, loads)
        if self.hasFocus():
            painter.setPen(pen(theme.electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(plot.adjusted(-1, -1, 1, 1))
        return axes

    def _line(self, axes: Axes, speed: NDArray[np.float64], force: NDArray[np.float64]) -> NDArray[np.float64]:
        s, f = unit_of("speed", self._session.unit_set), unit_of("force", self._session.unit_set)
        return axes.pixels(speed * s.per_si, force * f.per_si)

    def _edge_line(self, axes: Axes, edge: Edge) -> NDArray[np.float64]:
        """An edge in pixels, as few points as show it; worked out once a picture."""
        found = self._lines.get(id(edge))
        if found is None:
            found = self._lines[id(edge)] = thinned(self._line(axes, edge.speed_m_s, edge.force_n))
        return found

    def _lasting_line(self, axes: Axes, study: DriveStudy) -> NDArray[np.float64]:
        """What can be held all day, never above the nominal edge."""
        found = self._lines.get(id(study.lasting))
        if found is None:
            below = np.minimum(study.lasting.force_n, study.states["nominal"].edge.force_n)
            found = self._lines[id(study.lasting)] = thinned(self._line(axes, study.lasting.speed_m_s, below))
        return found

    def at(self, axes: Axes, speed: float, force: float) -> QPointF:
        unit_set = self._session.unit_set
        return axes.point(shown(speed, "speed", unit_set), shown(force, "force", unit_set))

    def _frame(self, plot: QRectF, study: DriveStudy) -> Axes:
        unit_set = self._session.unit_set
        marks = flags(study)
        fastest = max([s.top_speed_m_s for s in study.states.values()] + [study.states["full"].edge.speed_m_s[-1]])
        # a geared-down or very fast drive keeps its goals in sight without squeezing the rest
        wanted = max([f.speed_m_s * 1.12 for f in marks] + [r.goal.speed or 0.0 for r in study.goals] + [1.0])
        seen = min(fastest * 1.02, 2.6 * wanted) if wanted > 1.0 else fastest * 1.02
        x_high = shown(max(seen, wanted), "speed", unit_set)
        strongest = max(float(s.edge.force_n.max()) for s in study.states.values())
        y_high = shown(max([strongest * 1.12, 10.0] + [f.force_n * 1.2 for f in marks]), "force", unit_set)
        return Axes(plot, 0.0, round_up(x_high, 8), 0.0, round_up(y_high, 6))

    def _grid(self, painter: QPainter, axes: Axes, theme: Theme) -> None:
        painter.fillRect(axes.rect, theme.panel)
        speed, force = unit_of("speed", self._session.unit_set).text, unit_of("force", self._session.unit_set).text
        paint_grid(
            painter, axes, theme, x_ticks=ticks(0, axes.x_high, 8), y_ticks=ticks(0, axes.y_high, 6), x_label=speed, y_label=force, size=12
        )

    def _heat(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> None:
        line, edge = self._lasting_line(axes, study), self._edge_line(axes, study.states["nominal"].edge)
        fill(painter, np.vstack([line, edge[::-1]]), with_alpha(theme.heat, 0.13))
        floor = [[line[-1, 0], axes.rect.bottom()], [line[0, 0], axes.rect.bottom()]]
        fill(painter, np.vstack([line, floor]), with_alpha(theme.clear, 0.07))
        curve(painter, line, pen(theme.heat, 1.0, (3.0, 2.0)), whole=True)

    def _hot_lines(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> list[tuple[float, NDArray[np.float64]]]:
        """Lines of equal time until too hot, where they lie under the edge."""
        edge, made = study.states["nominal"].edge, []
        for minutes, speeds, thrust in self._session.heat_lines:
            most = np.interp(speeds, edge.speed_m_s, edge.force_n)
            under = thrust < 0.985 * most
            if not under.any():
                continue
            first, last = np.flatnonzero(under)[[0, -1]]
            line = self._line(axes, speeds[first : last + 2], np.minimum(thrust, most)[first : last + 2])
            curve(painter, line, pen(with_alpha(theme.heat, 0.45 if self._session.previews_stale else 0.8), 1.0), whole=True)
            made.append((minutes, line))
        return made

    def _road(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> list[tuple[str, NDArray[np.float64]]]:
        self._climbs(painter, axes, theme, study)
        return self._loads(painter, axes, theme, study)

    def _water(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> list[tuple[str, NDArray[np.float64]]]:
        top = axes.x_high / unit_of("speed", self._session.unit_set).per_si
        high = 4.0 * axes.y_high / unit_of("force", self._session.unit_set).per_si  # dashes far above are cut by nobody but the painter

        def line(speed: NDArray[np.float64], force: NDArray[np.float64]) -> NDArray[np.float64]:
            return self._line(axes, speed, np.minimum(force, high))

        lines = lines_afloat(study, top, study.states["nominal"].edge, line)
        paint_fans(painter, axes, theme, lines)
        return paint_hull(painter, theme, study, lines, line)

    def _climbs(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> None:
        """The axis on the right: the line of constant grade that ends at each mark."""
        road, wind, unit_set = study.resolved.load, study.resolved.headwind_m_s, self._session.unit_set
        per = unit_of("speed", unit_set).per_si
        speeds = np.linspace(0.0, axes.x_high / per, 15)
        top = float(road.grade_at(axes.y_high / unit_of("force", unit_set).per_si, speeds[-1], wind))
        level = float(self._line(axes, speeds[-1:], np.atleast_1d(road.resistance_n(speeds[-1], 0.0, wind)))[0, 1])
        room = int((level - axes.rect.top()) / 30.0)
        if not top > 0 or room < 1:  # at the right edge air takes all the height
            return
        shares = ticks(0.0, min(top, 1.0), min(room, 6))[1:]
        if not shares:
            return
        ends: list[tuple[float, str]] = []
        for share, points in zip(shares, self._load_lines(axes, speeds, np.array(shares), wind), strict=True):
            curve(painter, points, pen(with_alpha(theme.mechanical, 0.28), 1.0), whole=True)
            ends.append((float(points[-1, 1]), self._session.say(share, "grade")))
        painter.setClipping(False)
        painter.setPen(theme.mechanical)
        put_right(painter, axes.rect.right() + 46, axes.rect.top() - 8, "climbs", font(12))
        for y, words in ends:
            put_text(painter, axes.rect.right() + 5, y + 4, words, font(12))
        painter.setClipping(True)

    def _load_lines(
        self, axes: Axes, speeds: NDArray[np.float64], grades: NDArray[np.float64], winds: NDArray[np.float64] | float
    ) -> NDArray[np.float64]:
        """Points of load lines in pixels, shape (lines, speeds, 2)."""
        assert self._session.study is not None
        along = winds[:, np.newaxis] if isinstance(winds, np.ndarray) else winds
        force = np.asarray(self._session.study.resolved.load.resistance_n(speeds, grades[:, np.newaxis], along))
        shape = np.broadcast_to(speeds, force.shape)
        return self._line(axes, shape.ravel(), force.ravel()).reshape(*force.shape, 2)

    def _loads(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> list[tuple[str, NDArray[np.float64]]]:
        wind = study.resolved.headwind_m_s
        speeds = np.linspace(0.0, axes.x_high / unit_of("speed", self._session.unit_set).per_si, 32)
        grades = sorted({r.goal.grade for r in study.goals if r.goal.grade})
        lines: list[tuple[str, float, float, tuple[float, ...]]] = [
            ("flat" if abs(wind) < 0.05 else f"flat, wind {self._session.say(wind, 'speed')}", 0.0, wind, ())
        ]
        if abs(wind) >= 0.05:
            lines.append(("flat, calm", 0.0, 0.0, (4.0, 3.0)))
        lines += [(self._session.say(grade, "grade"), grade, wind, ()) for grade in grades]
        moment = self._session.moment.grade
        if abs(moment) > 1e-9 and all(abs(moment - g) > 1e-4 for g in grades):
            lines.append((f"{self._session.say(moment, 'grade')} now", moment, wind, (2.0, 2.0)))
        made = []
        all_points = self._load_lines(axes, speeds, np.array([line[1] for line in lines]), np.array([line[2] for line in lines]))
        for (name, _, _, dash), points in zip(lines, all_points, strict=True):
            curve(painter, points, pen(theme.mechanical, 1.8, dash), whole=True)
            made.append((name, points))
        return made

    def _gear_edges(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> None:
        """The edge in each other gear of the bike, with its number at the end that is in sight."""
        painter.setPen(theme.electrical)
        for gear, speeds, thrust in study.branches:
            line = self._line(axes, speeds, thrust)
            curve(painter, line, pen(with_alpha(theme.electrical, 0.55), 1.2), whole=True)
            inside = [k for k in range(len(line)) if axes.rect.adjusted(14, 14, -24, -14).contains(QPointF(*line[k]))]
            if inside:
                at = line[inside[len(inside) // 2]]
                painter.setPen(theme.electrical)
                put_text(painter, float(at[0]) + 4, float(at[1]) - 4, f"{gear}", font(11, 600))

    def _other_edges(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> None:
        for name, dash in (("full", (2.0, 3.0)), ("nominal", (10.0, 3.0)), ("low", (6.0, 5.0))):
            state = study.states[name]
            if state is not self._session.state:
                curve(painter, self._edge_line(axes, state.edge), pen(theme.electrical, 1.0, dash), whole=True)

    def _fade(self, painter: QPainter, axes: Axes, theme: Theme) -> None:
        """Between what the edge lies, by what is known of the inputs; only of the nominal pack, and of the design as it stands."""
        found, study = weighed(self._session), self._session.study
        if found is None or found.edge is None or study is None or self._session.state is not study.states["nominal"]:
            return
        low, high = (self._line(axes, found.edge.speed_m_s, force) for force in (found.edge.low_n, found.edge.high_n))
        fill(painter, np.vstack([low, high[::-1]]), with_alpha(theme.ink, 0.10))

    def _compared(self, painter: QPainter, axes: Axes, theme: Theme) -> None:
        ghost, trial = self._session.ghost, self._session.trial
        if ghost is not None:
            curve(painter, self._line(axes, ghost.speed_m_s, ghost.force_n), pen(theme.soft, 1.0), whole=True)
        if trial is not None:
            curve(painter, self._line(axes, trial[1].speed_m_s, trial[1].force_n), pen(theme.electrical, 2.2, (3.0, 2.0)), whole=True)

    def _bold_edge(self, painter: QPainter, axes: Axes, theme: Theme) -> tuple[Edge, NDArray[np.float64]]:
        state = self._session.state
        assert state is not None
        points = self._line(axes, state.edge.speed_m_s, state.edge.force_n)
        curve(painter, points, pen(theme.ink, 2.6), whole=True)
        painter.setPen(pen(theme.ink, 1.6))
        painter.setBrush(theme.panel)
        for k in np.flatnonzero(np.diff(state.edge.limit)):
            painter.drawEllipse(QPointF(*points[k]), 3.5, 3.5)
        return state.edge, points

    def rated(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy) -> tuple[str, NDArray[np.float64]] | None:
        """What the weakest belt or chain is rated for, where the edge goes over it: nothing stops there, but it does not last."""
        state, found = self._session.state, rated_pull(study.resolved)
        if found is None or state is None:
            return None
        force, rating = found
        over = np.flatnonzero(state.edge.force_n > force * 1.005)
        if not over.size or force <= 0.0:
            return None
        speeds = state.edge.speed_m_s[[over[0], min(over[-1] + 1, len(state.edge.speed_m_s) - 1)]]
        ends = self._line(axes, speeds, np.full(2, force))
        straight(painter, ends[0, 0], ends[0, 1], ends[1, 0], ends[1, 1], pen(theme.tight, 1.8, (8.0, 3.0, 2.0, 3.0)))
        return f"{rating.kind} rated {self._session.say(force, 'force')}", np.linspace(ends[0], ends[1], 12)

    def _limits(self, axes: Axes, theme: Theme, bold: tuple[Edge, NDArray[np.float64]], labels: Labels, study: DriveStudy) -> None:
        edge, points = bold
        inside = (points[:, 0] <= axes.rect.right()) & (points[:, 1] >= axes.rect.top())
        changes = np.concatenate([[0], np.flatnonzero(np.diff(edge.limit)) + 1, [edge.limit.size]])
        for start, end in itertools.pairwise(changes):
            part = points[start : end + 1][inside[start : end + 1]]
            if len(part) > 1:
                words = limit_label(LIMITS[int(edge.limit[start])], study.resolved, self._session.say)
                labels.on_line(part, words, theme.ink, font(12, 600))

    def _flags(self, painter: QPainter, axes: Axes, theme: Theme, marks: list[Flag], labels: Labels) -> None:
        for mark in marks:
            at = self.at(axes, mark.speed_m_s, mark.force_n)
            if axes.rect.adjusted(-2, -2, 2, 2).contains(at):
                flag(painter, at, theme.clear if mark.result.met else theme.over, met=mark.result.met, panel=theme.panel)
                labels.reserve(QRectF(at.x() - 5, at.y() - 27, 22, 32))

    def _goals(self, painter: QPainter, axes: Axes, theme: Theme, study: DriveStudy, marks: list[Flag], labels: Labels) -> None:
        say = self._session.say
        for mark in marks:
            at = self.at(axes, mark.speed_m_s, mark.force_n)
            if not axes.rect.adjusted(-2, -2, 2, 2).contains(at):
                continue
            colour = theme.clear if mark.result.met else theme.over
            x, y = at.x(), at.y()
            places = [QPointF(x + 21, y - 30), QPointF(x + 10, y + 6), QPointF(x - 110, y - 30), QPointF(x - 110, y + 6)]
            places += [QPointF(x + 21, y - 52), QPointF(x - 150, y - 12), QPointF(x - 150, y + 24), QPointF(x + 21, y + 28)]
            places += [QPointF(x - 60 + 30 * k, y + dy) for dy in (-66, 30, -90, 56) for k in range(4)]
            words = goal_name(mark.result.goal, say)
            labels.text(places, words, colour, font(13, 600), second=shortfall(mark.result, say))
        for result in study.goals:
            if result.goal.kind is GoalKind.SPEED_LIMIT:
                x = self.at(axes, result.target, 0.0).x()
                if x <= axes.rect.right():
                    colour = theme.clear if result.met else theme.over
                    painter.setPen(pen(colour, 1.4, (6.0, 3.0)))
                    painter.drawLine(QPointF(x, axes.rect.top()), QPointF(x, axes.rect.bottom()))
                    places = [QPointF(x + 5, axes.rect.top() + k) for k in (3, 40, 80)] + [QPointF(x - 120, axes.rect.top() + 3)]
                    labels.text(places, f"your limit {say(result.target, 'speed')}", colour, font(12), second=shortfall(result, say))

    def _moment(self, painter: QPainter, axes: Axes, theme: Theme, labels: Labels) -> QPointF | None:
        """Draw the moment; where its dot is, or None when it is not on the map."""
        point = self._session.point
        if point is None:
            return None
        x = self.at(axes, point.speed_m_s, 0.0).x()
        if not axes.rect.left() <= x <= axes.rect.right():
            return None
        straight(painter, x, axes.rect.top(), x, axes.rect.bottom(), pen(theme.ink, 1.0, (3.0, 3.0)))
        asked = self.at(axes, point.speed_m_s, max(point.load_n, 0.0))
        given = self.at(axes, point.speed_m_s, max(point.thrust_n, 0.0))
        if not point.held and given.y() - asked.y() > 2.0:
            painter.setPen(pen(theme.over, 3.0))
            painter.drawLine(asked, given)
            painter.setPen(pen(theme.over, 2.0))
            painter.setBrush(theme.panel)
            painter.drawEllipse(asked, 5.0, 5.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.ink)
        painter.drawEllipse(given, 5.5, 5.5)
        labels.reserve(QRectF(given.x() - 7, given.y() - 7, 14, 14))
        ridden = self._session.moment.ridden
        if ridden is not None and "thrust" in ridden.measured:  # of a log: what it read there, as a ring
            read = self.at(axes, ridden.measured.get("speed", point.speed_m_s), max(ridden.measured["thrust"], 0.0))
            if axes.rect.contains(read):
                painter.setPen(pen(theme.heat, 2.0))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(read, 7.0, 7.0)
                labels.text([read + QPointF(11, -20), read + QPointF(-70, -20)], "measured", theme.heat, font(12, 600))
        return given

    def _moment_words(self, given: QPointF, theme: Theme, labels: Labels) -> None:
        point, say = self._session.point, self._session.say
        assert point is not None
        words = f"{say(point.speed_m_s, 'speed')}, {say(point.thrust_n, 'force')}"
        second, colour = f"motor {say(point.motor_current_a, 'current')}, pack {say(point.pack_a, 'current')}", theme.soft
        if not point.held and point.load_n > point.thrust_n + 0.5:
            second, colour = f"{say(point.load_n - point.thrust_n, 'force')} short of the load", theme.over
        x, y = given.x(), given.y()
        places = [QPointF(x + 11, y + 8), QPointF(x + 11, y - 40), QPointF(x - 150, y + 8), QPointF(x - 150, y - 40)]
        places += [QPointF(x + dx, y + dy) for dy in (-66, 34, -90, 58) for dx in (11, -60, -150)]
        labels.text(places, words, theme.ink, font(12, 600), second=second, second_colour=colour)

    def _words(self, axes: Axes, theme: Theme, study: DriveStudy, labels: Labels, loads: list[tuple[str, NDArray[np.float64]]]) -> None:
        trial, session = self._session.trial, self._session
        if trial is not None:
            points = self._line(axes, trial[1].speed_m_s, trial[1].force_n)
            labels.on_line(points, trial[0], theme.electrical, font(12, 600), shares=(0.3, 0.5, 0.7, 0.15, 0.85))
        for name, points in loads:
            kept = points[(points[:, 1] >= axes.rect.top()) & (points[:, 1] <= axes.rect.bottom())]
            if len(kept) > 1:
                labels.on_line(kept, name, theme.mechanical, font(12), shares=(0.12, 0.3, 0.5, 0.7, 0.9, 0.06))
        for name, state in study.states.items():
            if state is session.state or state.top_speed_m_s <= 0:
                continue
            points = self._edge_line(axes, state.edge)
            kept = points[(points[:, 0] <= axes.rect.right()) & (points[:, 1] >= axes.rect.top())]
            if len(kept) > 1:
                words = f"{name}, {session.say(state.top_speed_m_s, 'speed')}"
                shares = (0.86, 0.76, 0.66, 0.55, 0.45)
                if not labels.on_line(kept, words, theme.electrical, font(12), shares=shares, above=name == "full"):
                    labels.on_line(kept, name, theme.electrical, font(12), shares=(0.95, *shares, 0.35), above=name == "full")
        line, nominal = self._lasting_line(axes, study), study.states["nominal"].edge
        if not self._session.heat_lines and float(np.max(nominal.force_n - study.lasting.force_n)) > 0.03 * float(nominal.force_n.max()):
            labels.on_line(line, "hotter above this line in time", theme.heat, font(12), shares=(0.3, 0.2, 0.5, 0.6, 0.12))
        labels.on_line(line, "all day", theme.clear, font(12), shares=(0.15, 0.3, 0.5, 0.08), above=False)

    # moving the moment

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() is Qt.MouseButton.LeftButton:
            self._go(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._go(event.position())

    def _go(self, at: QPointF) -> None:
        axes, study = self.axes, self._session.study
        if axes is None or study is None:
            return
        unit_set = self._session.unit_set
        speed = max(0.0, min(axes.value_x(at.x()), axes.x_high)) / unit_of("speed", unit_set).per_si
        force = axes.value_y(at.y()) / unit_of("force", unit_set).per_si
        road, wind = study.resolved.load, study.resolved.headwind_m_s
        if study.design.vehicle.kind.floats:
            self._session.set_moment(speed_m_s=speed, grade=0.0)
            return
        grade = float(road.grade_at(force, speed, wind))
        # the lines that are drawn catch the pointer
        for known in (0.0, *(r.goal.grade for r in study.goals if r.goal.grade)):
            if abs(self.at(axes, speed, float(road.resistance_n(speed, known, wind))).y() - at.y()) <= SNAP_PX:
                grade = known
                break
        self._session.set_moment(speed_m_s=speed, grade=grade)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moment = self._session.moment
        many = 5.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        moves = {
            Qt.Key.Key_Right: {"speed_m_s": moment.speed_m_s + many * KEY_SPEED},
            Qt.Key.Key_Left: {"speed_m_s": moment.speed_m_s - many * KEY_SPEED},
            Qt.Key.Key_Up: {"grade": moment.grade + many * KEY_GRADE},
            Qt.Key.Key_Down: {"grade": moment.grade - many * KEY_GRADE},
            Qt.Key.Key_Home: {"speed_m_s": 0.0},
            Qt.Key.Key_0: {"grade": 0.0},
        }
        changes = moves.get(Qt.Key(event.key()))
        if changes is None or ("grade" in changes and self._session.design.vehicle.kind.floats):
            super().keyPressEvent(event)
            return
        self._session.set_moment(**changes)
