"""Money by group along one axis with the budget as a line, and what the drive does to the balance of the vehicle."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import elided, pen, put_right, put_text, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.build.study import BuildStudy
from wattagon.study.layout.aboard import axles_m

NAMES = 132.0


class PursePicture(FoundPicture):
    """Paints what a build costs, weighs and where that sits."""

    found: BuildStudy | None = None

    def __init__(self, session: Session) -> None:
        super().__init__(session, "build-purse", "Money and balance of the build", 150)

    def show_build(self, found: BuildStudy | None, problem: str = "") -> None:
        """Another result."""
        self.found, self.problem = found, problem
        self.update()

    def groups(self) -> list[tuple[str, float, float, float]]:
        """(group, spent, to spend, mass) in the order of the list."""
        sums: dict[str, list[float]] = {}
        for part in self.found.parts if self.found is not None else ():
            one = sums.setdefault(part.row.group, [0.0, 0.0, 0.0])
            one[0] += part.spent
            one[1] += part.to_spend
            one[2] += part.row.mass_all_kg if part.row.aboard else 0.0
        return [(name, a, b, kg) for name, (a, b, kg) in sums.items()]

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        say, mass = self.session.say, self.found.base.mass
        money = f"{say(self.found.spent, 'money')} spent, {say(self.found.to_spend, 'money')} to spend"
        limit = f", budget {say(self.found.budget, 'money')}" if self.found.budget is not None else ""
        share = f", front axle {mass.front_after:.1%}" if math.isfinite(mass.front_after) else ""
        return f"{money}{limit}; adds {say(mass.added_kg, 'mass')}{share}"

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: BuildStudy) -> None:
        split = rect.left() + 0.56 * rect.width()
        self._money(p, theme, QRectF(rect.left() + 12, rect.top() + 6, split - rect.left() - 24, rect.height() - 12), found)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(split, rect.top() + 10), QPointF(split, rect.bottom() - 10))
        self._balance(p, theme, QRectF(split + 12, rect.top() + 6, rect.right() - split - 24, rect.height() - 12), found)

    def _money(self, p: QPainter, theme: Theme, area: QRectF, found: BuildStudy) -> None:
        say = self.session.say
        whole = found.spent + found.to_spend
        over = found.budget is not None and whole > found.budget
        p.setPen(theme.over if over else theme.ink)
        words = f"{say(found.spent, 'money')} spent, {say(found.to_spend, 'money')} still to spend"
        put_text(p, area.left(), area.top() + 14, elided(words, font(13, 600), area.width()), font(13, 600))
        groups = [one for one in self.groups() if one[1] + one[2] > 0.0]
        top = area.top() + 26
        tall = min((area.height() - 46) / max(len(groups) + 1, 1), 24.0)
        most = max(whole, found.budget or 0.0, 1.0) * 1.06
        plot = QRectF(area.left() + NAMES, top, area.width() - NAMES - 8, area.bottom() - top)
        across = lambda value: plot.left() + plot.width() * value / most
        y, sofar, face = top, 0.0, font(12)
        # spent first in every bar; bars stand on one another's ends, so that the last one ends at the whole
        for name, spent, to_spend, _ in groups:
            p.setPen(theme.ink)
            put_right(p, plot.left() - 8, y + 0.5 * tall + 4, elided(name, face, NAMES - 12), face)
            bar = lambda a, b, y=y: QRectF(across(a), y + 2.5, max(across(b) - across(a), 0.0), tall - 5.0)
            p.fillRect(bar(sofar, sofar + spent), theme.ink)
            p.fillRect(bar(sofar + spent, sofar + spent + to_spend), with_alpha(theme.soft, 0.42))
            sofar += spent + to_spend
            value = say(spent + to_spend, "money")
            p.setPen(theme.soft)
            x = across(sofar) + 5
            if x + text_width(value, face) < area.right():
                put_text(p, x, y + 0.5 * tall + 4, value, face)
            else:
                put_right(p, across(sofar - spent - to_spend) - 5, y + 0.5 * tall + 4, value, face)
            y += tall
        if found.budget is not None:
            x = across(found.budget)
            p.setPen(pen(theme.over if over else theme.ink, 1.6))
            p.drawLine(QPointF(x, top - 2), QPointF(x, y + 4))
            put_right(p, x + 2, y + 17, f"budget {say(found.budget, 'money')}", font(12, 600))
        p.setPen(theme.soft)
        p.fillRect(QRectF(area.left(), y + 9, 10, 10), theme.ink)
        put_text(p, area.left() + 14, y + 18, "spent", face)
        p.fillRect(QRectF(area.left() + 54, y + 9, 10, 10), with_alpha(theme.soft, 0.42))
        put_text(p, area.left() + 68, y + 18, "to spend", face)

    def _balance(self, p: QPainter, theme: Theme, area: QRectF, found: BuildStudy) -> None:
        """Side view of the weight: axles as what they carry, each group as a disc by its mass, the middle of all before and after."""
        say, mass, vehicle = self.session.say, found.base.mass, found.design.vehicle
        p.setPen(theme.ink)
        added = f"Adds {say(mass.added_kg, 'mass')}" + (
            "" if math.isclose(mass.added_kg, mass.placed_kg) else ", where it sits partly unknown"
        )
        put_text(p, area.left(), area.top() + 14, elided(added, font(13, 600), area.width()), font(13, 600))
        spots: dict[str, list[float]] = {}
        for part in found.parts:
            if part.row.at is not None and part.row.aboard and part.row.mass_all_kg > 0.0:
                one = spots.setdefault(part.row.group, [0.0, 0.0, 0.0])
                one[0] += part.row.mass_all_kg
                one[1] += part.row.mass_all_kg * part.row.at.x
                one[2] += part.row.mass_all_kg * part.row.at.z
        points = [(name, kg, x / kg, z / kg) for name, (kg, x, z) in spots.items()]
        if vehicle.kind.floats:
            hull = vehicle.hull
            ends = (0.0, hull.waterline_length.value if hull is not None else 3.0)
        else:
            ends = axles_m(vehicle)
        xs = [*ends, mass.before.x, mass.after.x, *(one[2] for one in points)]
        zs = [0.0, mass.before.z, mass.after.z, *(one[3] for one in points)]
        plot = area.adjusted(24, 44, -24, -44)
        span = max(max(xs) - min(xs), 0.1)
        height = max(max(zs) - min(zs), 0.1)
        scale = min(plot.width() / span, plot.height() / height)
        across = lambda x: plot.center().x() + (x - 0.5 * (max(xs) + min(xs))) * scale
        up = lambda z: plot.bottom() - (z - min(zs)) * scale
        ground = up(0.0)
        p.setPen(pen(theme.rule, 1.2))
        p.drawLine(QPointF(area.left(), ground), QPointF(area.right(), ground))
        face = font(12)
        if not vehicle.kind.floats:
            r = 0.5 * vehicle.tyre_diameter.value * scale
            p.setBrush(Qt.BrushStyle.NoBrush)
            for x in ends:
                p.drawEllipse(QPointF(across(x), ground - r), r, r)
            for x, kg, name, share in (
                (ends[0], mass.rear_kg, "rear", 1.0 - mass.front_after),
                (ends[1], mass.front_kg, "front", mass.front_after),
            ):
                p.setPen(pen(theme.ink, 1.4))
                p.drawLine(QPointF(across(x), ground), QPointF(across(x), ground + 14))
                p.drawLine(QPointF(across(x) - 4, ground + 6), QPointF(across(x), ground))
                p.drawLine(QPointF(across(x) + 4, ground + 6), QPointF(across(x), ground))
                words = f"{name} {say(kg, 'mass')}, {share:.0%}"
                wide = text_width(words, face)
                left = min(max(across(x) - 0.5 * wide, area.left()), area.right() - wide)
                put_text(p, left, ground + 28, words, face)
        taken: list[QRectF] = []
        for name, kg, x, z in sorted(points, key=lambda one: -one[1]):
            r = 3.0 + 9.0 * math.sqrt(kg / max(mass.added_kg, 1e-9))
            p.setPen(pen(theme.mechanical, 1.2))
            p.setBrush(with_alpha(theme.mechanical, 0.25))
            p.drawEllipse(QPointF(across(x), up(z)), r, r)
            if kg > 0.08 * mass.added_kg:
                self._name(p, theme, area, QPointF(across(x), up(z) - r - 4), f"{name} {say(kg, 'mass')}", taken)
        for at, words, solid in ((mass.before, "without the drive", False), (mass.after, "all up", True)):
            x, y = across(at.x), up(at.z)
            p.setPen(pen(theme.ink, 1.6))
            p.setBrush(theme.ink if solid else theme.panel)
            p.drawEllipse(QPointF(x, y), 4.5, 4.5)
            p.setPen(theme.ink if solid else theme.soft)
            wide = text_width(words, face)
            if solid:
                put_right(p, x - 8, y + 4, words, face) if x - wide - 10 > area.left() else put_text(p, x + 8, y + 16, words, face)
            elif x + wide + 10 < area.right():
                put_text(p, x + 8, y + 4, words, face)
        if math.isfinite(mass.front_before):
            p.setPen(theme.soft)
            side = (
                f"; {say(abs(mass.side_m), 'length')} {'left' if mass.side_m > 0.0 else 'right'} of the middle"
                if abs(mass.side_m) > 0.002
                else ""
            )
            put_text(p, area.left(), area.bottom() - 2, f"front axle {mass.front_before:.1%} without the drive{side}", face)

    def _name(self, p: QPainter, theme: Theme, area: QRectF, at: QPointF, words: str, taken: list[QRectF]) -> None:
        """Above a disc, higher where another name stands already."""
        face = font(11)
        wide = text_width(words, face)
        left = min(max(at.x() - 0.5 * wide, area.left()), area.right() - wide)
        box = QRectF(left, at.y() - 11, wide, 13)
        while any(box.intersects(other) for other in taken) and box.top() > area.top() + 30:
            box.translate(0.0, -13.0)
        taken.append(box)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(at.x(), at.y() + 3), QPointF(at.x(), box.bottom()))
        p.setPen(theme.soft)
        put_text(p, box.left(), box.bottom() - 2, words, face)
