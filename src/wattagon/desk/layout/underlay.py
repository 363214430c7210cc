"""A photograph under the drawing: two points that were measured scale it, edges are traced on it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPixmap, QTransform
from PySide6.QtWidgets import QInputDialog

from wattagon.design.tree import Picture, Pinned
from wattagon.desk.layout.page import Page
from wattagon.errors import InputError, WattagonError
from wattagon.exchange.units import parse
from wattagon.study.layout.edits import with_layout
from wattagon.study.layout.picture import Lies, lies, traced, wrong_m

if TYPE_CHECKING:
    from wattagon.desk.layout.drawing import LayoutDrawing

SHARE = 0.8  # of the view that an unscaled picture takes
ASKED = {"first": "Click a point whose place you measured", "second": "Click a second one, far from the first"}
ASKED |= {"begin": "Click where the edge begins", "end": "Click where it ends"}


class Underlay:
    """The picture of a layout and what a hand does with it."""

    def __init__(self, drawing: LayoutDrawing) -> None:
        self._drawing = drawing
        self._pixmap = QPixmap()
        self._file = ""
        self.wants = ""  # which click comes next: first, second, begin, end
        self._kept: tuple[float, float] | Pinned | None = None

    @property
    def picture(self) -> Picture | None:
        """Of the variant in front."""
        return self._drawing.layout_now().picture

    @property
    def words(self) -> str:
        """What is asked of the hand."""
        return ASKED.get(self.wants, "")

    def _loaded(self) -> QPixmap:
        file = self.picture.file if self.picture is not None else ""
        if file != self._file:
            self._file, self._pixmap = file, QPixmap(file) if file else QPixmap()
        return self._pixmap

    def missing(self) -> bool:
        """Whether there is a picture whose file is not there."""
        return self.picture is not None and self._loaded().isNull()

    def _lies(self, page: Page, area: QRectF, *, plan: bool) -> Lies | None:
        """Where it lies; unscaled it fills the view."""
        picture, image = self.picture, self._loaded()
        if picture is None or image.isNull() or (picture.view == "above") != plan:
            return None
        placed = lies(picture)
        if placed is not None:
            return placed
        scale = SHARE * min(area.width() / image.width(), area.height() / image.height()) / page.scale
        corner = area.center() - QPointF(image.width(), image.height()) * (0.5 * scale * page.scale)
        ahead = (corner.x() - page.axle_x) / page.scale
        other = ((page.plan_y if plan else page.axle_y) - corner.y()) / page.scale
        return Lies(scale, 0.0, ahead, other)

    def paint(self, p: QPainter, page: Page, area: QRectF, *, plan: bool) -> None:
        """Softly, under all else."""
        placed = self._lies(page, area, plan=plan)
        if placed is None:
            return
        to = page.plan if plan else page.side
        origin, right, down = (to(*placed.metres(*at)) for at in ((0.0, 0.0), (1.0, 0.0), (0.0, 1.0)))
        turn = QTransform(
            right.x() - origin.x(), right.y() - origin.y(), down.x() - origin.x(), down.y() - origin.y(), origin.x(), origin.y()
        )
        p.save()
        p.setOpacity(0.45)
        p.setTransform(turn, True)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        p.drawPixmap(0, 0, self._loaded())
        p.restore()

    # what a hand does

    def put(self, file: str, view: str) -> None:
        """A picture from a file under one of the views.  Raises InputError for what is none."""
        if QPixmap(file).isNull():
            raise InputError("picture", file, "a picture such as PNG or JPEG")
        self._apply(Picture(file=file, view=view), "Picture under the drawing")

    def remove(self) -> None:
        """No picture."""
        if self.picture is not None:
            self._apply(None, "No picture")

    def _apply(self, picture: Picture | None, label: str) -> None:
        drawing = self._drawing
        drawing.session.try_apply(with_layout(drawing.session.design, replace(drawing.layout_now(), picture=picture), label))

    def scale(self) -> None:
        """Two points are asked for."""
        self.wants = "first" if self.picture is not None else ""
        self._drawing.update()

    def trace(self) -> None:
        """An edge is asked for, once the picture is scaled."""
        picture = self.picture
        if picture is None or len(picture.pins) < 2 or picture.view != "side":
            self._drawing.session.told.emit("Scale a picture from the side by two points first; then edges are traced on it.", True)
            return
        self.wants = "begin"
        self._drawing.update()

    def stop(self) -> None:
        """Nothing more is asked."""
        self.wants, self._kept = "", None
        self._drawing.update()

    def take(self, at: QPointF) -> None:
        """The next click."""
        drawing, page, picture = self._drawing, self._drawing.page, self.picture
        if page is None or picture is None:
            self.stop()
            return
        plan = picture.view == "above"
        x = (at.x() - page.axle_x) / page.scale
        other = ((page.plan_y if plan else page.axle_y) - at.y()) / page.scale
        try:
            if self.wants in ("begin", "end"):
                self._trace_at(picture, (x, other))
                return
            area = drawing.areas()[1 if plan else 0]
            placed = self._lies(page, area, plan=plan)
            if placed is None:
                raise InputError("picture", picture.file, "a picture that can be read")
            pin = self._asked(placed.pixels(x, other), plan)
            if pin is None:
                self.stop()
            elif self.wants == "first":
                self._kept, self.wants = pin, "second"
            else:
                assert isinstance(self._kept, Pinned)
                fresh = replace(picture, pins=(self._kept, pin))
                lies(fresh)
                self._apply(fresh, "Picture scaled")
                self.stop()
        except WattagonError as refusal:
            drawing.session.told.emit(str(refusal), True)
            self.stop()

    def _asked(self, pixel: tuple[float, float], plan: bool) -> Pinned | None:
        """Where a point is, as the user measured it."""
        session = self._drawing.session
        other = "to the left" if plan else "up"
        text, good = QInputDialog.getText(self._drawing, "Where is this point?", f"Ahead of the axle, and {other}, such as 0 mm, 120 mm:")
        if not good:
            return None
        parts = [part for part in text.replace(";", ",").split(",") if part.strip()]
        if len(parts) != 2:
            raise InputError("point", text, f"two lengths with a comma between them: ahead, {other}")
        ahead, up = (parse(part, "length", session.unit_set, field="point") for part in parts)
        return Pinned(column=pixel[0], row=pixel[1], ahead=ahead, other=up)

    def _trace_at(self, picture: Picture, at: tuple[float, float]) -> None:
        drawing = self._drawing
        if self.wants == "begin":
            self._kept, self.wants = at, "end"
            return
        assert isinstance(self._kept, tuple) and not isinstance(self._kept, Pinned)
        layout = drawing.layout_now()
        edge = traced(picture, self._kept, at)
        drawing.session.try_apply(with_layout(drawing.session.design, replace(layout, obstacles=(*layout.obstacles, edge)), "Edge traced"))
        wide = max(wrong_m(picture, *self._kept), wrong_m(picture, *at))
        known = drawing.session.say(round(wide, 4), "length")
        drawing.session.told.emit(f"The edge is known within {known}: perspective and the two points", False)
        self.stop()
