"""The wiring bench: the power path in one line, the piece in hand below it, other parts of stock beside."""

from __future__ import annotations

import math
from functools import partial
from pathlib import Path
from typing import cast

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSplitter,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from wattagon import files
from wattagon.design.paths import Edit
from wattagon.design.tree import Piece
from wattagon.desk.bench import Bench
from wattagon.desk.chart.ink import elided
from wattagon.desk.fields import heading, scrolled, soft_line
from wattagon.desk.following import Following
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.desk.wiring.pane import Pane
from wattagon.desk.wiring.panes import PANES
from wattagon.desk.wiring.picture import PathPicture
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.study.ride.words import distance_text
from wattagon.study.wiring.pieces import WORDS, Held
from wattagon.study.wiring.study import WiringStudy
from wattagon.study.wiring.ways import Way, in_order, stepped, ways, with_wiring

HINT = "Left and right choose a piece, up and down step it through stock. Squares: amps against seconds, loads under the piece's curve."
WAIT = "The wiring is being worked out: the rides first, then what every piece bears."
# what can be added, by branch
ADD = (
    ("pack", ("lead", "fuse", "joint", "key", "contactor", "switch", "board", "meter")),
    ("brick", ("lead", "fuse", "joint")),
    ("controller", ("lead", "fuse", "joint")),
    ("phase", ("joint", "lead")),
    ("charge", ("joint", "fuse", "lead", "switch")),
    ("aux", ("converter", "fuse", "lead", "meter")),
    ("brake", ("lead", "contactor", "resistor")),
)


class WiringBench(Following, Bench):
    """Every piece from cells to phase leads."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("wiring-bench")
        self.drawing = PathPicture(session)
        self.picture = self.drawing
        self.drawing.chosen_changed.connect(lambda _code: self._show_piece())
        self.drawing.stepped.connect(self.step)
        self.ways_of = ""  # the piece whose other parts are listed
        self._ways_soon = QTimer(self, singleShot=True, interval=120)
        self._ways_soon.timeout.connect(self._ask_ways)
        self._ways_worker = Worker(self)
        self._ways_worker.arrived.connect(self._show_ways)
        session.closing.connect(self._ways_worker.stop)
        self._variant = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Wiring"))
        head.addWidget(self._variant, 1)
        self.more = QPushButton("Add a piece", objectName="add-piece", flat=True)
        menu = QMenu(self.more)
        for branch, kinds in ADD:
            section = menu.addMenu({"pack": "In the pack's path", "aux": "Beside the drive"}.get(branch, f"{branch.capitalize()} branch"))
            for kind in kinds:
                section.addAction(WORDS[kind], partial(self.add, kind, branch))
        self.more.setMenu(menu)
        self.out = QPushButton("Save", objectName="save-wiring", flat=True)
        paper = QMenu(self.out)
        for words, what in (
            ("Schematic, all wires…", "all"),
            ("Schematic, one line…", "one"),
            ("Cut and drilling list…", "cut"),
            ("Cut list for printing…", "pdf"),
        ):
            paper.addAction(words, partial(self.ask_save, what))
        self.out.setMenu(paper)
        head.addWidget(self.more)
        head.addWidget(self.out)
        self.tabs = QTabWidget(documentMode=True, objectName="wiring-tabs")
        self.panes: list[Pane] = [pane(session) for pane in PANES]
        for pane in self.panes:
            self.tabs.addTab(pane, pane.title)
        self.ways = scrolled()
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(4, 4, 2, 2)
        column.addWidget(heading("Other parts"))
        column.addWidget(self.ways, 1)
        low = QSplitter(Qt.Orientation.Horizontal, childrenCollapsible=False, handleWidth=8)
        low.addWidget(self.tabs)
        low.addWidget(side)
        self.tabs.currentChanged.connect(lambda k: side.setVisible(self.panes[k].of_piece))
        low.setStretchFactor(0, 5)
        low.setStretchFactor(1, 2)
        low.setSizes([570, 280])
        self.put_together(head, self.drawing, low, (360, 200), HINT)
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self.followed)
        session.moment_changed.connect(self.drawing.update)
        session.schedule.arrived.connect(lambda code: self.followed() if code == "wiring" else None)
        self._behind = True

    @property
    def found(self) -> WiringStudy | None:
        """What is shown."""
        return self.drawing.found

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy or self._ways_soon.isActive() or self._ways_worker.running

    def refresh(self) -> None:
        session, found, problem = self._session, None, ""
        stale = "wiring" in session.schedule.stale
        session.schedule.hurry("wiring")
        if not session.docs or session.study is None:
            problem = session.problem or "No vehicle is open."
        else:
            arrived = session.schedule.results.get("wiring")
            if arrived is not None and arrived.study.design.active == session.design.active:
                found = arrived.study
            problem = "" if found is not None else WAIT
        self.drawing.show_path(found, problem, stale)
        self._variant.setText(self._says(found))
        self._show_piece()

    def _says(self, found: WiringStudy | None) -> str:
        if found is None:
            return ""
        say, variant = self._session.say, found.resolved.variant
        words = f"{variant.id} {variant.name}: {'proposed, ' if found.proposed else ''}{say(found.total_loss_w, 'power')} lost at the worst"
        if math.isfinite(found.range_lost_m):
            words += f", {distance_text(found.range_lost_m, say)} of range"
        return f"{words}; {found.drop('peak'):.1%} drop at the peak"

    def _piece(self) -> Held | None:
        return self.found.piece(self.drawing.chosen) if self.found is not None else None

    def _show_piece(self) -> None:
        one = self._piece()
        for pane in self.panes:
            pane.show_path(self.found, one)
        self._ways_soon.start()

    # other parts

    def _ask_ways(self) -> None:
        """What stock has in its place, worked out beside the window: curves of many parts take a second."""
        one, found, stock = self._piece(), self.found, self._session.stock
        if one is None or found is None:
            self._ways_worker.cancel()
            self._show_ways(("", []))
            return
        if self.ways_of != one.code:
            self._show_ways(("", []))  # those of another piece are not to be taken for it
        self._ways_worker.start(lambda cancelled: (one.code, ways(found, one, stock, most=14, cancelled=cancelled)))

    def _show_ways(self, result: object) -> None:
        code, options = cast("tuple[str, list[Way]]", result)
        one, session = self._piece(), self._session
        if code and one is not None and code != one.code:
            return  # another one is in hand by now
        self.ways_of = code
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.setSpacing(2)
        now = session.stock.find(one.laid.piece.part) if one is not None and one.laid.piece.part else None
        size = {part.id: k for k, part in enumerate(in_order(one.laid.piece, session.stock))} if one is not None else {}
        for k, way in enumerate(options):
            up = now is None or size.get(way.part.id, 0) > size.get(now.id, 0)
            share = f"{way.share:.0%}" if math.isfinite(way.share) else "not known"
            text = elided(f"{'▲' if up else '▼'} {share}  {way.part.name}", font(13), 236.0)
            button = QPushButton(text, objectName=f"way-{k}", flat=True)
            button.setStyleSheet("text-align: left")
            loss = f"{session.say(way.loss_w, 'power')} lost, {session.say(way.mass_kg, 'mass')}"
            price = session.say(way.price, "money")
            button.setToolTip(f"{way.status.value.replace('_', ' ')}; {way.part.name}: {price}, {loss}. Take it")
            button.clicked.connect(partial(self._take, way.edit))
            column.addWidget(button)
        if not options:
            words = "Nothing else of stock stands in its place." if code else "Being worked out." if one is not None else ""
            column.addWidget(soft_line(words, 12))
        column.addStretch(1)
        swap_contents(self.ways, page)

    def _take(self, edit: Edit, _on: bool = False) -> None:
        self._session.try_apply(edit)

    def step(self, by: int) -> None:
        """The piece in hand to the next part of stock."""
        one, found = self._piece(), self.found
        if one is None or found is None:
            return
        edit = stepped(found, one, self._session.stock, by)
        if edit is None:
            self._session.told.emit(f"{one.name}: stock has nothing {'larger' if by > 0 else 'smaller'}", True)
            return
        self._session.try_apply(edit)

    def add(self, kind: str, branch: str) -> None:
        """A piece more at the end of its branch, in hand at once; a proposed path becomes the design's own."""
        found = self.found
        if found is None:
            self._session.told.emit("The path is still being worked out", True)
            return
        names = {piece.id for piece in found.told.pieces}
        code = next(f"{kind}-{k}" for k in range(1, 999) if f"{kind}-{k}" not in names)
        made = Piece(id=code, kind=kind, branch=branch, name=f"{WORDS[kind]} {code.rpartition('-')[2]}")
        options = in_order(made, self._session.stock)
        if options:
            made = Piece(id=code, kind=kind, branch=branch, name=made.name, part=options[len(options) // 2].id)
        if self._session.try_apply(with_wiring(found, f"add {WORDS[kind]}", pieces=(*found.told.pieces, made))):
            self.drawing.chosen = code

    # paper

    def ask_save(self, what: str) -> None:
        """Where to write a schematic or a list."""
        suffix = {"all": "svg", "one": "svg", "cut": "csv", "pdf": "pdf"}[what]
        name, _ = QFileDialog.getSaveFileName(self, "Save", f"wiring.{suffix}", f"{suffix.upper()} (*.{suffix})")
        if name:
            self.save(what, Path(name))

    def save(self, what: str, path: Path) -> None:
        """Into a file; a refusal is told."""
        from wattagon.exchange.wiring_out import cut_csv, cut_pdf, schematic

        found, session = self.found, self._session
        if found is None:
            return
        try:
            if what == "pdf":
                files.write_bytes(path, cut_pdf(found, session.stock, session.unit_set))
            elif what == "cut":
                files.write_bytes(path, cut_csv(found, session.stock).encode())
            else:
                files.write_bytes(path, schematic(found, session.stock, every_wire=what == "all").encode())
        except WattagonError as refusal:
            session.told.emit(str(refusal), True)
            return
        session.told.emit(f"Written: {path}", False)

    # what the window asks

    def show_target(self, what: str) -> None:
        self.refresh()
        for pane in self.panes:
            if what and pane.title.lower().startswith(what):
                self.tabs.setCurrentWidget(pane)
                return
        self.drawing.choose(what)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        say, rows = self._session.say, [["piece", "branch", "for long", "bears", "share", "temperature", "status"]]
        for one in self.found.pieces:
            bears = say(one.bears.rating_a, "current") if math.isfinite(one.bears.rating_a) else ""
            warm = say(one.temperature_c, "temperature") if math.isfinite(one.temperature_c) else ""
            share = f"{one.worst:.0%}" if math.isfinite(one.worst) else ""
            rows.append([one.name, one.branch.name, say(one.rms_a, "current"), bears, share, warm, one.status.value])
        return rows
