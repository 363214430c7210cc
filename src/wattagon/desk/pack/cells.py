"""The pack drawn: cell by cell with its series path, leads and balance taps; or brick by brick as they are joined."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from wattagon.desk.chart.ink import elided, pen, put_text, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.findings.status import Status
from wattagon.study.pack.study import PackStudy

MOST_R, LEAST_R = 20.0, 3.0
STEP_PX = 24.0
Hits = list[tuple[QRectF, str]]


def draw_cells(p: QPainter, theme: Theme, area: QRectF, found: PackStudy, session: Session, chosen: int) -> Hits:
    """Draws into an area; places that answer a click, with what they mean: series-, series+, parallel-, parallel+, brick.K, row.K."""
    hits: Hits = []
    grid = area.adjusted(26, 34, -40, -72)
    if found.bricks is not None and not found.bricks.trouble:
        hits += _bricks(p, theme, grid, found, session, chosen)
    else:
        _grid(p, theme, grid, found, session)
    hits += _steps(p, theme, area, found)
    _sums(p, theme, area, found, session)
    return hits


def _tint(theme: Theme, found: PackStudy, group: int) -> QColor:
    """A group's colour: by the charge that the last check tells of it; the outlier stands out."""
    if found.outlier == group:
        return with_alpha(theme.of(found.checks[-1].status if found.checks[-1].status is Status.OVER else Status.TIGHT), 0.45)
    return with_alpha(theme.electrical, 0.16)


def _grid(p: QPainter, theme: Theme, area: QRectF, found: PackStudy, session: Session) -> None:
    series, parallel = found.groups, int(found.resolved.train.pack.parallel)
    rows = min(parallel, 16)
    lines = 1 if series <= 14 else 2 if series <= 40 else 3  # a tall pack folds
    across = -(-series // lines)
    r = max(min(0.5 * area.width() / across * 0.86, 0.5 * (area.height() - 46.0 * lines) / (rows * lines) - 2.0, MOST_R), LEAST_R)
    dx, dy = area.width() / across, 2.0 * r + 4.0
    dx = min(dx, 2.0 * r + 16.0)
    middles: list[tuple[float, float, float]] = []  # x, top, bottom of each group
    for k in range(series):
        line, place = divmod(k, across)
        at = place if line % 2 == 0 else across - 1 - place
        x = area.left() + r + 8.0 + at * dx
        top = area.top() + 26.0 + line * (rows * dy + 44.0)
        p.setPen(pen(theme.ink, 1.1))
        p.setBrush(_tint(theme, found, k))
        for row in range(rows):
            p.drawEllipse(QPointF(x, top + r + row * dy), r, r)
        middles.append((x, top, top + (rows - 1) * dy + 2.0 * r))
    for k in range(series - 1):  # strips, now above, now below
        (x0, top0, low0), (x1, top1, low1) = middles[k], middles[k + 1]
        p.setPen(pen(theme.electrical, 3.0))
        if abs(top1 - top0) > 1.0:
            p.drawLine(QPointF(x0, low0 + 5), QPointF(x1, top1 - 5))
        elif k % 2 == 0:
            p.drawLine(QPointF(x0, top0 - 5), QPointF(x1, top1 - 5))
        else:
            p.drawLine(QPointF(x0, low0 + 5), QPointF(x1, low1 + 5))
    _taps(p, theme, middles, series)
    if parallel > rows:
        p.setPen(theme.soft)
        put_text(p, middles[0][0] - r, middles[-1][2] + 30, f"{rows} of {parallel} rows drawn", font(12))
    _mark(p, theme, middles, found, session)


def _taps(p: QPainter, theme: Theme, middles: list[tuple[float, float, float]], series: int) -> None:
    """Main leads at both ends, and a thin balance lead from every junction; a rail of them over each line."""
    for (x, _, low), sign, ink in ((middles[0], "−", theme.ink), (middles[-1], "+", theme.heat)):
        out = 24.0 if sign == "+" and x >= max(m[0] for m in middles) - 1.0 else -24.0
        p.setPen(pen(ink, 3.0))
        p.drawLine(QPointF(x, low + 5), QPointF(x + out, low + 5))
        p.setPen(theme.ink)
        put_text(p, x + out + (4.0 if out > 0.0 else -13.0), low + 10, sign, font(14, 600))
    for top in sorted({top for _, top, _ in middles}):
        line = [x for x, at, _ in middles if at == top]
        rail = top - 18
        p.setPen(pen(theme.soft, 0.8))
        p.drawLine(QPointF(min(line), rail), QPointF(max(line), rail))
        for x in line:
            p.drawLine(QPointF(x, rail), QPointF(x, top - 6))
    p.setPen(theme.soft)
    put_text(p, middles[0][0], middles[0][1] - 23, f"{series + 1} balance leads", font(11))


def _mark(p: QPainter, theme: Theme, middles: list[tuple[float, float, float]], found: PackStudy, session: Session) -> None:
    if found.outlier is None:
        return
    last = found.checks[-1]
    x, _, low = middles[found.outlier]
    volts = last.check.volts
    away = volts[found.outlier] - sorted(volts)[len(volts) // 2]
    apart = f"{1e3 * abs(away):.0f} mV {'low' if away < 0 else 'high'} on {last.check.date}"
    words = f"group {found.outlier + 1}: {volts[found.outlier]:.3f} V, {apart}"
    face = font(12, 600)
    wide = text_width(words, face)
    right = max(m[0] for m in middles)
    left = min(max(x - 0.5 * wide, middles[0][0] - 10), max(right + 20 - wide, middles[0][0] - 10))
    p.setPen(theme.of(Status.TIGHT))
    p.drawLine(QPointF(x, low + 8), QPointF(x, low + 16))
    put_text(p, left, low + 30, words, face)


def _bricks(p: QPainter, theme: Theme, area: QRectF, found: PackStudy, session: Session, chosen: int) -> Hits:
    """Strings as rows, groups as columns; every brick with what it is and takes."""
    bricks, say = found.bricks, session.say
    assert bricks is not None
    strings = bricks.assembly.strings
    rows = bricks.assembly.rows
    many, long = len(rows), max(len(row) for row in rows)
    across, down = (long, many) if strings else (many, long)
    wide, tall = min((area.width() - 30) / across - 22, 190.0), min(area.height() / down - 12, 92.0)
    hits: Hits = []
    order = {id(choice): k for k, choice in enumerate(found.battery.bricks)}
    ended = found.emptied.ended_by if found.emptied is not None and len(order) > 1 else None
    for i, row in enumerate(rows):
        for j, brick in enumerate(row):
            at = (j, i) if strings else (i, j)
            x, y = area.left() + 14 + at[0] * (wide + 22), area.top() + 8 + at[1] * (tall + 12)
            box = QRectF(x, y, wide, tall)
            choice, part = bricks.choices[i][j], bricks.parts[i][j]
            k = order[id(choice)]
            hits.append((box, f"brick.{k}"))
            p.setPen(pen(theme.electrical if k == chosen else theme.ink, 2.2 if k == chosen else 1.2))
            p.setBrush(with_alpha(theme.electrical, 0.16))
            p.drawRoundedRect(box, 5, 5)
            name = choice.name or part.name
            p.setPen(theme.ink)
            put_text(p, x + 8, y + 17, elided(name, font(12, 600), wide - 14), font(12, 600))
            shares = found.shares[i][j]
            lines = (
                f"{choice.series}S{choice.parallel}P, {say(brick.capacity_ah, 'capacity')}, {say(brick.ohm, 'resistance')}",
                f"{say(shares, 'current')} of {say(found.asked_a, 'current')}",
                f"rests at {say(brick.emf_v, 'voltage')}{', ends the ride' if ended == (i, j) else ''}",
            )
            p.setPen(theme.soft)
            for n, words in enumerate(lines):
                if y + 33 + 15 * n < y + tall - 2:
                    put_text(p, x + 8, y + 33 + 15 * n, elided(words, font(12), wide - 14), font(12))
            p.setPen(pen(theme.electrical, 3.0))
            nxt = j + 1 < len(row)
            if strings:
                p.drawLine(QPointF(x + wide, y + 0.5 * tall), QPointF(x + wide + (22 if nxt else 12), y + 0.5 * tall))
                if j == 0:
                    p.drawLine(QPointF(x - 12, y + 0.5 * tall), QPointF(x, y + 0.5 * tall))
            else:
                p.drawLine(QPointF(x + wide, y + 0.5 * tall), QPointF(x + wide + (22 if i + 1 < many else 12), y + 0.5 * tall))
                if i == 0:
                    p.drawLine(QPointF(x - 12, y + 0.5 * tall), QPointF(x, y + 0.5 * tall))
    p.setPen(pen(theme.electrical, 4.0))
    height = down * (tall + 12) - 12
    rails = (area.left() + 2, area.left() + 14 + across * (wide + 22) - 10)
    for x in rails:
        p.drawLine(QPointF(x, area.top() + 8 + 0.5 * tall), QPointF(x, area.top() + 8 + height - 0.5 * tall))
    p.setPen(theme.ink)
    put_text(p, rails[0] - 6, area.top() + 0.5 * tall - 2, "−", font(14, 600))
    put_text(p, rails[1] - 3, area.top() + 0.5 * tall - 2, "+", font(14, 600))
    return hits


def _steps(p: QPainter, theme: Theme, area: QRectF, found: PackStudy) -> Hits:
    """Steppers of series and parallel, on the drawing."""
    hits: Hits = []
    y, x = area.bottom() - 58, area.left() + 26
    for name, words in (("series", f"{found.groups} in series"), ("parallel", f"{int(found.resolved.train.pack.parallel)} in parallel")):
        for sign in ("-", "+"):
            box = QRectF(x, y, STEP_PX, STEP_PX)
            hits.append((box, f"{name}{sign}"))
            p.setPen(pen(theme.rule, 1.2))
            p.setBrush(theme.paper)
            p.drawRoundedRect(box, 4, 4)
            p.setPen(theme.ink)
            text = "−" if sign == "-" else "+"
            put_text(p, x + 0.5 * (STEP_PX - text_width(text, font(14, 600))), y + 17, text, font(14, 600))
            x += STEP_PX + 3
        p.setPen(theme.ink)
        put_text(p, x + 4, y + 17, words, font(13))
        x += text_width(words, font(13)) + 26
    return hits


def _sums(p: QPainter, theme: Theme, area: QRectF, found: PackStudy, session: Session) -> None:
    say, pack = session.say, found.resolved.train.pack
    assumed = "≈ " if found.bricks is None and not found.resolved.variant.pack.overrides else ""
    parts = (
        f"{assumed}{say(float(pack.capacity_ah), 'capacity')}",
        f"{say(found.usable_wh, 'energy')} of {say(found.energy_wh, 'energy')}",
        f"{assumed}{say(float(pack.steady_ohm), 'resistance')}",
        f"{say(found.resolved.pack_kg, 'mass')}, {found.litres:.1f} l",
        f"{say(found.resolved.pack_price, 'money')}",
    )
    p.setPen(Qt.PenStyle.NoPen)
    p.setPen(theme.ink)
    put_text(p, area.left() + 26, area.bottom() - 12, elided("   ".join(parts), font(13), area.width() - 40), font(13))
