"""Edges of the drives that are compared over each other, each labelled on its line; goals as flags."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from wattagon.design.tree import GoalKind
from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import curve, elided, flag, pen, put_text
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font
from wattagon.exchange.units import shown, unit_of
from wattagon.study.compare.compare import Compared
from wattagon.study.drive.words import goal_name

ON_MAP = (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.CRUISE)
DASHES: tuple[tuple[float, ...], ...] = ((), (6.0, 3.0), (2.0, 2.5), (9.0, 3.0, 2.0, 3.0))


class EdgesPicture(FoundPicture):
    """Pull over speed at half charge of all sides."""

    found: Compared | None = None

    def __init__(self, session: Session) -> None:
        super().__init__(session, "compare-edges", "Pull over speed of the drives that are compared", 220)
        self.setMinimumWidth(360)

    def show_compared(self, found: Compared | None, problem: str = "") -> None:
        """Another result."""
        self.found, self.problem = found, problem
        self.update()

    def spoken(self) -> str:
        if self.found is None:
            return self.problem
        say = self.session.say
        nominal = [(one.code, one.study.states["nominal"]) for one in self.found.sides]
        return "; ".join(
            f"{code}: top speed {say(state.top_speed_m_s, 'speed')}, {say(state.standstill_force_n, 'force')} at standstill"
            for code, state in nominal
        )

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: Compared) -> None:
        unit_set = self.session.unit_set
        speed = lambda value: np.asarray(shown(1.0, "speed", unit_set) * value)
        force = lambda value: np.asarray(shown(1.0, "force", unit_set) * value)
        plot = rect.adjusted(50, 26, -14, -36)
        edges = [one.study.states["nominal"].edge for one in found.sides]
        tops = [float(speed(edge.speed_m_s[edge.force_n > 0].max(initial=1.0))) for edge in edges]
        high = [float(force(edge.force_n.max())) for edge in edges]
        axes = Axes(plot, 0.0, round_up(max(tops), 6), 0.0, round_up(1.12 * max(high), 5))
        p.setPen(theme.soft)
        head = elided("pull over speed, pack half full; goals of the first", font(12), plot.width() - 30)
        put_text(p, plot.left() + 26, rect.top() + 16, head, font(12))
        paint_grid(
            p,
            axes,
            theme,
            x_ticks=ticks(0.0, axes.x_high, 6),
            y_ticks=ticks(0.0, axes.y_high, 5),
            x_label=unit_of("speed", unit_set).text,
            y_label=unit_of("force", unit_set).text,
            size=12,
        )
        p.save()
        p.setClipRect(plot.adjusted(-4, -14, 8, 6))
        for k, edge in enumerate(edges):
            colour = theme.electrical if k == 0 else theme.ink
            points = axes.pixels(speed(edge.speed_m_s), force(edge.force_n))
            curve(p, points, pen(colour, 2.4 if k == 0 else 1.8, DASHES[k]))
            at = points[min(int(len(points) * (0.10 + 0.14 * k)), len(points) - 1)]
            p.setPen(colour)
            put_text(p, at[0] + 4, at[1] - 6, found.sides[k].code, font(13, 600))
        for v, f, met, name in self._goals(found):
            at = QPointF(axes.x(float(speed(v))), axes.y(float(force(f))))
            flag(p, at, theme.clear if met else theme.over, met=met, panel=theme.panel)
            p.setPen(theme.soft)
            put_text(p, at.x() + 8, at.y() + 14, name, font(11))
        p.restore()

    def _goals(self, found: Compared) -> list[tuple[float, float, bool, str]]:
        """(speed, thrust, met, name) of the goals that are points on the map."""
        first = found.sides[0]
        resolved, made = first.study.resolved, []
        for result in first.study.goals:
            goal = result.goal
            if goal.speed is None or goal.kind not in ON_MAP:
                continue
            wind = resolved.headwind_m_s
            load = float(resolved.load.resistance_n(goal.speed, goal.grade or 0.0, wind))
            made.append((goal.speed, load, result.met, goal_name(goal, self.session.say)))
        return made
