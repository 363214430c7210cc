"""Start the program: fonts, settings, stock, window; or write a picture of it."""

from __future__ import annotations

import gc
import os
import sys
import threading
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QTimer
from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QApplication

from wattagon import files
from wattagon.design import catalogue
from wattagon.desk import theme
from wattagon.desk.endings import Endings
from wattagon.desk.file_actions import FLEET
from wattagon.desk.memory import few_arenas
from wattagon.desk.recovery import OpenFiles, Recovery
from wattagon.desk.session import Session
from wattagon.desk.settings import SettingsFile, config_folder, state_folder
from wattagon.desk.troubles import Troubles
from wattagon.desk.window import MainWindow
from wattagon.errors import WattagonError

OTHERS_MS = 150  # the first picture is on screen by then
LATER_MS = 1500  # what nobody misses at first
ICON = Path(__file__).resolve().parent.parent / "stock" / "icons" / "wattagon.svg"


def has_display() -> bool:
    """Whether a window can be shown at all."""
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    return bool(platform) or bool(os.environ.get("DISPLAY")) or bool(os.environ.get("WAYLAND_DISPLAY"))


def make_window(
    settings: SettingsFile, stock_folder: Path | None, recovery: Recovery | None, open_files: OpenFiles | None = None
) -> MainWindow:
    """A window with nothing open, dressed as the settings say."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.load_fonts()
    session = Session(catalogue.load(stock_folder), stock_folder=stock_folder, recovery=recovery, open_files=open_files)
    session.unit_set, session.theme_name = settings.values.units, settings.values.theme
    theme.apply(app, theme.THEMES[session.theme_name])
    window = MainWindow(session, settings, recovery)
    if stock_folder is not None:
        window.watch_stock(stock_folder)
    return window


# how long a thread that works may keep the window waiting for its turn; a search would else be felt
SWITCH_S = 0.001


def run(path: Path | None, *, demo: bool = False, picture: Path | None = None) -> int:
    """Show the window and stay until it closes; with `picture`, write that instead.  Raises WattagonError."""
    if picture is not None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    elif not has_display():
        raise WattagonError(
            "there is no display to show a window on (DISPLAY and WAYLAND_DISPLAY are empty); "
            "write a picture instead with --picture FILE.png"
        )
    settings_path = config_folder() / "settings.json"
    settings = SettingsFile(settings_path)
    first_run = not settings.trouble and files.stamp_of(settings_path) is None
    sys.setswitchinterval(SWITCH_S)
    few_arenas()
    app = QApplication(sys.argv[:1])
    app.setApplicationName("wattagon")
    app.setDesktopFileName("wattagon")
    recovery = None if picture is not None else Recovery(state_folder() / "recovery")
    open_files = None if picture is not None else OpenFiles(state_folder() / "open")
    window = make_window(settings, catalogue.own_folder(), recovery, open_files)
    if path is not None:
        window.session.open(path)
        window.show_bench("drive")
    elif picture is not None:
        window.open_demo()
    if path is None and picture is None and not demo and not first_run:
        window.come_back()
    fleet = path is None and picture is None and (demo or first_run)
    if fleet:
        window.add_demo(FLEET[0])
    bad = window.session.stock.bad_rows
    if bad:
        window.session.told.emit(f"Skipped {len(bad)} row(s) of your parts: {bad[0]}", True)
    window.show()
    QTimer.singleShot(OTHERS_MS, _set_icon)
    if fleet:
        QTimer.singleShot(OTHERS_MS, lambda: window.add_demo(*FLEET[1:]))  # the others once the first is on screen
    gc.freeze()  # what was loaded stays: later rounds need not look at it
    gc.enable()
    if picture is not None:
        write_window(window, picture)
        window.session.forget_recovery()
        return 0
    if first_run:
        settings.change()
    troubles = Troubles(window.session, state_folder() / "wattagon.log", window)
    troubles.install()
    endings = Endings(window.end_by, window)
    endings.install(app, window.keep_and_go)
    if recovery is not None:
        window.offer(recovery.left_behind())
        if recovery.trouble or settings.trouble:
            window.session.told.emit("; ".join(filter(None, (recovery.trouble, settings.trouble))), True)
    QTimer.singleShot(LATER_MS, _warm_units)
    QTimer.singleShot(LATER_MS, lambda: _watch_turns(window.session))
    code = app.exec()
    endings.close()
    if window.going and recovery is not None:
        window.session.autosave()  # what came in the same turn as the end
        recovery.end()
    return code


def _set_icon() -> None:
    QApplication.setWindowIcon(QIcon(str(ICON)))


def _watch_turns(session: Session) -> None:
    from wattagon.desk.turns import TurnWatch

    TurnWatch(session)


def write_window(window: MainWindow, path: Path) -> None:
    """A picture of the window once everything slow has arrived."""
    import time

    app = QApplication.instance()
    assert app is not None
    end = time.monotonic() + 40.0  # a first ride may have to compile its loop
    while time.monotonic() < end:
        app.processEvents()
        session = window.session
        if not session.previews_stale and not session.busy and not window.busy:
            break
        time.sleep(0.01)
    app.processEvents()
    if path.suffix.lower() != ".png":
        raise WattagonError(f"{path} cannot be written; a picture's name ends in .png")
    raw = QBuffer()
    raw.open(QIODevice.OpenModeFlag.WriteOnly)
    window.grab().save(raw, "PNG")
    files.write_bytes(path, bytes(raw.data().data()))


def _warm_units() -> None:
    # the units library takes a while to load: before the first typed unit, and not on the window's thread
    from wattagon.exchange.units import warm

    threading.Thread(target=warm, name="units", daemon=True).start()
