"""What is told and kept of a pack: cell checks, its school, its bricks and links; and other chemistries beside it."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon import files
from wattagon.design.parts import BoardPart, CellPart
from wattagon.design.tree import Battery, BrickChoice, CellCheck, Links
from wattagon.desk.fields import ChoiceField, ValueField, lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.pack.drawn import Chemistries, Seasons
from wattagon.desk.pack.tab import Tab
from wattagon.desk.passing import swap_contents
from wattagon.desk.picker import pick, pick_cell
from wattagon.desk.session import Session
from wattagon.errors import InputError, WattagonError
from wattagon.study.pack.checks import due, read_volts, recorded
from wattagon.study.pack.schools import ASKS, UNGUARDED
from wattagon.study.pack.study import PackStudy

LARGEST = 200_000  # bytes of a file of cell volts
CAUTION = (
    "Never unattended, below 0 °C, or with a swollen or hot pack; on what does not burn, way out behind you. Bought chargers, unopened."
)


class ChecksTab(Tab):
    """Cell volts with a date: typed, pasted or from a file; their spread over the seasons."""

    title = "Cell checks"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.seasons = Seasons(session)
        self.words = lines_of_text("check-words")
        self.volts = QPlainTextEdit(objectName="cell-volts")
        self.volts.setPlaceholderText("3.842 3.841 …  by group, from pack minus on")
        self.volts.setAccessibleName("Cell volts")
        self.volts.setTabChangesFocus(True)
        self.volts.setMaximumHeight(46)
        self.day = QLineEdit(objectName="check-day")
        self.day.setAccessibleName("Day of the check")
        self.day.setMinimumWidth(104)
        self.full = QCheckBox("at the top of charge", objectName="check-full")
        self.full.setToolTip("Iron cells can only be told apart there")
        keep, bring = QPushButton("Keep it", objectName="keep-check"), QPushButton("From a file…", objectName="check-file", flat=True)
        keep.clicked.connect(self.keep)
        bring.clicked.connect(self.ask_file)
        row = QHBoxLayout()
        row.addWidget(self.day)
        row.addWidget(keep)
        row.addWidget(bring)
        row.addStretch(1)
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(4, 2, 4, 2)
        column.setSpacing(3)
        column.addWidget(self.words)
        column.addWidget(self.volts)
        column.addLayout(row)
        column.addWidget(self.full)
        column.addStretch(1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.seasons, 4)
        layout.addWidget(scrolled(side), 3)

    def show_pack(self, found: PackStudy | None) -> None:
        super().show_pack(found)
        self.seasons.show_pack(found)
        if not self.day.isModified():
            self.day.setText(date.today().isoformat())
        if found is None:
            return
        days, next_day = due(found.battery.checks, found.battery.school, found.battery.check_days)
        lines = []
        if found.checks:
            last = found.checks[-1]
            lines.append(f"<b>{last.check.date}:</b> {last.verdict}; about {last.charge:.0%} charged")
            if found.trend is not None:
                moved = 1e3 * found.trend.group_v_month
                lines.append(f"group {found.trend.group + 1} moves {moved:+.1f} mV a month against the others")
        lines.append(f"next check {next_day}, every {days} days" if next_day is not None else f"check every {days} days")
        self.words.setText("<br>".join(lines))

    def keep(self) -> None:
        """The volts as typed; what cannot be read is told, and stays."""
        session = self.session
        try:
            volts = read_volts(self.volts.toPlainText())
            if not volts:
                session.told.emit("cell volts: nothing typed; accepted: volts such as 3.842, one for each group", True)
                return
            check = CellCheck(date=self.day.text().strip(), volts=volts, full=self.full.isChecked())
            session.apply(recorded(session.design, check))
        except WattagonError as refusal:
            of_day = isinstance(refusal, InputError) and refusal.field.startswith("date")
            refuse(self.day, of_day)
            refuse(self.volts, not of_day)
            session.told.emit(str(refusal), True)
            return
        refuse(self.volts, False)
        refuse(self.day, False)
        self.volts.clear()
        if self.found is not None and len(volts) != self.found.groups:
            session.told.emit(f"{len(volts)} groups kept; this pack has {self.found.groups} in series", True)

    def ask_file(self) -> None:
        """Volts out of a text or CSV file, into the field to be looked at first."""
        name, _ = QFileDialog.getOpenFileName(self, "Cell volts", "", "Text (*.csv *.txt)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Only the numbers of a file; the first line may be a heading."""
        try:
            text = files.read_bytes(path, LARGEST, "cell volts").decode("utf-8-sig", "replace")
            lines = text.splitlines()
            if lines and any(ch.isalpha() for ch in lines[0].lower().replace("mv", "").replace("v", "")):
                lines = lines[1:]
            volts = read_volts("\n".join(line.rpartition(",")[2] if line.count(",") == 1 else line for line in lines))
        except WattagonError as refusal:
            self.session.told.emit(f"{path.name}: {refusal}", True)
            return
        self.volts.setPlainText(" ".join(f"{v:.3f}" for v in volts))


class SchoolTab(Tab):
    """With a board, or without and careful."""

    title = "Two schools"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.left, self.right = lines_of_text("school-asks"), lines_of_text("school-says")
        self.board = QPushButton(objectName="pick-board")
        self.board.clicked.connect(self.pick_board)
        row = QHBoxLayout()
        self.choices = {}
        for code, words in (("board", "With a protection board"), ("none", "Without: narrow window and checks")):
            button = QPushButton(words, checkable=True, objectName=f"school-{code}")
            button.clicked.connect(partial(self.choose, code))
            self.choices[code] = button
            row.addWidget(button)
        row.addWidget(self.board)
        row.addStretch(1)
        both = QHBoxLayout()
        both.addWidget(self.left, 1)
        both.addWidget(self.right, 1)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(8, 4, 8, 4)
        column.addLayout(row)
        column.addLayout(both)
        column.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(page))

    def choose(self, code: str, _on: bool = False) -> None:
        """One of them, or neither again."""
        school = "" if self.battery().school == code else code
        self.put({"board": "with a protection board", "none": "without a protection board", "": "school not told"}[school], school=school)

    def pick_board(self) -> None:
        """One of stock that counts the pack's cells."""
        series = self.session.design.variant().pack.series
        fits = lambda part: part.series_low <= series <= part.series_high
        chosen = pick(self.session, BoardPart, self.battery().board, self, fits)
        if chosen is not None:
            self.put(chosen.name, board=chosen.id, school="board")

    def show_pack(self, found: PackStudy | None) -> None:
        super().show_pack(found)
        battery = self.battery() if self.session.docs else Battery()
        for code, button in self.choices.items():
            button.setChecked(battery.school == code)
        part = self.session.stock.find(battery.board) if battery.board else None
        self.board.setText(part.name if part is not None else "choose a board")
        self.board.setEnabled(battery.school != "none")
        asks = ASKS.get(battery.school) or tuple(
            f"<i>{'board' if code == 'board' else 'without'}:</i> {lines[0]}" for code, lines in ASKS.items()
        )
        self.left.setText("<b>It asks for</b><br>" + "<br>".join(f"• {line}" for line in asks))
        self.right.setText("<br>".join(self._says(found)) if found is not None else "")

    def _says(self, found: PackStudy) -> list[str]:
        say, one = self.session.say, found.guarded
        if found.battery.school == "none":
            top, bottom = found.resolved.window
            return [
                "<b>Here</b>",
                f"• window {bottom:.0%} to {top:.0%}",
                f"• cutback from {say(found.volts.cut_start, 'voltage')} to {say(found.volts.cut_end, 'voltage')}",
                f"• not guarded: {UNGUARDED}",
            ]
        if one is None:
            return ["<b>Here</b>", "• no board is told; what it would trip at cannot be held against the rides"]
        lines = ["<b>Here</b>"]
        if math.isfinite(one.share):
            lines.append(
                f"• {say(one.lasting_a, 'current')} for long on “{one.run}”, {one.share:.0%} of its {say(one.board.lasting_a, 'current')}"
            )
        for trip in one.trips:
            if math.isfinite(trip.amps):
                lines.append(
                    f"• {trip.name} {say(trip.amps, 'current')} after {say(trip.delay_s, 'time')}: "
                    f"{say(trip.stretch_s, 'time')} at a time above 80 % of it"
                )
        if one.regen_a > 0.0 and math.isfinite(one.regen_share):
            lines.append(f"• braking puts {say(one.regen_a, 'current')} in; when it opens then, the bus is the capacitors alone")
        if math.isfinite(one.balance_h):
            lines.append(f"• evens out the spread in {say(3600.0 * one.balance_h, 'time')}, only near full")
        if math.isfinite(one.loss_w):
            lines.append(f"• loses {say(one.loss_w, 'power')} at that current")
        return lines


class BricksTab(Tab):
    """Bricks of one's own: the one in hand with its fields."""

    title = "Cells, bricks, links"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.which = 0
        self.form = scrolled()
        self.links = scrolled()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.form, 3)
        layout.addWidget(self.links, 2)
        self._shown: object = None

    def choose(self, which: int) -> None:
        """Another brick in hand."""
        self.which = which
        self.show_pack(self.found)

    def show_pack(self, found: PackStudy | None) -> None:
        super().show_pack(found)
        battery = self.battery() if self.session.docs else Battery()
        self.which = min(self.which, max(len(battery.bricks) - 1, 0))
        shown = (
            self.session.design.active if self.session.docs else "",
            len(battery.bricks),
            self.which,
            battery.links is None,
            battery.joined,
            self._part(battery),
        )
        if shown == self._shown:
            return
        self._shown = shown
        self._build_bricks(battery)
        self._build_links(battery)

    def _part(self, battery: Battery) -> str:
        """Of stock, what the brick in hand is made of, or the whole pack."""
        own = self.session.design.variant().pack.part if self.session.docs else ""
        return (battery.bricks[self.which].part if battery.bricks else "") or own

    def pick_part(self) -> None:
        """Another cell or ready pack: for the brick in hand, or for the whole pack."""
        battery = self.battery()
        if not battery.bricks:
            pick_cell(self.session, self)
            return
        old = battery.bricks[self.which]
        part = pick(self.session, CellPart, self._part(battery), self)
        if not isinstance(part, CellPart) or part.id == self._part(battery):
            return
        ready = part.brick_series * part.brick_parallel > 1
        one = replace(
            old,
            part=part.id,
            series=part.brick_series if ready else old.series,
            parallel=part.brick_parallel if ready else old.parallel,
            capacity=None,  # both were measured on the other one
            resistance=None,
        )
        self.put(f"a brick of {part.name}", bricks=tuple(one if k == self.which else brick for k, brick in enumerate(battery.bricks)))

    def _build_bricks(self, battery: Battery) -> None:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(8, 4, 8, 4)
        form.setVerticalSpacing(3)
        row = QHBoxLayout()
        add = QPushButton("Add a brick" if battery.bricks else "Build it of bricks", objectName="add-brick")
        add.clicked.connect(self.add)
        row.addWidget(add)
        if battery.bricks:
            away = QPushButton("Take this one out", objectName="remove-brick", flat=True)
            away.clicked.connect(self.remove)
            row.addWidget(away)
        row.addStretch(1)
        form.addRow(row)
        part = self.session.stock.find(self._part(battery))
        of = QPushButton(part.name if part is not None else "choose from stock", objectName="pick-cells", minimumWidth=60)
        of.clicked.connect(self.pick_part)
        if not battery.bricks:
            form.addRow("cells", of)
            form.addRow(soft_line("One kind of cell throughout. Bricks may differ: in parts, age, capacity.", 12))
            own = "variant.pack.overrides.capacity_ah"
            form.addRow("measured, of one cell", ValueField(self.session, own, "measured capacity of one cell", fallback="by its label"))
        else:
            base = f"variant.battery.bricks.{self.which}"
            words: list[tuple[object, str]] = [("strings", "numbers are strings in parallel"), ("groups", "numbers are groups in series")]
            form.addRow("joined", ChoiceField(self.session, "variant.battery.joined", "joined", words))
            form.addRow("made of", of)
            fields = (
                ("name", "brick", ""),
                ("place", "string or group", ""),
                ("series", "cells in series", ""),
                ("parallel", "in parallel", ""),
                ("capacity", "capacity", "by its label"),
                ("resistance", "resistance", "by its label"),
                ("rest", "rests at", "full"),
                ("lead", "its own leads", "none"),
            )
            for name, label, fallback in fields:
                form.addRow(label, ValueField(self.session, f"{base}.{name}", label, fallback=fallback))
        swap_contents(self.form, page)

    def add(self) -> None:
        """A further brick like the last; the first ones make up the pack as it is, in two halves where that goes."""
        battery, choice = self.battery(), self.session.design.variant().pack
        if battery.bricks:
            last = battery.bricks[-1]
            more = (*battery.bricks, replace(last, name="", place=last.place + 1))
        else:
            halves = 2 if choice.parallel % 2 == 0 else 1
            one = BrickChoice(part=choice.part, series=choice.series, parallel=choice.parallel // halves)
            more = tuple(replace(one, name=f"brick {k + 1}", place=k + 1) for k in range(halves))
        self.which = len(more) - 1
        self.put("a brick more", bricks=more)

    def remove(self) -> None:
        """The one in hand."""
        kept = tuple(brick for k, brick in enumerate(self.battery().bricks) if k != self.which)
        self.put("a brick less", bricks=kept)

    def _build_links(self, battery: Battery) -> None:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(8, 4, 8, 4)
        form.setVerticalSpacing(3)
        if battery.links is None:
            form.addRow(soft_line("What joins the cells was not told.", 12))
            tell = QPushButton("Tell of the strips", objectName="tell-links")
            tell.clicked.connect(lambda: self.put("cell links", links=Links()))
            form.addRow(tell)
        else:
            base = "variant.battery.links"
            metals: list[tuple[object, str]] = [("nickel", "nickel"), ("plated steel", "nickel-plated steel"), ("copper", "copper")]
            form.addRow("strips of", ChoiceField(self.session, f"{base}.metal", "strips of", metals))
            for name, label in (("width", "wide"), ("thickness", "thick"), ("layers", "layers"), ("beside", "side by side")):
                form.addRow(label, ValueField(self.session, f"{base}.{name}", label, fallback="one a cell" if name == "beside" else ""))
            form.addRow(soft_line("A magnet does not tell plated steel: salt water overnight does.", 12))
        swap_contents(self.links, page)


class OthersTab(Tab):
    """Other chemistries."""

    title = "Other chemistries"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.drawn = Chemistries(session)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.drawn, 1)
        layout.addWidget(
            soft_line(
                "The energy of the window and about the volts, of the stock cell that bears the amps with the least mass; typical figures",
                12,
            )
        )

    def show_pack(self, found: PackStudy | None) -> None:
        super().show_pack(found)
        self.drawn.show_pack(found)
