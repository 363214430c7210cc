"""A person at the real window who does anything: clicks, keys, drags, typed nonsense, choices, menus, undo, other sizes and colours.

All of it from a seed, so that what went wrong can be done again.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPushButton,
    QTreeWidget,
    QWidget,
)

from wattagon.design import file
from wattagon.desk.window import MainWindow

NONSENSE = (
    "",
    " ",
    "0",
    "-1",
    "1",
    "12",
    "7,5",
    "25 km/h",
    "8 in",
    "14 %",
    "90 rpm/V",
    "1e999",
    "1e308",
    "-1e308",
    "nan",
    "²",
    "12 mm (about",
    "1 9**9**9",
    "9" * 400,
    "12 m\\n",
    "ä ö ü",
    "\N{ROCKET}",
    "half \ud83d",
    "a\0b",
    "'; --",
    "..",
    "%s",
    "0x1F",
    "1/0",
    "≈ 12",
    "± 3",
    "2026-05-09",
    "2026-13-40",
    "outrunner",
    "x" * 3000,
    "none",
    "1 2 3",
    "3 parsnips",
    "0.4",
    "0.05",
    "50",
    "400",
    "2000 A",
)
KEYS = (
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
    Qt.Key.Key_Left,
    Qt.Key.Key_Right,
    Qt.Key.Key_Return,
    Qt.Key.Key_Escape,
    Qt.Key.Key_Tab,
    Qt.Key.Key_Backtab,
    Qt.Key.Key_Space,
    Qt.Key.Key_Home,
    Qt.Key.Key_End,
    Qt.Key.Key_Delete,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_0,
    Qt.Key.Key_5,
    Qt.Key.Key_A,
    Qt.Key.Key_F2,
)
SIZES = ((800, 480), (1100, 700), (1280, 800), (1920, 1080), (1000, 1400))
SLOW_S = 4.0


class Person:
    """Acts on a window; `done` has the last actions in words."""

    def __init__(self, window: MainWindow, seed: int, folder: Path) -> None:
        self.window, self.folder, self.random = window, folder, random.Random(seed)
        self.done: list[str] = []
        self.slowest = ("", 0.0)
        self.app = QApplication.instance()
        self.depth = 0
        self.ways: list[tuple[int, Callable[[], str]]] = [
            (22, self.click_somewhere),
            (14, self.press_keys),
            (12, self.type_nonsense),
            (8, self.choose),
            (10, self.drag),
            (8, self.use_action),
            (4, self.push_a_button),
            (4, self.roll),
            (3, self.open_a_menu),
            (5, self.undo_or_redo),
            (1, self.undo_all_and_redo),
            (2, self.other_size),
            (2, self.other_looks),
            (2, self.other_bench),
            (1, self.open_or_close),
            (2, self.wait),
            (1, self.list_click),
        ]

    def patches(self) -> list[mock._patch]:  # type: ignore[type-arg]
        """What stands for the dialogs of the system, and a person in every dialog of our own."""
        r = self.random
        person = self

        def in_dialog(dialog: QDialog) -> int:
            return person.answer(dialog)

        def in_box(box: QMessageBox) -> int:
            if box.detailedText():
                return 0  # the one that tells of an error; the error itself is caught by the test
            if not box.buttons():
                return 0
            chosen = r.choice(box.buttons())
            box.chosen_by_person = chosen
            return int(box.standardButton(chosen).value)

        names = [str(self.folder / name) for name in ("a.wattagon", "b.json", "no/such/folder.wattagon", "c.svg", "d.png", "e.csv")]
        return [
            mock.patch.object(QDialog, "exec", in_dialog),
            mock.patch.object(QMessageBox, "exec", in_box),
            mock.patch.object(QMessageBox, "clickedButton", lambda box: getattr(box, "chosen_by_person", None)),
            mock.patch.object(QFileDialog, "getSaveFileName", lambda *a, **k: (r.choice(["", *names]), "")),
            mock.patch.object(QFileDialog, "getOpenFileName", lambda *a, **k: (r.choice(["", str(self.folder / "t.gpx"), *names]), "")),
            mock.patch.object(QFileDialog, "getOpenFileNames", lambda *a, **k: ([r.choice(names)] if r.random() < 0.7 else [], "")),
            mock.patch.object(QInputDialog, "getText", lambda *a, **k: (r.choice(NONSENSE), r.random() < 0.8)),
            mock.patch.object(QInputDialog, "getMultiLineText", lambda *a, **k: (r.choice(NONSENSE), r.random() < 0.8)),
        ]

    # acting

    def act(self) -> None:
        """One action, then a turn of the event loop."""
        if not self.window.session.docs and self.random.random() < 0.7:
            self.window.open_demo()
        way = self.random.choices([w for _, w in self.ways], [n for n, _ in self.ways])[0]
        start = time.perf_counter()
        self.done = [*self.done[-30:], way.__name__]
        self.done[-1] = f"{way.__name__}: {way()}"
        self.app.processEvents()
        self.app.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)  # as the loop of a program does
        took = time.perf_counter() - start
        if took > self.slowest[1]:
            self.slowest = (self.done[-1], took)

    def visible(self, kind: type, within: QWidget | None = None) -> list:
        root = within or QApplication.activeModalWidget() or self.window
        return [w for w in root.findChildren(kind) if w.isVisible() and w.isEnabled() and w.width() > 3 and w.height() > 3]

    def somewhere(self, widget: QWidget) -> QPoint:
        return QPoint(self.random.randrange(widget.width()), self.random.randrange(widget.height()))

    def modifiers(self) -> Qt.KeyboardModifier:
        return self.random.choices(
            [Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier], [8, 2, 1]
        )[0]

    def click_somewhere(self, within: QWidget | None = None) -> str:
        places = [
            w
            for w in self.visible(QWidget, within)
            if not isinstance(w, QComboBox) and not (isinstance(w, QPushButton) and w.menu() is not None)
        ]
        if not places:
            return "nothing"
        widget, button = self.random.choice(places), self.random.choices([Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton], [6, 1])[0]
        at, name = self.somewhere(widget), f"{type(widget).__name__} {widget.objectName()}"
        if self.random.random() < 0.1:
            QTest.mouseDClick(widget, button, self.modifiers(), at)
        else:
            QTest.mouseClick(widget, button, self.modifiers(), at)
        self.close_popups()
        return f"{name} {at.toTuple()}"

    def close_popups(self) -> None:
        for _ in range(4):
            popup = QApplication.activePopupWidget()
            if popup is None:
                return
            if isinstance(popup, QMenu) and self.random.random() < 0.5:
                actions = [a for a in popup.actions() if a.isEnabled() and not a.isSeparator() and "Quit" not in a.text()]
                if actions:
                    popup.hide()
                    self.random.choice(actions).trigger()
                    continue
            popup.hide()

    def press_keys(self, within: QWidget | None = None) -> str:
        widget = (within.focusWidget() if within is not None else QApplication.focusWidget()) or within or self.window
        keys = self.random.choices(KEYS, k=self.random.choice((1, 1, 2, 3, 12)))
        if self.random.random() < 0.25:
            keys = [self.random.choice(KEYS[:4])] * self.random.choice((8, 30, 60))
        modifier = self.random.choices([Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier], [5, 1])[0]
        for key in keys:
            target = QApplication.activePopupWidget() or QApplication.focusWidget() or widget
            if not target.isVisible():
                break
            QTest.keyClick(target, key, modifier)
        self.close_popups()
        return " ".join(key.name for key in keys[:4])

    def type_nonsense(self, within: QWidget | None = None) -> str:
        fields = self.visible(QLineEdit, within)
        if not fields:
            return "no field"
        field, text = self.random.choice(fields), self.random.choice(NONSENSE)
        name = field.objectName()
        field.setFocus()
        field.selectAll()
        if len(text) < 40 and text.isprintable() and text.isascii():
            QTest.keyClicks(field, text)
        else:  # pasted
            field.insert(text)
            field.setModified(True)
        key = self.random.choices([Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape], [6, 3, 1])[0]
        QTest.keyClick(field, key)
        return f"{name} {text[:20]!r}"

    def choose(self, within: QWidget | None = None) -> str:
        boxes = self.visible(QComboBox, within)
        if not boxes:
            return "no choice"
        box = self.random.choice(boxes)
        name = box.objectName()
        if self.random.random() < 0.5:
            box.setFocus()
            for _ in range(self.random.randrange(1, 5)):
                QTest.keyClick(box, self.random.choice((Qt.Key.Key_Down, Qt.Key.Key_Up)))
        elif box.count():
            box.showPopup()
            view = box.view()
            QTest.keyClick(view, self.random.choice((Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_End)))
            QTest.keyClick(view, self.random.choices([Qt.Key.Key_Return, Qt.Key.Key_Escape], [4, 1])[0])
        self.app.processEvents()
        self.close_popups()
        return name

    def drag(self) -> str:
        names = ("pull-map", "flows", "ride-lanes", "course-strip", "sketch", "levers", "finder-scatter", "ribbon", "shelf-list")
        places = [w for w in self.visible(QWidget) if w.objectName() in names] or self.visible(QWidget)
        if not places:
            return "nothing"
        widget = self.random.choice(places)
        name, at = widget.objectName(), self.somewhere(widget)
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        for _ in range(self.random.choice((1, 3, 8))):
            if not widget.isVisible():
                return f"{name} went away"
            far = self.random.random() < 0.1
            to = QPoint(self.random.randrange(-5000, 20000), self.random.randrange(-5000, 5000)) if far else self.somewhere(widget)
            QTest.mouseMove(widget, to)
            if self.random.random() < 0.08:
                self.window.session_undo()
        if widget.isVisible():
            QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, to)
        return f"{name} from {at.toTuple()}"

    def use_action(self) -> str:
        actions = [a for a in self.window.commands if a.isEnabled() and "Quit" not in a.text()]
        action = self.random.choice(actions)
        words = action.text()
        action.trigger()
        return words

    def push_a_button(self, within: QWidget | None = None) -> str:
        buttons = [b for b in self.visible(QAbstractButton, within) if not (isinstance(b, QPushButton) and b.menu() is not None)]
        if not buttons:
            return "no button"
        button = self.random.choice(buttons)
        words = f"{button.objectName()} {button.text()}"
        QTest.mouseClick(button, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, button.rect().center())
        self.close_popups()
        return words

    def open_a_menu(self) -> str:
        buttons = [b for b in self.visible(QPushButton) if b.menu() is not None]
        if not buttons:
            return "no menu"
        menu = self.random.choice(buttons).menu()
        menu.aboutToShow.emit()
        actions = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator()]
        if not actions:
            return "an empty menu"
        action = self.random.choice(actions)
        words = action.text()
        action.trigger()
        return words

    def roll(self) -> str:
        places = self.visible(QWidget)
        widget = self.random.choice(places)
        at = QPointF(self.somewhere(widget))
        event = QWheelEvent(
            at,
            QPointF(widget.mapToGlobal(at.toPoint())),
            QPoint(),
            QPoint(0, self.random.choice((-240, -120, 120, 240))),
            Qt.MouseButton.NoButton,
            self.modifiers(),
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(widget, event)
        return f"{type(widget).__name__} {widget.objectName()}"

    def list_click(self) -> str:
        trees = [t for t in self.visible(QTreeWidget) if t.topLevelItemCount()]
        if not trees:
            return "no list"
        tree = self.random.choice(trees)
        item = tree.topLevelItem(self.random.randrange(tree.topLevelItemCount()))
        tree.setCurrentItem(item)
        if item.flags() & Qt.ItemFlag.ItemIsEditable:
            item.setText(1, self.random.choice(NONSENSE))
        return tree.objectName()

    def undo_or_redo(self) -> str:
        back = self.random.random() < 0.6
        for _ in range(self.random.choice((1, 1, 3, 10))):
            (self.window.session_undo if back else self.window.session_redo)()
        return "undo" if back else "redo"

    def undo_all_and_redo(self) -> str:
        session = self.window.session
        if not session.docs:
            return "no vehicle"
        last = session.design
        stack = session.doc.undo
        at = stack.index()
        stack.setIndex(0)
        self.app.processEvents()
        stack.setIndex(at)
        if session.design != last:
            raise AssertionError("undo to the first design and back gives another one")
        return f"{at} steps"

    def other_size(self) -> str:
        size = self.random.choice(SIZES)
        self.window.resize(*size)
        return str(size)

    def other_looks(self) -> str:
        self.window.set_looks(units=self.random.choice(("metric", "imperial", "nautical")), theme=self.random.choice(("light", "dark")))
        return self.window.session.unit_set

    def other_bench(self) -> str:
        code = self.random.choice(("brief", "drive", "finder", "ride"))
        self.window.show_bench(code)
        return code

    def open_or_close(self) -> str:
        if len(self.window.session.docs) > 5 or (self.random.random() < 0.4 and self.window.session.docs):
            self.window.close_vehicle()
            return "close"
        self.window.open_demo()
        return "demo"

    def wait(self) -> str:
        end = time.monotonic() + self.random.choice((0.02, 0.15, 0.5))
        while time.monotonic() < end:
            self.app.processEvents()
            time.sleep(0.005)
        return "a while"

    def answer(self, dialog: QDialog) -> int:
        """A person in a dialog."""
        self.depth += 1
        dialog.show()
        self.app.processEvents()
        try:
            for _ in range(self.random.randrange(4)):
                if not dialog.isVisible() or self.depth > 2:
                    break
                self.random.choice((self.type_nonsense, self.press_keys, self.click_somewhere, self.choose, self.push_a_button))(dialog)
                self.app.processEvents()
            if dialog.isVisible():
                dialog.done(self.random.choice((QDialog.DialogCode.Accepted.value, QDialog.DialogCode.Rejected.value)))
            return dialog.result()
        finally:
            self.depth -= 1

    # looking

    def faults(self) -> list[str]:
        """What is wrong with what is open: a design that a file would not give back, a painter that does not end."""
        found = []
        for doc in self.window.session.docs:
            path = self.folder / "probe.wattagon"
            file.write(path, file.Document(design=doc.design, members=doc.members))
            if file.read(path).design != doc.design:
                found.append(f"{doc.design.vehicle.name} does not come back from its file")
        self.window.grab()
        return found
