"""Widgets that come and go: contents that are swapped inside a signal of their own, dialogs that leave nothing behind."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QScrollArea, QWidget


def swap_contents(area: QScrollArea, contents: QWidget) -> None:
    """Other contents for a scroll area.  The old ones are deleted in the next turn: the signal that asked may be one of theirs."""
    old = area.takeWidget()
    area.setWidget(contents)
    if old is not None:
        old.setParent(area)  # hidden by that, and not a window of its own until it goes
        old.hide()
        old.deleteLater()


def ask(dialog: QDialog) -> int:
    """Show a dialog until it is answered; it is deleted afterwards, whatever its parent."""
    room = dialog.screen().availableSize()
    dialog.resize(dialog.size().boundedTo(room))
    try:
        return dialog.exec()
    finally:
        dialog.deleteLater()
