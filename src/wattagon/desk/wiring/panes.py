"""What stands under the power path: the piece in hand with its curve and making, fuse tests, pre-charge and bus, control wires."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.parts import ResistorPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Bank, BoxChoice, Wiring
from wattagon.desk.chart.loadcurve import LoadCurve
from wattagon.desk.fields import ChoiceField, ValueField, lines_of_text, scrolled, soft_line
from wattagon.desk.passing import swap_contents
from wattagon.desk.picker import pick
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES
from wattagon.desk.wiring.brake_curve import BrakeCurve
from wattagon.desk.wiring.control_pane import ControlPane
from wattagon.desk.wiring.pane import Pane
from wattagon.desk.wiring.picture import load_of
from wattagon.study.ride.words import distance_text
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy
from wattagon.study.wiring.ways import with_wiring

BRANCHES: list[tuple[object, str]] = [
    ("brick", "of each brick"),
    ("pack", "of the pack"),
    ("controller", "of each controller"),
    ("phase", "to the motor"),
    ("charge", "charging"),
    ("aux", "beside the drive"),
    ("brake", "brake resistor"),
]
YES_NO: list[tuple[object, str]] = [("", "not known"), ("yes", "yes"), ("no", "no")]
LEAD = (
    ("length", "one way", "by the layout"),
    ("beside", "leads side by side", ""),
    ("bundle", "loaded leads that touch", "usual"),
    ("ohm", "measured, one lead", ""),
    ("bend", "tightest bend", "not known"),
    ("edge_gap", "to that edge", "not known"),
    ("colour", "colour", "usual"),
    ("colour_found", "colour found", "not recorded"),
)
JOINT = (("ohm", "measured, one contact pair", ""), ("rating", "rating", "worked out"), ("solders", "who joins it", ""))
LAID: list[tuple[object, str]] = [("free", "in free air"), ("case", "in a closed case"), ("wrapped", "wrapped")]
EDGES: list[tuple[object, str]] = [
    ("", "edges not told"),
    ("none", "no edge"),
    ("plastic", "plastic or grommet"),
    ("metal", "metal edge"),
    ("carbon", "carbon edge"),
]
HALVES: list[tuple[object, str]] = [("", "not told"), ("socket", "socket"), ("plug", "bare pins")]
SPARKS: list[tuple[object, str]] = [
    ("", "not told"),
    ("none", "nothing"),
    ("touch", "a first touch"),
    ("resistor", "a resistor"),
    ("controller", "the controller"),
]
COILS: list[tuple[object, str]] = [("", "not told"), ("none", "nothing"), ("diode", "a diode"), ("diode and clamp", "diode and clamp")]


class LoadPane(Pane):
    """The curve of the piece in hand, and what it says."""

    title = "Load and time"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.curve = LoadCurve(session, "piece-load")
        self.words = lines_of_text("piece-words")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.curve, 3)
        layout.addWidget(scrolled(self.words), 2)

    def show_path(self, found: WiringStudy | None, one: Held | None) -> None:
        super().show_path(found, one)
        self.curve.show_load(load_of(one) if one is not None else None)
        self.words.setText("<br>".join(self._says(one)) if one is not None and found is not None else "")

    def _says(self, one: Held) -> list[str]:
        say, piece = self.session.say, one.laid.piece
        part = self.session.stock.find(piece.part) if piece.part else None
        assert self.found is not None
        bears = say(one.bears.rating_a, "current") if math.isfinite(one.bears.rating_a) else "not known"
        on = f" on “{one.run_name}”" if one.run_name else ""
        warm = say(one.temperature_c, "temperature") if math.isfinite(one.temperature_c) else "no steady temperature"
        lines = [
            f"<b>{one.name[0].upper()}{one.name[1:]}</b>{f', {part.name}' if part is not None and part.name != one.name else ''}",
            f"{say(one.rms_a, 'current')} for long{on}, with its own {say(one.bears.tau_s, 'time')}; it bears {bears}",
            f"{say(one.peak_a, 'current')} at most, for {say(one.peak_s, 'time')}",
        ]
        if piece.kind != "fuse":
            lines.append(f"{warm} in air of {say(one.laid.around.air_c, 'temperature')}, {say(one.bears.limit_c, 'temperature')} at most")
        lines.append(
            f"{say(one.bears.ohm, 'resistance')}: drops {say(one.drop_v, 'voltage')} at the peak, loses {say(one.loss_w, 'power')}"
        )
        share = one.loss_w * one.branch.count / self.found.total_loss_w if self.found.total_loss_w > 0.0 else 0.0
        if math.isfinite(self.found.range_lost_m) and one.branch.code not in ("charge", "aux"):
            lines.append(f"about {distance_text(share * self.found.range_lost_m, say)} of range")
        if piece.kind in ("joint", "key"):
            lines.append("judged worn: twice its new resistance; its cable cools it")
        return lines


class MadePane(Pane):
    """How the piece is made."""

    title = "As it is made"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.area = scrolled()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.area)
        self._shown: object = None

    def show_path(self, found: WiringStudy | None, one: Held | None) -> None:
        super().show_path(found, one)
        pieces = found.told.pieces if found is not None else ()
        at = next((k for k, piece in enumerate(pieces) if one is not None and piece.id == one.code), -1)
        shown = (
            self.session.design.active if found is not None else "",
            at,
            found.proposed if found is not None else None,
            one.kind if one else "",
        )
        if shown == self._shown:
            return
        self._shown = shown
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(8, 6, 8, 4)
        form.setVerticalSpacing(3)
        if found is None or one is None:
            form.addRow(soft_line("No piece is chosen.", 12))
        elif found.proposed:
            form.addRow(soft_line("Nobody told how it is wired: this path is proposed.", 12))
            button = QPushButton("Take the path over, to be corrected", objectName="take-path")
            button.clicked.connect(self.take)
            form.addRow(button)
        else:
            self._fields(form, one, f"variant.wiring.pieces.{at}")
        swap_contents(self.area, page)

    def _fields(self, form: QFormLayout, one: Held, base: str) -> None:
        session, kind = self.session, one.kind
        value = lambda name, label, fallback="": form.addRow(label, ValueField(session, f"{base}.{name}", label, fallback=fallback))
        choose = lambda name, label, words: form.addRow(label, ChoiceField(session, f"{base}.{name}", label, words))
        value("name", "called")
        choose("branch", "where", BRANCHES)
        if kind == "lead":
            choose("laid", "laid", LAID)
            for name, label, fallback in LEAD:
                value(name, label, fallback)
            choose("edge", "passes", EDGES)
            choose("moves", "moves", [(False, "lies still"), (True, "moves with the vehicle")])
            choose("solder", "ends in", [(False, "crimps"), (True, "solder")])
        elif kind in ("joint", "key"):
            choose("pack_side", "half on the cells' side", HALVES)
            form.addRow("other half", self._mate(base, one))
            for name, label, fallback in JOINT:
                value(name, label, fallback)
        elif kind == "fuse":
            value("from_cells", "from the cells", "not known")
        else:
            for name, label in (("rating", "rating"), ("volts", "volts, direct"), ("watts", "draws")):
                value(name, label, "of its part" if one.laid.piece.part else "not known")
        if kind in ("key", "switch", "contactor"):
            choose("reach", "in reach while riding", YES_NO)
            choose("spark", "against its spark", SPARKS)
        if kind == "contactor":
            choose("coil", "across its coil", COILS)
        if kind in ("lead", "joint"):
            choose("held", "held against pull", YES_NO)
        away = QPushButton("Take this piece out", objectName="remove-piece", flat=True)
        away.clicked.connect(self.remove)
        form.addRow(away)

    def _mate(self, base: str, one: Held) -> QPushButton:
        part = self.session.stock.find(one.laid.piece.mate) if one.laid.piece.mate else None
        button = QPushButton(part.name if part is not None else "choose the other half", objectName="pick-mate")
        button.clicked.connect(partial(self.pick_mate, base, one))
        return button

    def pick_mate(self, base: str, one: Held, _on: bool = False) -> None:
        """What the other half really is."""
        from wattagon.design.parts import ConnectorPart

        chosen = pick(self.session, ConnectorPart, one.laid.piece.mate or one.laid.piece.part, self)
        if chosen is not None:
            self._shown = None
            self.session.try_apply(Edit(label=f"other half: {chosen.name}", changes=((f"{base}.mate", chosen.id),)))

    def take(self) -> None:
        """The proposed path as the design's own."""
        if self.found is not None:
            self.session.try_apply(with_wiring(self.found, "the proposed path taken over"))

    def remove(self) -> None:
        """The piece in hand out of the path."""
        if self.found is not None and self.one is not None:
            kept = tuple(piece for piece in self.found.told.pieces if piece.id != self.one.code)
            self.session.try_apply(with_wiring(self.found, f"{self.one.name} taken out", pieces=kept))


class FusePane(Pane):
    """The five tests of every fuse."""

    title = "Fuse"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.words = lines_of_text("fuse-words")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 4, 4, 2)
        layout.addWidget(scrolled(self.words))

    def show_path(self, found: WiringStudy | None, one: Held | None) -> None:
        super().show_path(found, one)
        if found is None:
            self.words.setText("")
            return
        theme = THEMES[self.session.theme_name]
        order = sorted(found.fuses, key=lambda code: one is None or code != one.code)
        lines = []
        for code in order:
            fuse, held = found.fuses[code], found.piece(code)
            lines.append(f"<b>{held.name if held is not None else code}: {fuse.part.name}</b>")
            for test in fuse.tests:
                ink = theme.of(test.status).name()
                mark = {"over": "◆", "tight": "▬", "clear": "○"}.get(test.status.value, "?")
                lines.append(f'<span style="color:{ink}">{mark} {test.code}</span>: {test.words}')
        self.words.setText("<br>".join(lines) or "No fuse is in the path.")


class BusPane(Pane):
    """Pre-charge, capacitors, long leads, brake resistor, box."""

    title = "Pre-charge, bus, box"
    of_piece = False

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.words = lines_of_text("bus-words")
        self.form = scrolled()
        self.brake = BrakeCurve(session)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 2)
        self.form.setMinimumWidth(300)
        layout.addWidget(self.form, 3)
        layout.addWidget(scrolled(self.words), 3)
        layout.addWidget(self.brake, 2)
        self._shown: object = None

    def show_path(self, found: WiringStudy | None, one: Held | None) -> None:
        super().show_path(found, one)
        wiring = self.session.design.variant().wiring if self.session.docs else None
        shown = (
            self.session.design.active if self.session.docs else "",
            wiring is None,
            wiring is not None and wiring.bank is None,
            wiring is not None and wiring.box is None,
            wiring.precharge if wiring is not None else "",
            wiring.brake if wiring is not None else "",
        )
        if shown != self._shown:
            self._shown = shown
            self._build(wiring)
        self.words.setText("<br>".join(self._says(found)) if found is not None else "")
        self.brake.show_brake(found.brake if found is not None else None)

    def _build(self, wiring: Wiring | None) -> None:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(4, 2, 4, 2)
        form.setVerticalSpacing(3)
        session = self.session
        for use, name, words in (("pre-charge", "precharge", "pre-charge"), ("brake", "brake", "brake resistor")):
            part = session.stock.find(getattr(wiring, name)) if wiring is not None and getattr(wiring, name) else None
            button = QPushButton(part.name if part is not None else "none told", objectName=f"pick-{name}")
            button.clicked.connect(partial(self.pick_resistor, use, name))
            form.addRow(words, button)
        if wiring is not None:
            if wiring.brake:
                form.addRow("interlock with the bridge", ChoiceField(session, "variant.wiring.interlock", "interlock", YES_NO))
            form.addRow(
                "plus and minus apart", ValueField(session, "variant.wiring.apart", "plus and minus apart", fallback="side by side")
            )
        if wiring is None or wiring.bank is None:
            self._tell(form, "capacitors", lambda: self.put("capacitors", bank=Bank()))
        else:
            fields = (
                ("farad", "capacitors", "usual"),
                ("volts", "volts on the cans", "not known"),
                ("ripple", "ripple rating", "not known"),
            )
            for name, label, fallback in (*fields, ("standing", "standing load", "none"), ("bleeder", "bleeder", "none")):
                form.addRow(label, ValueField(session, f"variant.wiring.bank.{name}", label, fallback=fallback))
        if wiring is None or wiring.box is None:
            size = lambda mm: Quantity(value=mm / 1e3, known=Known.ASSUMED)
            box = BoxChoice(length=size(200), width=size(120), height=size(70))
            self._tell(form, "closed box", lambda: self.put("closed box", box=box))
        else:
            for name, label, fallback in (
                ("length", "box, long", ""),
                ("width", "wide", ""),
                ("height", "high", ""),
                ("plate", "plate to air", "none"),
            ):
                form.addRow(label, ValueField(session, f"variant.wiring.box.{name}", label, fallback=fallback))
            form.addRow("", ChoiceField(session, "variant.wiring.box.metal", "walls", [(False, "plastic walls"), (True, "metal walls")]))
        swap_contents(self.form, page)

    def _tell(self, form: QFormLayout, words: str, run) -> None:  # type: ignore[no-untyped-def]
        button = QPushButton(f"Tell of the {words}", objectName=f"tell-{words.replace(' ', '-')}", flat=True)
        button.clicked.connect(run)
        form.addRow("", button)

    def pick_resistor(self, use: str, name: str, _on: bool = False) -> None:
        """One of stock."""
        chosen = pick(self.session, ResistorPart, "", self, lambda part: part.use == use)
        if chosen is not None:
            by = {"precharge_by": "hand"} if name == "precharge" else {}
            self.put(f"{use}: {chosen.name}", **{name: chosen.id}, **by)

    def _says(self, found: WiringStudy) -> list[str]:
        say, pre, bus = self.session.say, found.precharge, found.bus
        bank = f"{say(pre.farad, 'capacitance')}{' (usual)' if pre.assumed else ''}"
        lines = [
            f"<b>Pre-charge</b>: {bank} hold {pre.bank_j:.1f} J at {say(found.pack.volts.charged, 'voltage')}; "
            f"{say(pre.ohm, 'resistance')} takes {say(pre.seconds, 'time')} to 95 %, "
            f"{pre.joule:.1f} J, {say(pre.peak_w, 'power')} at first",
        ]
        if math.isfinite(pre.touch_share):
            lines.append(f"the first touch charges {pre.touch_share:.0%}; {say(pre.spark_a, 'current')} are left for the contact")
        else:
            lines.append(f"the closing contact sees {pre.spark_j:.2g} J, about {say(pre.spark_a, 'current')}")
        if math.isinf(pre.bleeds_s):
            lines.append("without a bleeder the bank stays charged for minutes to days: measure under 5 V before touching")
        else:
            lines.append(f"after the pack is off, {say(pre.bleeds_s, 'time')} to 5 V: measure before touching")
        rating = say(bus.rating_v, "voltage") if math.isfinite(bus.rating_v) else "a rating that is not known"
        lines.append(
            f"<b>Bus</b>: {say(bus.cut_a, 'current')} cut at once lift it to {say(bus.cut_v, 'voltage')} "
            f"({1e6 * bus.henry:.2g} µH of leads), against {rating}; the spinning motor alone gives {say(max(bus.spun_v, 0.0), 'voltage')}"
        )
        lines.append(f"{say(bus.ripple_a, 'current')} of ripple in each bank at half throttle")
        if math.isfinite(bus.opens_s):
            lines.append(f"if the pack opens while braking it is there in {1e3 * bus.opens_s:.1f} ms")
        if found.brake is not None:
            one = found.brake
            lines.append(
                f"<b>Resistor brake</b>: {say(max(one.force_n), 'force')} at most and nothing at rest; "
                f"{say(one.repeated_c, 'temperature')} with a stop from {say(one.from_m_s, 'speed')} every 30 s"
            )
            lines.append(f"one stop: {one.stop.resistor_j / 1e3:.1f} kJ in the resistor, {one.stop.winding_j / 1e3:.1f} kJ in the windings")
        if found.box is not None:
            lines.append(f"<b>Box</b>: {say(found.box.watts, 'power')} bring its air to {say(found.box.inside_c, 'temperature')}")
        return lines


PANES: tuple[type[Pane], ...] = (LoadPane, MadePane, FusePane, BusPane, ControlPane)
