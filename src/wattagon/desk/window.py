"""The main window: ribbon, work list, bench, findings, status line, and the actions that tie them together."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, cast

from PySide6.QtCore import QByteArray, QEvent, QFileSystemWatcher, QRectF, Qt, QTimer
from PySide6.QtGui import QAction, QActionGroup, QCloseEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMenuBar,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.paths import Edit
from wattagon.desk import theme as looks
from wattagon.desk.bench import Bench
from wattagon.desk.benches import BENCHES, FIRST, keys_of
from wattagon.desk.file_actions import FileActions
from wattagon.desk.findings_panel import FindingsPanel
from wattagon.desk.help_actions import HelpActions
from wattagon.desk.recovery import Recovery
from wattagon.desk.ribbon import Ribbon
from wattagon.desk.session import Session
from wattagon.desk.settings import SettingsFile
from wattagon.desk.share_actions import ShareActions
from wattagon.desk.status import StatusLine
from wattagon.desk.variant_actions import VariantActions
from wattagon.desk.welcome import Welcome
from wattagon.desk.worklist import WorkList
from wattagon.errors import WattagonError
from wattagon.exchange.units import SETS
from wattagon.study.resolve import CHARGE_STATES
from wattagon.study.studies import loaded

LEAST = (1090, 655)  # on a smaller screen the window scrolls


class MainWindow(FileActions, VariantActions, ShareActions, HelpActions, QMainWindow):
    """Everything on screen; all edits go through the session."""

    def __init__(self, session: Session, settings: SettingsFile, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.session, self._settings, self.recovery = session, settings, recovery
        session.person = settings
        self._bars = QVBoxLayout()
        self.going = False  # an end that asks nothing
        self.setMinimumSize(480, 320)
        self.resize(1280, 800)
        self.setObjectName("window")
        self.setAcceptDrops(True)
        self.ribbon = Ribbon(session)
        self.work = WorkList(session, BENCHES)
        self.benches: dict[str, Bench] = {}
        self.stack = QStackedWidget()
        self.findings = FindingsPanel(session)
        self.status = StatusLine(session)
        self._welcome: Welcome | None = None
        self._assemble()
        self._actions()
        session.documents_changed.connect(self._documents)
        session.design_changed.connect(self._retitle)
        session.looks_changed.connect(self._dress)
        self.work.asked.connect(self._asked)
        self.ribbon.asked.connect(self.show_link)
        self._watcher = QFileSystemWatcher(self)
        self._stock_timer = QTimer(self, singleShot=True, interval=200)
        self._stock_timer.timeout.connect(session.reload_stock)
        self._watcher.directoryChanged.connect(self._stock_timer.start)
        self._watcher.fileChanged.connect(self._stock_timer.start)
        self._documents()
        self.show_bench(FIRST)

    def _assemble(self) -> None:
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(0)
        body.addWidget(self.work)
        body.addWidget(self.stack, 1)
        body.addWidget(self.findings)
        centre = QWidget()
        layout = QVBoxLayout(centre)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addLayout(self._bars)
        layout.addWidget(self.ribbon)
        layout.addLayout(body, 1)
        layout.addWidget(self.status)
        centre.setMinimumSize(*LEAST)
        around = QScrollArea(widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
        around.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        around.setWidget(centre)
        self.setCentralWidget(around)

    def bench(self, code: str) -> Any:
        """A bench, made when it is first wanted."""
        if code not in self.benches:
            made: Bench = loaded(next(entry.widget for entry in BENCHES if entry.code == code))(self.session)
            self.benches[code] = made
            self.stack.addWidget(made)
            made.asked.connect(self._to_target)
            made.other_findings.connect(self._other_findings)
            made.side_by_side.connect(self.compare_designs)
        return self.benches[code]

    def _other_findings(self, other: tuple[Any, str, str] | None) -> None:
        """The findings of what a bench has chosen, or those of the design again."""
        if other is None:
            self.findings.show_other(None)
        else:
            self.findings.show_other(*other)

    def show_bench(self, code: str) -> None:
        """Bring a bench to the front; one that does not apply says why."""
        if self.session.docs and (reason := next(entry for entry in BENCHES if entry.code == code).why_not(self.session.design)):
            self.session.told.emit(reason, True)
            return
        self.work.show_bench(code)
        if not self.session.docs:
            return
        bench = self.bench(code)
        self.stack.setCurrentWidget(bench)
        self.findings.show_bench(code)
        if not self.ribbon.hasFocus():
            bench.focus_first()
        for action in self._bench_actions:
            action.setChecked(action.data() == code)

    @property
    def busy(self) -> bool:
        """Whether the bench in front still waits for what it shows."""
        return any(bench.isVisible() and bench.busy for bench in self.benches.values())

    def show_link(self, link: str) -> None:
        """From a link of the ribbon to what belongs to it."""
        code = next(entry.code for entry in BENCHES if link in entry.links)
        self.show_bench(code)
        self.bench(code).show_link(link)

    def _to_target(self, code: str, what: str) -> None:
        self.show_bench(code)
        self.bench(code).show_target(what)

    def _run_on(self, code: str, run: Callable[[Any], object]) -> None:
        self.show_bench(code)
        run(self.bench(code))

    def _asked(self, code: str) -> None:
        if code == "new-variant":
            self.new_variant()
        else:
            self.show_bench(code)

    # actions

    def _act(self, menu: QMenu, words: str, run: Callable[[], object], keys: QKeySequence | str | QKeySequence.StandardKey = "") -> QAction:
        action = QAction(words, self)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _on=False: run())
        menu.addAction(action)
        self.commands.append(action)
        return action

    def _actions(self) -> None:
        self.commands: list[QAction] = []
        self._needs_doc: list[QAction] = []
        self._on: list[tuple[QAction, str]] = []  # actions that only wheels, or only boats, have
        bar = self.menuBar()
        std = QKeySequence.StandardKey
        menu = bar.addMenu("&File")
        self._act(menu, "&New vehicle …", self.new_vehicle, std.New)
        self._act(menu, "&Open …", self.open_file, std.Open)
        self._recent = menu.addMenu("Open &recent")
        self._recent.aboutToShow.connect(self._list_recent)
        self._act(menu, "Open the &demo fleet", self.open_demo)
        menu.addSeparator()
        self._needs_doc += [
            self._act(menu, "&Save", self.save, std.Save),
            self._act(menu, "Save &as …", self.save_as, "Ctrl+Shift+S"),
            self._act(menu, "Open the &previous version", self.open_previous),
            self._act(menu, "&Export the chart …", self.export_chart, "Ctrl+E"),
            self._act(menu, "Prin&t the chart …", self.print_chart, std.Print),
            self._act(menu, "&Report …", self.make_report, "Ctrl+R"),
            self._act(menu, "&Workshop set …", self.make_workshop_set),
            self._act(menu, "&Bundle to share …", self.make_bundle),
        ]
        menu.addSeparator()
        self._needs_doc.append(self._act(menu, "&Close this vehicle", self.close_vehicle, std.Close))
        self._act(menu, "&Quit", self.close, "Ctrl+Q")
        menu = bar.addMenu("&Edit")
        self.undo_action = self._act(menu, "Undo", self.session_undo, std.Undo)
        self.redo_action = self._act(menu, "Redo", self.session_redo, "Ctrl+Shift+Z")
        menu.addSeparator()
        self._needs_doc += [
            self._act(menu, "Copy the &picture", self.copy_picture, "Ctrl+Shift+C"),
            self._act(menu, "Copy as a &table", self.copy_table, "Ctrl+Alt+C"),
        ]
        menu.addSeparator()
        self._needs_doc += [
            self._act(menu, "&New variant from this one", self.new_variant, "Ctrl+D"),
            self._act(menu, "&Rename this variant …", self.rename_variant),
            self._act(menu, "Note on this &variant …", self.note_variant),
            self._act(menu, "&Delete this variant", self.delete_variant),
            self._act(menu, "&Compare variants …", self.compare_variants, "Ctrl+Shift+V"),
        ]
        self._view_menu(bar.addMenu("&View"))
        menu = bar.addMenu("&Go")
        self._bench_actions: list[QAction] = []
        for k, entry in enumerate(BENCHES):
            action = self._act(menu, entry.name, partial(self.show_bench, entry.code), keys_of(k))
            action.setCheckable(True)
            action.setData(entry.code)
            self._bench_actions.append(action)
        self._needs_doc += self._bench_actions
        menu.addSeparator()
        self._needs_doc += [
            self._act(menu, "Next vehicle", lambda: self._cycle(1), "Ctrl+PgDown"),
            self._act(menu, "Previous vehicle", lambda: self._cycle(-1), "Ctrl+PgUp"),
            self._act(menu, "Next variant", lambda: self._cycle_variant(1), "Ctrl+Shift+PgDown"),
            self._act(menu, "Next bench", lambda: self._cycle_bench(1), "Ctrl+Tab"),
            self._act(menu, "Previous bench", lambda: self._cycle_bench(-1), "Ctrl+Shift+Tab"),
            self._act(menu, "Findings list", self.findings.list.setFocus, "Ctrl+J"),
        ]
        self._bench_menus(bar)
        menu = bar.addMenu("&Help")
        self._act(menu, "&All actions …", self.show_palette, "Ctrl+K")
        self._act(menu, "Keys and &mouse", self.show_keys, "F1")
        self._act(menu, "In plain &words …", self.show_words, "Shift+F1")
        self._needs_doc.append(self._act(menu, "Wh&y this number …", self.show_why, "F4"))
        self._act(menu, "Your own &parts", self.show_parts_folder)
        self._act(menu, "A&bout", self.show_about)

    def _bench_menus(self, bar: QMenuBar) -> None:
        """What the benches offer, in the menus that they name."""
        menus: dict[str, QMenu] = {action.text(): cast(QMenu, action.menu()) for action in bar.actions()}
        for entry in BENCHES:
            for offered in entry.action_list():
                menu = menus.get(offered.menu)
                if menu is None:
                    menu = menus[offered.menu] = bar.addMenu(offered.menu)
                if offered.line_before:
                    menu.addSeparator()
                action = self._act(menu, offered.words, partial(self._run_on, entry.code, offered.run), offered.keys)
                self._needs_doc.append(action)
                if offered.on:
                    self._on.append((action, offered.on))

    def _view_menu(self, menu: QMenu) -> None:
        findings = self._act(menu, "&Findings beside the bench", self._toggle_findings, "F9")
        findings.setCheckable(True)
        findings.setChecked(True)
        self._findings_action = findings
        menu.addSeparator()
        for k, name in enumerate(CHARGE_STATES):
            self._needs_doc.append(
                self._act(
                    menu, f"Moment with a {name} pack", partial(self.session.set_moment, charge=CHARGE_STATES[name]), f"Ctrl+Alt+{k + 1}"
                )
            )
        menu.addSeparator()
        self._groups = {"units": QActionGroup(self), "theme": QActionGroup(self)}
        for name in SETS:
            action = self._act(menu, f"{name.capitalize()} units", partial(self.set_looks, units=name))
            action.setData(name)
            action.setCheckable(True)
            self._groups["units"].addAction(action)
        menu.addSeparator()
        for name in looks.THEMES:
            action = self._act(menu, f"{name.capitalize()} colours", partial(self.set_looks, theme=name))
            action.setData(name)
            action.setCheckable(True)
            self._groups["theme"].addAction(action)
        self._act(
            menu,
            "Switch light and dark",
            lambda: self.set_looks(theme="dark" if self.session.theme_name == "light" else "light"),
            "Ctrl+Shift+D",
        )
        self._tick_looks()

    def _tick_looks(self) -> None:
        for key, value in (("units", self.session.unit_set), ("theme", self.session.theme_name)):
            for action in self._groups[key].actions():
                action.setChecked(action.data() == value)

    def set_looks(self, *, units: str | None = None, theme: str | None = None) -> None:
        """Other units or colours, remembered."""
        self.session.set_looks(unit_set=units, theme=theme)
        self._settings.change(units=self.session.unit_set, theme=self.session.theme_name)

    def _dress(self) -> None:
        app = QApplication.instance()
        if isinstance(app, QApplication):
            looks.apply(app, looks.THEMES[self.session.theme_name])
        self._tick_looks()

    def _toggle_findings(self) -> None:
        shown = not self.findings.isVisible()
        self.findings.setVisible(shown)
        self._findings_action.setChecked(shown)

    # documents

    def _documents(self) -> None:
        session = self.session
        has = bool(session.docs)
        for action in self._needs_doc:
            action.setEnabled(has)
        if self.session.docs:
            here = "water" if self.session.design.vehicle.kind.floats else "wheels"
            for action, on in self._on:
                action.setVisible(on == here)
        if has:
            if self._welcome is not None and self.stack.currentWidget() is self._welcome:
                self.show_bench(self.work.current)
        else:
            if self._welcome is None:
                self._welcome = Welcome(self._settings.values.recent)
                self._welcome.asked.connect(self._welcomed)
                self._welcome.reopen.connect(lambda name: self.open_path(Path(name)))
                self.stack.addWidget(self._welcome)
            self.stack.setCurrentWidget(self._welcome)
        for part in (self.ribbon, self.findings, self.work):
            part.setVisible(has and (part is not self.findings or self._findings_action.isChecked()))
        self._undo_words()
        self._retitle()
        self._recent.setEnabled(bool(self._settings.values.recent))

    def _undo_words(self) -> None:
        has = bool(self.session.docs)
        undo = self.session.doc.undo if has else None
        self.undo_action.setEnabled(undo is not None and undo.canUndo())
        self.redo_action.setEnabled(undo is not None and undo.canRedo())
        self.undo_action.setText(f"Undo: {undo.undoText()}" if undo is not None and undo.canUndo() else "Undo")
        self.redo_action.setText(f"Redo: {undo.redoText()}" if undo is not None and undo.canRedo() else "Redo")

    def _retitle(self) -> None:
        if not self.session.docs:
            self.setWindowTitle("Wattagon")
            return
        doc = self.session.doc
        self.setWindowTitle(f"{doc.design.vehicle.name}[*] - Wattagon")
        self.setWindowModified(doc.unsaved)
        self._undo_words()

    def remember_place(self) -> None:
        """Where the window stands, what is open and which bench is in view: they come back at the next start."""
        place = bytes(self.saveGeometry().toBase64().data()).decode("ascii")
        names = tuple(str(doc.path) for doc in self.session.docs if doc.path is not None)
        self._settings.change(place=place, open=names, bench=self.work.current)

    def come_back(self) -> None:
        """As it was left: place and size, files that are still there, bench."""
        values = self._settings.values
        if values.place:
            self.restoreGeometry(QByteArray.fromBase64(values.place.encode("ascii")))
        for name in values.open:
            if os.path.isfile(name):
                self.open_path(Path(name))
        if self.session.docs and any(entry.code == values.bench for entry in BENCHES):
            self.show_bench(values.bench)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.remember_place()
        if self.going:
            self.session.rest()  # what was kept is offered at the next start
        elif self._may_lose(self.session.docs):
            self.session.forget_recovery()
        else:
            event.ignore()
            return
        if self.comparing is not None:
            self.comparing.close()
        event.accept()

    def keep_and_go(self) -> None:
        """The session of the desktop ends: keep the work, and ask nothing when the window is then closed."""
        self.session.autosave()
        self.going = True

    def end_by(self, number: int) -> None:
        """A signal of the system: keep the work and end in order."""
        self.keep_and_go()
        for shown in QApplication.topLevelWidgets():
            if shown is not self and shown.isVisible():
                shown.close()  # a question that is open is answered by nobody
        self.close()
        QApplication.exit(128 + number)

    def changeEvent(self, event: QEvent) -> None:
        if event.type() is QEvent.Type.ActivationChange and self.isActiveWindow():
            self._stock_timer.start()  # files may have changed behind a network folder
        super().changeEvent(event)

    def watch_stock(self, folder: Path) -> None:
        """Read the catalogue again when the user's own files change."""
        if os.path.isdir(folder):
            self._watcher.addPaths([str(folder), *(str(path) for path in folder.glob("*.csv"))])

    # undo

    def session_undo(self) -> None:
        if self.session.docs:
            self.session.undo()

    def session_redo(self) -> None:
        if self.session.docs:
            self.session.redo()

    # variants and vehicles

    def _cycle(self, step: int) -> None:
        docs = self.session.docs
        self.session.activate((docs.index(self.session.doc) + step) % len(docs))

    def _cycle_bench(self, step: int) -> None:
        codes = [entry.code for entry in BENCHES if not entry.why_not(self.session.design)]
        at = codes.index(self.work.current) if self.work.current in codes else 0
        self.show_bench(codes[(at + step) % len(codes)])

    def _cycle_variant(self, step: int) -> None:
        variants = self.session.design.variants
        at = [v.id for v in variants].index(self.session.design.variant().id)
        to = variants[(at + step) % len(variants)]
        if to.id != variants[at].id:
            self.session.try_apply(Edit(label=f"Work on {to.id} {to.name}".rstrip(), changes=(("active", to.id),)))

    def export_chart(self) -> None:
        """The drawing or chart of the present bench as SVG or PNG."""
        from PySide6.QtWidgets import QFileDialog

        name = f"{self.session.design.vehicle.name.lower()}-{self.work.current}.svg"
        path, _ = QFileDialog.getSaveFileName(self, "Export the chart", name, "Vector drawing (*.svg);;Picture (*.png)")
        if path:
            self.export_to(Path(path))

    def export_to(self, path: Path) -> bool:
        """Write the chart of the present bench; a refusal is told."""
        view = self.bench(self.work.current).picture
        from wattagon.desk.chart.export import write_picture

        theme = looks.THEMES[self.session.theme_name]
        try:
            write_picture(
                path,
                view.size(),
                theme.paper,
                lambda p, rect: view.paint_on(p, QRectF(rect)),
                f"{self.session.design.vehicle.name}, {self.work.current}",
            )
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        self.session.told.emit(f"Wrote {path.name}", False)
        return True
