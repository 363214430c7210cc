"""Looking ahead: studies of the steps that may come next, worked out while the window rests, and of those just left."""

from __future__ import annotations

import contextlib
from collections import deque
from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, QTimer

from wattagon.design.tree import Design
from wattagon.errors import InputError, PathError
from wattagon.study.drive.follow import Followed

KEPT = 6  # the last design, the two steps of the lever in hand, a step pointed at, and a few before


class LookAhead(QObject):
    """Keeps the last few results; one piece of work per turn of the event loop, so that a key never waits for two."""

    def __init__(self, work_out: Callable[[Design], Followed], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._work_out = work_out
        self._kept: deque[Followed] = deque(maxlen=KEPT)
        self._wanted: list[Design] = []
        self._timer = QTimer(self, singleShot=True, interval=0)
        self._timer.timeout.connect(self._next)

    @property
    def busy(self) -> bool:
        """Whether something is still to be worked out."""
        return self._timer.isActive()

    def known(self, design: Design) -> Followed | None:
        """The result for an equal design, if it is at hand."""
        return next((item for item in self._kept if item.study.design == design), None)

    def keep(self, item: Followed) -> None:
        """Have a result at hand for when its design comes (back)."""
        if all(item is not other for other in self._kept):
            self._kept.append(item)

    def want(self, designs: Sequence[Design]) -> None:
        """Work these out next, in the place of what was wanted before."""
        self._wanted = list(designs)
        self._timer.start()

    def forget(self) -> None:
        """Stock or units are others: nothing that is kept is right any more."""
        self.rest()
        self._kept.clear()

    def rest(self) -> None:
        """Work on nothing."""
        self._wanted = []
        self._timer.stop()

    def _next(self) -> None:
        if not self._wanted:
            return
        design = self._wanted.pop(0)
        if self.known(design) is None:
            with contextlib.suppress(InputError, PathError):  # refused with its sentence when it is asked for
                self.keep(self._work_out(design))
        if self._wanted:
            self._timer.start()
