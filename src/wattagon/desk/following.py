"""Views that follow the session only while they are seen, and catch up when they are shown."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QShowEvent

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget as _Widget
else:
    _Widget = object


class Following(_Widget):
    """Put before a widget class.  Connect `followed` to what should be followed, and show the present state in `refresh`.

    Not a widget itself: two widget classes cannot be parents of one.
    """

    _behind = False

    def refresh(self) -> None:
        """Show what the session holds now."""

    def followed(self) -> None:
        """Something changed: show it, or remember to when the view is seen again."""
        if self.isVisible():
            self.refresh()
        else:
            self._behind = True

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._behind:
            self._behind = False
            self.refresh()
