"""The throttle's readings, shape and ramps; and what the set-up does when something fails."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QComboBox, QFormLayout, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Lever
from wattagon.desk.controller.tab import Tab
from wattagon.desk.fields import lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.errors import InputError
from wattagon.exchange import units
from wattagon.physics.throttle import Window
from wattagon.study.controller.failsafe import OUTCOME_WORDS
from wattagon.study.controller.feel import thrown
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.controller.throttle import KIND_WORDS, mapped

CAUTION = "Caution: wheels off the ground, nobody in the plane of a wheel, a stop in reach; repeat after every change of leads or firmware."
LEVER = (
    ("low", "lowest"),
    ("centre", "at rest"),
    ("high", "highest"),
    ("drift", "drift at rest"),
    ("fault_low", "fault below"),
    ("fault_high", "fault above"),
)
SHAPE = (("dead", "dead band", "share"), ("bend", "bend", "number"), ("brake_bend", "bend of the brake", "number"))
RAMPS = (("ramp_up_s", "up"), ("ramp_down_s", "down"))
BRAKE_RAMPS = (("rise_s", "brake up"), ("release_s", "brake back"))


class ThrottleTab(Tab):
    """Readings typed from what was seen, curve, ramps, rules."""

    title = "Throttle"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.form = scrolled()
        self.words = lines_of_text("throttle-words")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.form, 5)
        layout.addWidget(scrolled(self.words), 3)
        self._shown: object = None

    def show_controller(self, found: ControllerStudy | None) -> None:
        super().show_controller(found)
        if not self.session.docs:
            return
        told, choice = self.throttle(), self.session.design.variant().controller
        shown = (self.session.design.active, told, choice.ramp_up_s, choice.ramp_down_s, choice.release_current_a, self.session.unit_set)
        held = self.focusWidget()
        if shown != self._shown and not (isinstance(held, QLineEdit) and held.hasFocus() and held.isModified()):
            self._shown = shown
            self._build()
        self.words.setText("<br>".join(self._says(found)))

    def _build(self) -> None:
        one, told, choice = mapped(self.session.design), self.throttle(), self.session.design.variant().controller
        page = QWidget()
        columns = QHBoxLayout(page)
        columns.setContentsMargins(4, 2, 4, 2)
        first, second = QFormLayout(), QFormLayout()
        for form in (first, second):
            form.setVerticalSpacing(3)
            columns.addLayout(form, 1)
        first.addRow("input", self._choice("kind", told.lever.kind, [("", f"{KIND_WORDS[one.kind]} ≈"), *KIND_WORDS.items()], self._kind))
        self._ends(first, "lever", LEVER, told.lever, one.window, one.unit)
        if one.kind == "pot":
            shown = self.session.say(told.lever.ohms, "resistance") if told.lever.ohms is not None else ""
            first.addRow("end to end", self._line("lever-ohms", "potentiometer, end to end", shown, "1 to 20 kΩ", self._ohms))
        kinds = [("", "none"), *((code, words) for code, words in KIND_WORDS.items() if code != "pulse")]
        second_kind = (told.brake.kind or "hall") if told.brake is not None else ""
        first.addRow("lever that brakes", self._choice("brake", second_kind, kinds, partial(self._other, "brake")))
        if told.brake is not None and one.brake is not None:
            self._ends(first, "brake", LEVER[:3], told.brake, one.brake, one.brake_unit)
        gives = [("", "no converter"), *((code, f"gives {words}") for code, words in KIND_WORDS.items() if code != "pedal")]
        given = (told.gives.kind or "hall") if told.gives is not None else ""
        first.addRow("converter", self._choice("gives", given, gives, partial(self._other, "gives")))
        if told.gives is not None and one.gives is not None:
            self._ends(first, "gives", (LEVER[0], LEVER[2]), told.gives, one.gives, one.gives_unit)
        curves = [("linear", "straight"), ("expo", "soft about rest"), ("power", "power"), ("points", "own points")]
        second.addRow("curve", self._choice("curve", told.curve, curves, lambda value: self.put_throttle("throttle curve", curve=value)))
        if told.curve == "points":
            shown = "; ".join(f"{at:g} {to:g}" for at, to in told.points)
            second.addRow("points", self._line("shape-points", "points of the curve", shown, "0.3 0.1; 0.7 0.5", self._points))
        for name, words, dimension in SHAPE:
            value = getattr(told, name)
            shown = self.session.say(value, dimension) if value is not None else ""
            fallback = self.session.say(one.shape.dead, "share") if name == "dead" else "straight"
            second.addRow(words, self._line(f"shape-{name}", words, shown, fallback, partial(self._shape, name, words, dimension)))
        drive, brake = (one.ramps.rise_s, one.ramps.fall_s), (one.ramps.brake_s, one.ramps.release_s)
        for (name, words), usual_s in (*zip(RAMPS, drive, strict=True), *zip(BRAKE_RAMPS, brake, strict=True)):
            own = (name, words) in BRAKE_RAMPS
            value = getattr(told if own else choice, name)
            shown = self.session.say(value, "time") if value is not None else ""
            label = f"ramp {words}"
            run = partial(self._shape, name, label, "time") if own else partial(self._ramp, name, words)
            second.addRow(label, self._line(f"ramp-{name}", label, shown, self.session.say(usual_s, "time"), run))
        reverse = [
            ("", "reverse: not told"),
            ("none", "no reverse"),
            ("at rest", "reverse only at rest"),
            ("always", "reverse at any speed"),
        ]
        second.addRow("reverse", self._choice("reverse", told.reverse, reverse, lambda value: self.put_throttle("reverse", reverse=value)))
        cruise = [("", "cruise: not told"), ("none", "no cruise"), ("held", "cruise while held")]
        second.addRow("cruise", self._choice("cruise", told.cruise, cruise, lambda value: self.put_throttle("cruise", cruise=value)))
        shown = self.session.say(told.loss_s, "time") if told.loss_s is not None else ""
        label = "signal lost after"
        second.addRow(label, self._line("shape-loss_s", label, shown, "not told", partial(self._shape, "loss_s", label, "time")))
        swap_contents(self.form, page)

    def _choice(self, name: str, value: str, options: list[tuple[str, str]], run) -> QComboBox:  # type: ignore[no-untyped-def]
        box = QComboBox(objectName=f"throttle-{name}")
        box.setAccessibleName(name)
        box.setMinimumWidth(80)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        for code, words in options:
            box.addItem(words, code)
        box.setCurrentIndex(max(box.findData(value), 0))
        box.activated.connect(lambda k: run(box.itemData(k)))
        return box

    def _line(self, name: str, label: str, shown: str, fallback: str, run) -> QLineEdit:  # type: ignore[no-untyped-def]
        field = QLineEdit(shown, objectName=name)
        field.setAccessibleName(label)
        field.setPlaceholderText(fallback)
        field.setMinimumWidth(80)

        def typed() -> None:
            if field.isModified():
                taken = run(field.text().strip())
                refuse(field, not taken)
                field.setModified(not taken)

        field.editingFinished.connect(typed)
        return field

    def _kind(self, value: str) -> bool:
        """Another input: readings of the old one mean nothing for it."""
        lever = replace(self.throttle().lever, kind=value, low=None, centre=None, high=None, drift=None, fault_low=None, fault_high=None)
        return self.put_throttle("throttle input", lever=lever)

    def _number(self, text: str, label: str, dimension: str = "number") -> float | None:
        """A value that was typed; raises InputError."""
        return units.parse(text, dimension, self.session.unit_set, field=label) if text else None

    def _ends(self, form: QFormLayout, which: str, rows: Sequence[tuple[str, str]], lever: Lever, window: Window, unit: str) -> None:
        """Readings of a lever, or what a converter gives, as lines."""
        before = {"lever": "", "brake": "brake: ", "gives": "gives: "}[which]
        for name, words in rows:
            value, usual = getattr(lever, name), getattr(window, name, None)
            shown = f"{value:g} {unit}" if value is not None else ""
            fallback = f"{usual:g} {unit}" if usual is not None else "not seen"
            form.addRow(before + words, self._line(f"{which}-{name}", before + words, shown, fallback, partial(self._end, which, name)))

    def _end(self, which: str, name: str, text: str) -> bool:
        """One reading of a lever, with or without its unit."""
        for unit in ("µs", "us", "V", "v"):
            text = text.removesuffix(unit).strip()
        try:
            value = self._number(text, dict(LEVER)[name])
            lever = replace(getattr(self.throttle(), which) or Lever(), **{name: value})
        except InputError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        return self.put_throttle({"gives": "ends of the converter"}.get(which, "readings of the lever"), **{which: lever})

    def _ohms(self, text: str) -> bool:
        """Of a potentiometer."""
        try:
            lever = replace(self.throttle().lever, ohms=self._number(text, "potentiometer", "resistance"))
        except InputError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        return self.put_throttle("potentiometer", lever=lever)

    def _points(self, text: str) -> bool:
        """Pairs of lever and command, 0 to 1."""
        pairs = [pair.replace(",", ".").split() for pair in text.split(";") if pair.strip()]
        try:
            if any(len(pair) != 2 for pair in pairs):
                raise InputError("points of the curve", units.quoted(text), "pairs of lever and command, such as 0.3 0.1; 0.7 0.5")
            read = lambda word: self._number(word, "points of the curve") or 0.0
            points = tuple((read(at), read(to)) for at, to in pairs)
            return self.put_throttle("points of the curve", points=points)
        except InputError as refusal:
            self.session.told.emit(str(refusal), True)
            return False

    def _other(self, which: str, value: str) -> bool:
        """A second lever or a converter of another kind, or none."""
        words = {"brake": "lever that brakes", "gives": "converter of the throttle"}[which]
        return self.put_throttle(words, **{which: Lever(kind=value) if value else None})

    def _shape(self, name: str, label: str, dimension: str, text: str) -> bool:
        try:
            value = self._number(text, label, dimension)
        except InputError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        return self.put_throttle(label, **{name: value})

    def _ramp(self, name: str, label: str, text: str) -> bool:
        try:
            value = self._number(text, f"ramp {label}", "time")
        except InputError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        return self.session.try_apply(Edit(label=f"Ramp {label}", changes=((f"variant.controller.{name}", value),)))

    def _says(self, found: ControllerStudy | None) -> list[str]:
        one = mapped(self.session.design)
        lines = []
        for problem in one.problems:
            lines.append(f"<b>{problem}</b>")
        w = one.window
        lines.append(
            f"rests at {w.centre:g} {one.unit}, drives up to {w.high:g}; a fault is below {w.fault_low:g} and above {w.fault_high:g}"
        )
        if one.kind == "pot":
            lines.append("a potentiometer: one end on 5 V, the other on signal ground, its slider on the signal, 10 kΩ at best")
        if not one.seen:
            lines.append("≈ typical readings: type what was seen at rest and at both ends")
        if found is not None and found.feel is not None:
            bears = found.feel.bears
            lines.append(
                f"A {bears.words} bears {bears.level:.1f} m/s² that come at {bears.jerk:.0f} m/s³, unasked {bears.surprise_level:.1f} at "
                f"{bears.surprise_jerk:.0f}; typical: fit people more, children less"
            )
            for trace in found.feel.traces:
                who = thrown(trace)
                lines.append(f"{trace.name}: too much for {', '.join(who)}" if who else f"{trace.name}: borne by all, the unprepared too")
        return lines


class FailTab(Tab):
    """What is known of each failure, and what was seen in its test."""

    title = "When it fails"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.page = scrolled()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.page)
        self._shown: object = None

    def show_controller(self, found: ControllerStudy | None) -> None:
        super().show_controller(found)
        if found is None or self._shown == (found.failures, self.session.theme_name):
            return
        self._shown = (found.failures, self.session.theme_name)
        theme = THEMES[self.session.theme_name]
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(8, 2, 8, 4)
        grid.setColumnStretch(2, 1)
        caution = QLabel(CAUTION, wordWrap=True)
        caution.setFont(font(12, 600))
        grid.addWidget(caution, 0, 0, 1, 4)
        for row, one in enumerate(found.failures, 1):
            name = QLabel(one.name)
            name.setToolTip(one.how)
            box = QComboBox(objectName=f"seen-{one.code}")
            box.setAccessibleName(f"seen when {one.name}")
            for code, words in (("", f"test {one.test} not done"), *((code, f"seen: {words}") for code, words in OUTCOME_WORDS.items())):
                box.addItem(words, code)
            box.setCurrentIndex(max(box.findData(self.throttle().found.get(one.code, "")), 0))
            box.activated.connect(lambda k, one=one, box=box: self._seen(one.code, box.itemData(k)))
            outcome = QLabel(OUTCOME_WORDS.get(one.outcome, "not known"))
            outcome.setFont(font(12, 600))
            outcome.setStyleSheet(f"color: {theme.of(one.status).name()}")
            why = soft_line(f"{one.words}; test {one.test}: {one.how}", 12)
            why.setToolTip(f"{one.words}; test {one.test}: {one.how}")
            for column, widget in enumerate((name, outcome, why, box)):
                grid.addWidget(widget, row, column)
        grid.setRowStretch(len(found.failures) + 1, 1)
        swap_contents(self.page, page)

    def _seen(self, code: str, outcome: str) -> None:
        found = {key: value for key, value in self.throttle().found.items() if key != code}
        if outcome:
            found[code] = outcome
        self.put_throttle("what was seen in a test", found=found)
