"""How sure the figures of the drives in hand are: worked out one after the other on a thread, and drawn as strokes that fade."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from PySide6.QtCore import QObject, QPointF, QRectF, Signal
from PySide6.QtGui import QColor, QLinearGradient, QPainter

from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import with_alpha
from wattagon.desk.work import Worker
from wattagon.study.bands.bands import Band
from wattagon.study.finder.space import Row

THICK, SOLID, FAINT = 9.0, 0.6, 0.10


class SureHits(QObject):
    """Bands of the chosen and the marked; kept as long as their search is shown."""

    changed = Signal()

    def __init__(self, session: Session, book: FinderBook) -> None:
        super().__init__(book)
        self._session, self._book = session, book
        self._of: object = None  # the search
        self._kept: dict[Row, Mapping[str, Band]] = {}
        self._asked: Row | None = None
        self.worker = Worker(self)
        self.worker.arrived.connect(self._arrived)
        session.closing.connect(self.worker.stop)
        book.changed.connect(self.follow)

    def bands(self, row: Row) -> Mapping[str, Band]:
        """Of one hit by its figures' names; empty while they are not worked out."""
        return self._kept.get(row, {})

    def follow(self) -> None:
        """Begin with the first of those in hand that is missing."""
        book = self._book
        if book.found is not self._of:
            self._of, self._kept, self._asked = book.found, {}, None
            self.worker.cancel()
        if book.running or book.found is None or book.found.design is None:
            return
        wanted = [book.points[k] for k in dict.fromkeys((book.chosen, *book.marked)) if 0 <= k < len(book.points)]
        hit = next((one for one in wanted if one.row not in self._kept), None)
        row = hit.row if hit is not None else None
        if row == self._asked:
            return
        self._asked = row
        self.worker.cancel()
        if hit is None:
            return
        design, stock, variant, key = book.found.design, self._session.stock, hit.variant, hit.row

        def work(cancelled: Callable[[], bool]) -> object:
            from wattagon.study.finder.sure import sure

            return key, sure(design, stock, variant, cancelled) or {}

        self.worker.start(work)

    def _arrived(self, made: object) -> None:
        assert isinstance(made, tuple)
        self._kept[made[0]] = made[1]
        self._asked = None
        self.changed.emit()
        self.follow()


def paint_band(p: QPainter, at: QPointF, ends: tuple[float, float], colour: QColor, area: QRectF, *, across: bool) -> None:
    """From a find to both ends of its band [px], fading towards them."""
    middle = at.x() if across else at.y()
    for end in ends:
        far = min(max(end, area.left() if across else area.top()), area.right() if across else area.bottom())
        if not math.isfinite(end) or abs(far - middle) < 1.0:
            continue
        tip = QPointF(far, at.y()) if across else QPointF(at.x(), far)
        fade = QLinearGradient(at, tip)
        fade.setColorAt(0.0, with_alpha(colour, SOLID))
        fade.setColorAt(1.0, with_alpha(colour, FAINT))
        half = QPointF(0.0, 0.5 * THICK) if across else QPointF(0.5 * THICK, 0.0)
        p.fillRect(QRectF(at - half, tip + half).normalized(), fade)
