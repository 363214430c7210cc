"""A report on paper: words and tables set here, pictures painted as lines, so that print stays sharp."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path

from PySide6.QtCore import QMarginsF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPageLayout, QPageSize, QPainter, QPdfWriter, QPicture

from wattagon.desk.chart.ink import elided, text_width, wrapped
from wattagon.desk.report.gather import PICTURE_H, PICTURE_W
from wattagon.desk.theme import THEMES, font
from wattagon.exchange.report.model import Report, Section, Table
from wattagon.exchange.report.render import MARKS

DPI, MARGIN_MM = 96.0, 15.0
LEAST_CELL, GAP = 36.0, 10.0


class Paper:
    """A page after another; lengths in px of 96 an inch."""

    def __init__(self, path: Path, title: str) -> None:
        self._writer = QPdfWriter(str(path))
        self._writer.setTitle(title)
        self._writer.setResolution(600)
        self._writer.setPageLayout(
            QPageLayout(
                QPageSize(QPageSize.PageSizeId.A4),
                QPageLayout.Orientation.Portrait,
                QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM),
                QPageLayout.Unit.Millimeter,
            )
        )
        self._scale = self._writer.resolution() / DPI
        rect = self._writer.pageLayout().paintRectPixels(self._writer.resolution())
        self.width, self.height = rect.width() / self._scale, rect.height() / self._scale
        self.theme, self.title, self.page, self.y = THEMES["light"], title, 1, 0.0
        self.painter = QPainter(self._writer)
        self.painter.scale(self._scale, self._scale)
        self._foot()

    def _foot(self) -> None:
        self.painter.setPen(self.theme.soft)
        self._line(f"{self.title}, page {self.page}", font(10), 0.0, self.height)

    def new_page(self) -> None:
        """The next one."""
        self._writer.newPage()
        self.page, self.y = self.page + 1, 0.0
        self._foot()

    def room(self, height: float) -> None:
        """So much in one piece, on the next page if need be."""
        if self.y + height > self.height - 22.0 and self.y > 0.0:
            self.new_page()

    def _line(self, text: str, face: QFont, x: float, y: float) -> None:
        self.painter.setFont(face)
        self.painter.drawText(QRectF(x, y - 3 * face.pixelSize(), 4000.0, 3 * face.pixelSize() + 0.0), Qt.AlignmentFlag.AlignBottom, text)

    def words(self, text: str, size: int = 12, *, bold: bool = False, ink: QColor | None = None, indent: float = 0.0) -> None:
        """A paragraph, lines kept whole."""
        face = font(size, 600 if bold else 400)
        for line in wrapped(text, face, self.width - indent):
            self.room(1.4 * size)
            self.y += 1.4 * size
            self.painter.setPen(ink or self.theme.ink)
            self._line(line, face, indent, self.y)

    def gap(self, height: float) -> None:
        """Air."""
        self.y += height

    def picture(self, picture: QPicture) -> None:
        """A picture as wide as the page, painted as lines."""
        scale = self.width / PICTURE_W
        finer = self._writer.logicalDpiX() / picture.logicalDpiX()  # by which a picture grows of itself on a finer device
        self.room(self.picture_height)
        self.painter.save()
        self.painter.translate(0.0, self.y + 4.0)
        self.painter.setClipRect(QRectF(0.0, 0.0, self.width, self.picture_height))
        self.painter.scale(scale / finer, scale / finer)
        self.painter.drawPicture(0, 0, picture)
        self.painter.restore()
        self.y += self.picture_height

    @property
    def picture_height(self) -> float:
        """What a picture takes."""
        return self.width * PICTURE_H / PICTURE_W + 8.0

    def table(self, rows: Table, size: int = 11) -> None:
        """Headings again on every page; cells wrap."""
        if not rows:
            return
        widths = _widths(rows, self.width, size)
        head, *body = rows
        self._row(head, widths, size, bold=True)
        for row in body:
            tall = self._tall(row, widths, size)
            if self.y + tall > self.height - 22.0:
                self.new_page()
                self._row(head, widths, size, bold=True)
            self._row(row, widths, size)

    def _lines(self, row: Sequence[str], widths: Sequence[float], size: int, *, bold: bool = False) -> list[list[str]]:
        face = font(size, 600 if bold else 400)
        made = []
        for cell, width in zip(row, widths, strict=False):
            lines = wrapped(cell, face, width - GAP) or [""]
            made.append([elided(line, face, width - GAP) for line in lines])
        return made

    def _tall(self, row: Sequence[str], widths: Sequence[float], size: int, *, bold: bool = False) -> float:
        return 1.35 * size * max(len(lines) for lines in self._lines(row, widths, size, bold=bold)) + 5.0

    def _row(self, row: Sequence[str], widths: Sequence[float], size: int, *, bold: bool = False) -> None:
        lines = self._lines(row, widths, size, bold=bold)
        tall = self._tall(row, widths, size, bold=bold)
        self.room(tall)
        x = 0.0
        for cell, width in zip(lines, widths, strict=False):
            for k, line in enumerate(cell):
                self.painter.setPen(self.theme.ink)
                self._line(line, font(size, 600 if bold else 400), x, self.y + 1.35 * size * (k + 1))
            x += width
        self.y += tall
        self.painter.fillRect(QRectF(0.0, self.y - 1.5, self.width, 0.6), self.theme.rule)

    def end(self) -> int:
        """Number of pages."""
        self.painter.end()
        return self.page


def _widths(rows: Table, room: float, size: int) -> list[float]:
    """As wide as the cells ask for; where they ask for too much the widest give in."""
    face = font(size, 600)
    many = max(len(row) for row in rows)
    asked = [max((text_width(row[k], face) for row in rows if k < len(row)), default=0.0) + GAP for k in range(many)]
    if sum(asked) <= room:
        return asked
    low, high = LEAST_CELL, max(asked)
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if sum(min(one, middle) for one in asked) < room else (low, middle)
    return [min(one, low) for one in asked]


def write_pdf(report: Report, pictures: Mapping[str, QPicture], path: Path) -> int:
    """On A4; the number of its pages.  Pictures by section."""
    paper = Paper(path, report.title)
    paper.words(report.vehicle, 24, bold=True)
    paper.words(f"Variant {report.variant}, {report.made}", 13, ink=paper.theme.soft)
    paper.gap(4)
    paper.words(report.drive, 13)
    if report.note:
        paper.words(report.note, 12)
    paper.gap(6)
    for caution in report.cautions:
        paper.words(caution, 11, ink=paper.theme.soft)
    if report.goals:
        _head(paper, "Goals")
        paper.table(report.goals)
    for one in report.sections:
        _section(paper, one, pictures.get(one.code))
    _head(paper, "Assumed")
    if report.assumed:
        paper.words(f"{len(report.assumed)} of {report.inputs} inputs nobody measured or stated:")
        paper.table((("what", "value"), *report.assumed))
    else:
        paper.words("Every input is measured or stated.")
    if report.not_checked:
        _head(paper, "Not checked")
        for title in report.not_checked:
            paper.words(title, 11)
    if report.left_out:
        paper.gap(6)
        paper.words(f"Left out of this report: {', '.join(report.left_out)}.", 11, ink=paper.theme.soft)
    return paper.end()


def _head(paper: Paper, title: str, below: float = 0.0) -> None:
    """A heading, with what it heads on the same page."""
    paper.gap(14)
    paper.room(max(80.0, 40.0 + below))
    paper.words(title, 17, bold=True)
    paper.gap(3)


def _section(paper: Paper, one: Section, picture: QPicture | None) -> None:
    _head(paper, one.title, paper.picture_height + 40.0 if picture is not None else 0.0)
    if one.headline:
        paper.words(one.headline, 12, ink=paper.theme.soft)
    if one.missing:
        paper.words(one.missing)
    if picture is not None:
        paper.picture(picture)
    inks = {"over": paper.theme.over, "tight": paper.theme.tight}
    for told in one.findings:
        ink, mark = inks.get(told.status, paper.theme.soft), " ≈" if told.assumed else ""
        paper.words(f"{MARKS.get(told.status, '')} {told.status}: {told.title}{mark}", 11, bold=True, ink=ink)
        if told.because:
            paper.words(told.because, 11, ink=paper.theme.soft, indent=12.0)
    if one.table:
        paper.gap(4)
        paper.table(one.table)
