"""The stator's measures and what is wound on it now; what nobody measured is typical and shown as such."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from wattagon.design.parts import WirePart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known
from wattagon.desk.fields import heading, lines_of_text, scrolled
from wattagon.desk.session import Session
from wattagon.desk.winding.entry import Entry
from wattagon.desk.winding.tab import Tab, field_grid, put_entry, small
from wattagon.exchange import units
from wattagon.physics.winding.coil import Connection
from wattagon.physics.winding.star import alternatives, cogging_steps, name, side_pull
from wattagon.study.winding.enter import put, stator, told_of, wound
from wattagon.study.winding.study import WindingStudy

COUNTS = ("slots", "poles", "pins")
IRON: tuple[tuple[str, str], ...] = (
    ("slots", "slots, counted"),
    ("poles", "magnets, counted"),
    ("gap_diameter", "over the tips"),
    ("slot_bottom", "at the slots' bottom"),
    ("stack", "stack"),
    ("tooth", "tooth's neck"),
    ("tip", "tip's height"),
    ("opening", "gap between tips"),
    ("liner", "liner"),
    ("air_gap", "air gap, by feeler"),
    ("slot_area", "slot area"),
    ("pins", "or pins that fill it"),
    ("pin_diameter", "of diameter"),
    ("lamination", "lamination"),
    ("magnet_cover", "magnets cover"),
    ("lead", "leads of a phase"),
)
DIMENSION = {"slot_area": "section", "magnet_cover": "share"}
NOW: tuple[tuple[str, str], ...] = (
    ("turns", "turns a tooth"),
    ("strands", "strands in hand"),
    ("wire", "bare wire"),
    ("paths", "parallel paths"),
    ("layers", "coil sides a slot"),
)


class IronTab(Tab):
    """Fields beside the drawing they change."""

    title = "Stator"
    measure_shown = Signal(str)  # a field of the stator that is being typed

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        page, grid = field_grid()
        grid.setHorizontalSpacing(6)
        self.iron: dict[str, Entry] = {}
        grid.addWidget(heading("Iron"), 0, 0, 1, 4)
        for k, (field, words) in enumerate(IRON):
            self.iron[field] = put_entry(
                grid, 1 + k % 8, 2 * (k // 8), session, f"stator-{field}", words, partial(self._iron, field, words), 96
            )
            self.iron[field].setMinimumWidth(84)
            self.iron[field].entered.connect(self._entered)
        grid.addWidget(heading("Wound now"), 0, 4, 1, 2)
        self.now: dict[str, Entry] = {}
        for k, (field, words) in enumerate(NOW):
            self.now[field] = put_entry(grid, 1 + k, 4, session, f"now-{field}", words, partial(self._now, field, words), 96)
        self.connection = QComboBox(objectName="now-connection")
        self.connection.setAccessibleName("termination now")
        for value, words in ((None, "not known"), (Connection.WYE, "wye"), (Connection.DELTA, "delta")):
            self.connection.addItem(words, value)
        self.connection.activated.connect(self._joined)
        grid.addWidget(small("joined in"), 6, 4)
        grid.addWidget(self.connection, 6, 5)
        self.coat = QComboBox(objectName="winding-coat")
        self.coat.setAccessibleName("coat of the wire")
        for code, words in (("", "thin coat, typical"), ("thin", "thin coat"), ("thick", "thick coat")):
            self.coat.addItem(words, code)
        self.coat.activated.connect(self._coated)
        grid.addWidget(small("new wire"), 7, 4)
        grid.addWidget(self.coat, 7, 5)
        grid.setRowStretch(10, 1)
        grid.setColumnStretch(6, 1)
        self.says = lines_of_text("winding-iron-words")
        self.says.setMinimumWidth(150)
        body = QHBoxLayout()
        body.addWidget(page, 5)
        body.addWidget(self.says, 2)
        inner = QWidget()
        inner.setLayout(body)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(inner))

    def show_winding(self, found: WindingStudy | None) -> None:
        super().show_winding(found)
        if not self.session.docs:
            return
        told = told_of(self.session.design)
        base = f"variants.{self.session.design.variant().id}.winding"
        inputs = found.inputs if found is not None else {}
        for group, where, fields in ((self.iron, "stator", told.stator), (self.now, "now", told.now)):
            for field, entry in group.items():
                value = getattr(fields, field)
                dimension = "count" if field in COUNTS or (group is self.now and field != "wire") else DIMENSION.get(field, "length")
                say = lambda number, dimension=dimension: units.say(number, dimension, self.session.unit_set)
                text = "" if value is None else say(float(getattr(value, "value", value)))
                used = inputs.get(f"{base}.{where}.{field}")
                hint = (
                    f"≈ {say(used.value)}"
                    if used is not None and used.known is Known.ASSUMED
                    else say(used.value)
                    if used is not None
                    else ""
                )
                entry.show_text(text, hint, "typical of such motors until it is measured" if not text else "")
        with QSignalBlocker(self.connection):
            self.connection.setCurrentIndex([None, Connection.WYE, Connection.DELTA].index(told.now.connection))
        with QSignalBlocker(self.coat):
            self.coat.setCurrentIndex(["", "thin", "thick"].index(told.coat))
        self.says.setText(self._says(found))

    def _entered(self, name: str) -> None:
        self.measure_shown.emit(name.removeprefix("stator-"))

    def _says(self, found: WindingStudy | None) -> str:
        if found is None:
            return ""
        iron, say, lines = found.base.iron, self.session.say, []
        lines.append(f"<b>{iron.name}</b>: {cogging_steps(iron.slots, iron.poles)} cogging steps a turn")
        if side_pull(iron.slots, iron.poles):
            lines.append("a force turns with the rotor: noise and bearing load")
        for one in found.layouts:
            what = "every tooth" if one.pattern.layers == 2 else "every other tooth"
            paths = ", ".join(map(str, one.paths))
            lines.append(f"{what}: factor {one.factor:.4f}, third {one.third:.3f}, paths {paths}")
        if found.why_not or (found.layout is not None and found.layout.factor < 0.9):
            near = [name(slots, iron.poles) for slots, _ in alternatives(iron.poles)[:4]]
            lines.append(f"better with these magnets: {', '.join(near)}")
        area = say(iron.wound.slot_m2, "section")
        lines.append(f"slot {area}, by {iron.area_by}")
        off = found.base.by_measures_ohm / float(found.base.motor.resistance_ohm) - 1.0
        lines.append(
            f"by these measures {say(found.base.by_measures_ohm, 'resistance')} between leads, {100 * off:+.0f} % of what is known"
        )
        lines.append(f"{say(found.hz, 'frequency')} electrical at the top speed")
        return "<br>".join(lines)

    def _iron(self, field: str, words: str, text: str) -> Edit:
        return stator(self.session.design, field, self._number(field, words, text, count=field in COUNTS))

    def _now(self, field: str, words: str, text: str) -> Edit:
        return wound(self.session.design, "now", field, self._number(field, words, text, count=field != "wire"))

    def _number(self, field: str, words: str, text: str, *, count: bool) -> float | int | None:
        """As typed; a wire may be given by its number in stock's own words."""
        if not text:
            return None
        text = text.replace("≈", "").strip()
        if count:
            return units.whole(text, "count", words)
        if field in ("wire", "pin_diameter"):
            part = self.session.stock.find(text)
            if isinstance(part, WirePart):
                return 1e-3 * part.bare_mm
        return units.parse(text, DIMENSION.get(field, "length"), self.session.unit_set, field=words)

    def _joined(self, index: int) -> None:
        self.session.try_apply(wound(self.session.design, "now", "connection", self.connection.itemData(index)))

    def _coated(self, index: int) -> None:
        self.session.try_apply(put(self.session.design, "Coat of the wire", coat=self.coat.itemData(index)))
