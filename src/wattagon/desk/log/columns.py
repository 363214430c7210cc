"""What the columns of a log are taken as: proposed, corrected here, remembered for the next table of the layout."""

from __future__ import annotations

import functools
from dataclasses import replace
from typing import Any

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QHeaderView, QLabel, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from wattagon.design.tree import Log, LogColumn
from wattagon.desk.fields import soft_line
from wattagon.desk.log.book import LogBook
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import WattagonError
from wattagon.study.log.channels import CHANNELS

HOW = {
    "head": "by its head",
    "range": "by its range: look at it",
    "remembered": "as last time",
    "told": "as you told",
    "unused": "not used",
}


class ColumnsTab(QWidget):
    """A row a column; its channel and unit are chosen."""

    title = "Columns"

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self.columns: list[LogColumn] = []
        self._how: list[str] = []
        self._filled: object = None
        self.table = QTableWidget(0, 4, objectName="log-columns")
        self.table.setHorizontalHeaderLabels(["head in the table", "is", "in", "how it is known"])
        self.table.verticalHeader().setVisible(False)
        self.table.setFont(font(12))
        self.table.setAccessibleName("Columns of the log")
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setStretchLastSection(True)
        for k, width in enumerate((180, 150, 84)):
            self.table.setColumnWidth(k, width)
        self.take = QPushButton("Take this log in", objectName="log-take-in")
        self.take.clicked.connect(self.take_in)
        self.drop = QPushButton("Leave it", objectName="log-leave")
        self.drop.clicked.connect(self.leave)
        self.says = soft_line()
        self.told = QLabel(wordWrap=True, objectName="log-columns-told")
        self.told.setFont(font(12))
        foot = QHBoxLayout()
        foot.addWidget(self.says, 1)
        foot.addWidget(self.drop)
        foot.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 4, 6, 4)
        layout.setSpacing(3)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.told)
        layout.addLayout(foot)
        book.changed.connect(self.renew)
        book.brought.connect(self.renew)
        self.renew()

    @property
    def offered(self) -> Any:
        """A file that waits to be taken in."""
        return self._book.offered

    def renew(self) -> None:
        """The columns of what is offered, else of the log in front."""
        offered, log = self.offered, self._book.log
        if offered is not None:
            self.columns = [one.column for one in offered.proposed]
            self._how = [HOW[one.how] for one in offered.proposed]
            self.says.setText(f"{offered.data.log.source}: {offered.data.samples} rows. Look over what its columns are, then take it in.")
            self.told.setText("\n".join(offered.data.told[:6]))
        else:
            self.columns = list(log.columns) if log is not None else []
            self._how = ["" if one.channel else HOW["unused"] for one in self.columns]
            self.says.setText("Another channel or unit is remembered for the next table with these heads." if self.columns else "")
            self.told.setText("")
        self.take.setVisible(offered is not None)
        self.drop.setVisible(offered is not None)
        self.told.setVisible(bool(self.told.text()))
        self._fill()

    def _fill(self) -> None:
        from wattagon.exchange.log.heads import units_of

        now = (tuple(self.columns), tuple(self._how))
        if now == self._filled:
            return
        self._filled = now
        with QSignalBlocker(self.table):
            for at in range(self.table.rowCount()):  # what goes is deleted later, and is not to be seen until then
                for column in (1, 2):
                    old = self.table.cellWidget(at, column)
                    if old is not None:
                        old.hide()
            self.table.setRowCount(0)
            self.table.setRowCount(len(self.columns))
            for k, one in enumerate(self.columns):
                self.table.setItem(k, 0, QTableWidgetItem(one.head))
                self.table.setItem(k, 3, QTableWidgetItem(self._how[k]))
                channel = QComboBox(objectName=f"log-channel-{k}")
                channel.setAccessibleName(f"{one.head} is")
                channel.addItem("not used", "")
                for name, row in CHANNELS.items():
                    channel.addItem(row.words, name)
                channel.setCurrentIndex(max(channel.findData(one.channel), 0))
                channel.activated.connect(functools.partial(self._chosen, k, 1))
                self.table.setCellWidget(k, 1, channel)
                unit = QComboBox(objectName=f"log-unit-{k}")
                unit.setAccessibleName(f"unit of {one.head}")
                unit.addItem("", "")
                for name in units_of(one.channel) if one.channel else ():
                    unit.addItem(name, name)
                unit.setCurrentIndex(max(unit.findData(one.unit), 0))
                unit.activated.connect(functools.partial(self._chosen, k, 2))
                self.table.setCellWidget(k, 2, unit)

    def _chosen(self, k: int, column: int, index: int) -> None:
        # the box is asked for by its place: one that its own signal held would be garbage for whichever thread finds it
        box = self.table.cellWidget(k, column)
        assert isinstance(box, QComboBox)
        value = str(box.itemData(index))
        self.told_as(k, value, "") if column == 1 else self.told_as(k, self.columns[k].channel, value)

    def told_as(self, k: int, channel: str, unit: str) -> None:
        """A column is something else, or in another unit.  A channel that another column had leaves it."""
        from wattagon.exchange.log.memory import remember

        columns = [
            replace(one, channel="", unit="") if one.channel == channel and channel and j != k else one
            for j, one in enumerate(self.columns)
        ]
        columns[k] = LogColumn(head=columns[k].head, channel=channel, unit=unit)
        try:
            if self.offered is not None:
                self._again(tuple(columns))
                header = self.offered.data.log.header
            else:
                log = self._book.log
                assert log is not None
                from wattagon.study.log.enter import changed

                if not self._session.try_apply(
                    changed(self._session.design, replace(log, columns=tuple(columns)), f"Columns of log {log.id}")
                ):
                    self.renew()
                    return
                header = log.header
            if header:
                remember(header, tuple(columns))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
        self.renew()

    def _again(self, columns: tuple[LogColumn, ...]) -> None:
        """What is offered, read with other columns; its table is not read again."""
        from wattagon.exchange.log.propose import Proposed
        from wattagon.exchange.log.read import data_of
        from wattagon.study.log.expect import expected

        offered = self.offered
        log = replace(offered.data.log, columns=columns)
        data = data_of(log, offered.table, expected(self._session.design, self._session.stock), self._session.say)
        before = {one.column.head: one for one in offered.proposed}
        proposed = tuple(before[one.head] if before[one.head].column == one else Proposed(column=one, how="told") for one in columns)
        self._book.offered = replace(offered, data=data, proposed=proposed)

    def take_in(self) -> None:
        """The offered file into the design."""
        offered = self.offered
        if offered is None:
            return
        log: Log = offered.data.log
        if log.kind.value == "track" and self._book.log is not None and self._book.log.member and not self._book.log.beside:
            log = self._beside(log)
        if self._book.take(log, offered.data, offered.raw):
            self._session.told.emit(f"Log {self._session.design.logs[-1].id} taken in: {log.source}", False)
        self.renew()

    def _beside(self, log: Log) -> Log:
        """A track lies along the log in front, where their speeds agree."""
        from wattagon.study.log.align import offset_of

        front = self._book.log
        assert front is not None
        if self._book.data is None:
            return log
        try:
            offset, agree = offset_of(self._book.data, self.offered.data)
        except WattagonError:
            return log
        if agree < 0.6:
            self._session.told.emit(f"It does not lie along log {front.id}: their speeds agree to {agree:.0%} at best", False)
            return log
        return replace(log, beside=front.id, offset=round(offset, 2))

    def leave(self) -> None:
        """Not this one."""
        self._book.offered = None
        self.renew()
