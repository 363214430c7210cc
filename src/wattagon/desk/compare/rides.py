"""Rides of the drives that are compared over each other: speed and winding over time, in the dashes of their edges."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import curve, elided, pen, put_text
from wattagon.desk.compare.edges import DASHES
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font
from wattagon.exchange.units import shown, unit_of
from wattagon.physics.ride.names import Col
from wattagon.study.compare.compare import Compared

MOST_POINTS = 600
LANES = ((Col.SPEED, "speed", "speed"), (Col.WINDING, "temperature", "winding"))


class RidesPicture(FoundPicture):
    """Two lanes over one axis of time."""

    found: Compared | None = None

    def __init__(self, session: Session) -> None:
        super().__init__(session, "compare-rides", "Rides of the drives that are compared", 200)
        self.setMinimumWidth(360)

    def show_compared(self, found: Compared | None) -> None:
        """Another result; hidden where no ride was asked for."""
        self.found, self.problem = found, ""
        self.setVisible(found is not None and any(one.ride is not None for one in found.sides))
        self.update()

    def spoken(self) -> str:
        if self.found is None:
            return ""
        say = self.session.say
        rides = [(one.code, one.ride) for one in self.found.sides if one.ride is not None]
        return f"{self.found.run}: " + "; ".join(f"{code} {say(ride.time_s, 'time')}, {ride.energy_wh:.3g} Wh" for code, ride in rides)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: Compared) -> None:
        rides = [(k, one.code, one.ride) for k, one in enumerate(found.sides) if one.ride is not None]
        longest = max(float(ride.run.column(Col.TIME)[-1]) for _, _, ride in rides)
        minutes = longest >= 180.0
        per = 60.0 if minutes else 1.0
        p.setPen(theme.soft)
        put_text(p, rect.left() + 12, rect.top() + 14, elided(found.run, font(12, 600), rect.width() - 24), font(12, 600))
        high = (rect.height() - 56.0) / len(LANES)
        for lane, (column, dimension, name) in enumerate(LANES):
            plot = QRectF(rect.left() + 50, rect.top() + 24 + lane * high, rect.width() - 64, high - 12)
            unit = unit_of(dimension, self.session.unit_set)
            values = [shown_all(ride.run.column(column), dimension, self.session.unit_set) for _, _, ride in rides]
            low = min(float(one.min()) for one in values) if dimension == "temperature" else 0.0
            axes = Axes(
                plot, 0.0, round_up(longest / per, 5), np.floor(low / 10.0) * 10.0, round_up(max(float(one.max()) for one in values), 3)
            )
            last = lane == len(LANES) - 1
            paint_grid(
                p,
                axes,
                theme,
                x_ticks=ticks(0.0, axes.x_high, 5) if last else [],
                y_ticks=ticks(axes.y_low, axes.y_high, 3),
                x_label=("min" if minutes else "s") if last else "",
                y_label="",
                size=11,
            )
            p.setPen(theme.soft)
            put_text(p, plot.left() + 6, plot.top() + 12, f"{name} {unit.text}", font(11))
            for (k, code, ride), one in zip(rides, values, strict=True):
                every = max(len(one) // MOST_POINTS, 1)
                colour = theme.electrical if k == 0 else theme.ink
                points = axes.pixels(ride.run.column(Col.TIME)[::every] / per, one[::every])
                curve(p, points, pen(colour, 2.2 if k == 0 else 1.6, DASHES[k]))
                if len(points):
                    p.setPen(colour)
                    put_text(p, points[-1][0] - 12, points[-1][1] - 4, code, font(11, 600))


def shown_all(values: np.ndarray, dimension: str, unit_set: str) -> np.ndarray:
    """A column in the user's unit."""
    zero = shown(0.0, dimension, unit_set)
    return np.asarray((shown(1.0, dimension, unit_set) - zero) * values + zero)
