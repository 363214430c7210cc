"""What leaves the window and what is dropped on it: clipboard, printer, files."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QMimeData, QRectF, QSizeF
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QImage, QPainter
from PySide6.QtWidgets import QMainWindow

from wattagon.design import catalogue
from wattagon.design.parts import PART_KINDS
from wattagon.desk import theme as looks
from wattagon.desk.bench import Picture
from wattagon.desk.benches import BENCHES, Entry
from wattagon.desk.session import Session
from wattagon.desk.worklist import WorkList

if TYPE_CHECKING:
    from wattagon.desk.report.dialog import ReportDialog
    from wattagon.desk.report.hand_on import HandOnDialog

DESIGNS = (".wattagon", ".json")
PRINT_MARGIN = 0.04  # of the page


class ShareActions(QMainWindow):
    """The part of the main window that hands things over."""

    session: Session
    reporting: ReportDialog | None = None
    handing_on: HandOnDialog | None = None
    work: WorkList
    bench: Callable[[str], Any]
    show_bench: Callable[[str], None]
    open_path: Callable[[Path], bool]

    @property
    def _title(self) -> str:
        return f"{self.session.design.vehicle.name}, {self.work.current}"

    def copy_picture(self) -> None:
        """The picture of the bench in view, with what it shows as text for whoever pastes text."""
        view = self.bench(self.work.current).picture
        theme = looks.THEMES[self.session.theme_name]
        image = QImage(view.size() * 2, QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(2.0)
        image.fill(theme.paper)
        painter = QPainter(image)
        try:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            view.paint_on(painter, QRectF(0, 0, view.size().width(), view.size().height()))
        finally:
            painter.end()
        data = QMimeData()
        data.setImageData(image)
        data.setText(f"{self._title}: {view.spoken()}")
        QGuiApplication.clipboard().setMimeData(data)
        self.session.told.emit("The picture is on the clipboard", False)

    def copy_table(self) -> None:
        """What the bench in view shows, as rows with tabs between the cells."""
        rows = self.bench(self.work.current).table()
        if not rows:
            self.session.told.emit("There is no table to copy here yet", True)
            return
        QGuiApplication.clipboard().setText("\n".join("\t".join(cell.replace("\t", " ") for cell in row) for row in rows))
        self.session.told.emit(f"{len(rows) - 1} rows are on the clipboard", False)

    def make_report(self) -> None:
        """What the benches show, chosen by ticks, as a page, as paper or as text."""
        from wattagon.desk.report.dialog import ReportDialog

        if self.reporting is not None:
            self.reporting.deleteLater()
        self.reporting = ReportDialog(self)
        self.reporting.show()

    def make_bundle(self) -> None:
        """Design, report, papers and settings in one file, without what is private."""
        self._hand_on("bundle")

    def make_workshop_set(self) -> None:
        """The papers for the workshop as one PDF."""
        self._hand_on("workshop")

    def _hand_on(self, kind: str) -> None:
        from wattagon.desk.report.hand_on import HandOnDialog

        if self.handing_on is not None:
            self.handing_on.reject()
            self.handing_on.deleteLater()
        self.handing_on = HandOnDialog(self, kind)
        self.handing_on.show()

    def print_chart(self) -> None:
        """Print the picture of the bench in view; the dialog of the system chooses printer, page and file."""
        from PySide6.QtPrintSupport import QPrintDialog, QPrinter

        from wattagon.desk.passing import ask

        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setDocName(self._title)
        if ask(QPrintDialog(printer, self)):
            self.print_on(printer)

    def print_on(self, printer: Any) -> None:
        """The picture of the bench in view on a page, as large as it fits, in the light scheme that paper asks for."""
        view: Picture = self.bench(self.work.current).picture
        page = QRectF(printer.pageLayout().paintRectPixels(printer.resolution()))
        page.moveTo(0.0, 0.0)
        room = page.adjusted(*(sign * PRINT_MARGIN * page.width() for sign in (1, 1, -1, -1)))
        size = QSizeF(view.size())
        scale = min(room.width() / max(size.width(), 1.0), room.height() / max(size.height(), 1.0))
        scheme, self.session.theme_name = self.session.theme_name, "light"
        painter = QPainter(printer)
        try:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(room.topLeft())
            painter.scale(scale, scale)
            view.paint_on(painter, QRectF(0.0, 0.0, size.width(), size.height()))
        finally:
            painter.end()
            self.session.theme_name = scheme
        self.session.told.emit(f"Printed: {self._title}", False)

    # what is dropped

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.isLocalFile() for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        event.acceptProposedAction()
        self.take_files(paths)

    def take_files(self, paths: list[Path]) -> None:
        """Open files where they belong: vehicles beside those that are open, tables of parts in the own stock, the rest on a bench."""
        for path in paths:
            kind = next((kind for kind in PART_KINDS if path.name.lower() == f"{kind.stock}.csv"), None)
            entry = self._taker(path)
            if path.suffix.lower() in DESIGNS:
                self.open_path(path)
            elif kind is not None:
                self._take_parts(path)
            elif entry is not None and self.session.docs:
                self.show_bench(entry.code)
                self.bench(entry.code).open_file(path)
            elif entry is not None:
                self.session.told.emit(f"{path.name} needs a vehicle: open one first", True)
            else:
                known = ", ".join((*DESIGNS, *(ending for one in BENCHES for ending in one.drops)))
                self.session.told.emit(
                    f"{path.name} cannot be opened here; accepted: {known}, or a table of parts such as motors.csv", True
                )

    def _taker(self, path: Path) -> Entry | None:
        """The bench that a file is for: the one in front if it takes such files, else the first that does; a table of a ride is a log."""
        able = [entry for entry in BENCHES if path.suffix.lower() in entry.drops]
        front = next((entry for entry in able if entry.code == self.work.current), None)
        if front is not None or len(able) < 2:
            return front or next(iter(able), None)
        from wattagon.exchange.log.heads import recorded

        logs = next((entry for entry in able if entry.code == "log"), able[0])
        return logs if recorded(path) else able[0]

    def _take_parts(self, path: Path) -> None:
        """A table of parts goes into the folder of the user's own; one that is there already stays."""
        folder = self.session.stock_folder or catalogue.own_folder()
        target = folder / path.name.lower()
        if target.exists():
            self.session.told.emit(f"{target} is there already; add the rows to it", True)
            return
        try:
            folder.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(path, target)
        except OSError as error:
            self.session.told.emit(f"{path.name} was not taken into your own parts: {error.strerror or error}", True)
            return
        self.session.reload_stock()
