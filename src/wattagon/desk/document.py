"""An open vehicle with its own history, the moment that every view shows, and one step of undo."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtGui import QUndoCommand, QUndoStack

from wattagon import files
from wattagon.design import file
from wattagon.design.paths import Edit
from wattagon.design.tree import Design, GoalKind
from wattagon.record import record

if TYPE_CHECKING:
    from wattagon.desk.session import Session
    from wattagon.study.ride.study import Ride


MOST_STEPS = 1000  # that can be undone


class Ridden:
    """A place on a ride: the moment is then what the ride had there, amps and temperatures included.

    Of a ride that follows a log, `measured` is what the log read there, SI by channel.
    """

    def __init__(self, ride: Ride, row: int, measured: Mapping[str, float] | None = None) -> None:
        self.ride, self.row, self.measured = ride, row, measured or {}


@record(frozen=True, slots=True, kw_only=True)
class Moment:
    """The one operating point that every view shows: what is asked, not what follows."""

    speed_m_s: float
    grade: float = 0.0
    charge: float = 0.5
    ridden: Ridden | None = None  # compared by identity


class OpenVehicle:
    """One open vehicle: its design, its file and its own history."""

    _keys = itertools.count(1)

    def __init__(self, document: file.Document, path: Path | None, parent: QObject) -> None:
        self.design = document.design
        self.members = document.members
        self.path = path
        self.undo = QUndoStack(parent)
        self.undo.setUndoLimit(MOST_STEPS)
        self.key = f"doc{next(self._keys)}"
        self.stamp = files.stamp_of(path) if path is not None else None  # of the file as it was read or written here
        self.kept: Design | None = None  # what the recovery file has
        self.recovered = False
        self.moment = first_moment(document.design)

    @property
    def unsaved(self) -> bool:
        return self.recovered or not self.undo.isClean()


def first_moment(design: Design) -> Moment:
    """Where a design opens: at its goal speed on the flat or its cruising speed, else at 5 m/s, a boat at 1.5."""
    speeds = [goal.speed for goal in design.brief.goals if goal.kind in (GoalKind.TOP_SPEED, GoalKind.CRUISE) and goal.speed]
    return Moment(speed_m_s=max(speeds, default=1.5 if design.vehicle.kind.floats else 5.0))


class Step(QUndoCommand):
    """Holds before and after; never touches a widget."""

    def __init__(self, session: Session, doc: OpenVehicle, edit: Edit, after: Design) -> None:
        super().__init__(edit.label)
        self._session, self._doc, self._before, self._after = session, doc, doc.design, after
        self._gesture = edit.gesture
        self._paths = frozenset(path for path, _ in edit.changes)

    def id(self) -> int:
        return self._gesture  # Qt never merges -1, nor across the saved state

    def mergeWith(self, later: QUndoCommand) -> bool:
        if not isinstance(later, Step) or later._doc is not self._doc:
            return False
        self._after, self._paths = later._after, self._paths | later._paths
        self.setText(later.text())
        return True

    def redo(self) -> None:
        self._session.put(self._doc, self._after, self._paths)

    def undo(self) -> None:
        self._session.put(self._doc, self._before, self._paths)
