"""Currents and charging: what rides draw, what a charge takes."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date

from PySide6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.parts import ChargerPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Charging, LoadRow
from wattagon.desk.chart.loadcurve import Load, LoadCurve
from wattagon.desk.fields import ChoiceField, ValueField, lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.pack.drawn import ChargeLine
from wattagon.desk.pack.tab import Tab
from wattagon.desk.passing import swap_contents
from wattagon.desk.picker import pick
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.exchange.units import parse
from wattagon.physics.infer import pack_fit
from wattagon.study.findings.status import Status
from wattagon.study.pack.study import PackStudy

CAUTION = (
    "Never unattended, below 0 °C, or with a swollen or hot pack; on what does not burn, way out behind you. Bought chargers, unopened."
)


class Currents(Tab):
    """What the rides draw, against cells and board by time."""

    title = "Currents"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.curve = LoadCurve(session, "pack-currents")
        self.words = lines_of_text("pack-current-words")
        self.amps, self.volts = QLineEdit(objectName="load-amps"), QLineEdit(objectName="load-volts")
        for field, name in ((self.amps, "amps"), (self.volts, "volts")):
            field.setPlaceholderText(name)
            field.setMaximumWidth(80)
            field.returnPressed.connect(self.measure)
        row = QHBoxLayout()
        row.addWidget(QLabel("Measured:"))
        row.addWidget(self.amps)
        row.addWidget(self.volts)
        add = QPushButton("Add a load", objectName="add-load")
        add.setToolTip("Two or more loads, seconds after each other, tell the resistance: it replaces the label's")
        add.clicked.connect(self.measure)
        self.take = QPushButton("Take it", objectName="take-resistance")
        self.take.clicked.connect(self.take_resistance)
        row.addWidget(add)
        row.addWidget(self.take)
        row.addStretch(1)
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(4, 2, 4, 2)
        column.addWidget(self.words)
        column.addLayout(row)
        self.fitted = soft_line("", 12)
        column.addWidget(self.fitted)
        column.addStretch(1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.curve, 3)
        layout.addWidget(scrolled(side), 3)

    def show_pack(self, found: PackStudy | None) -> None:
        super().show_pack(found)
        if found is None:
            self.curve.show_load(None)
            self.words.setText("")
            return
        say, pack = self.session.say, found.resolved.train.pack
        lasting, burst = float(pack.continuous_a), float(pack.burst_a)
        bears = lambda s: (
            burst if s <= 10.0 else lasting if s >= 60.0 else burst * (lasting / burst) ** (math.log(s / 10.0) / math.log(6.0))
        )
        known = math.isfinite(lasting) and math.isfinite(burst)
        ridden = found.ridden
        points = tuple((s, a, bears(s) if known else math.nan) for s, a in (ridden.windows if ridden is not None else ()))
        lines = []
        if found.guarded is not None:
            for trip in found.guarded.trips:
                if math.isfinite(trip.amps):
                    lines.append((f"board's {trip.name}", ((max(trip.delay_s, 1.0), trip.amps), (1200.0, trip.amps))))
        point = self.session.point
        self.curve.show_load(
            Load(
                points=points,
                lasting_a=ridden.lasting_a if ridden is not None else found.asked_a,
                rating_a=lasting,
                status=Status.CLEAR,
                now_a=point.pack_a if point is not None and point.pack_a > 0.0 else None,
                lines=tuple(lines),
            )
        )
        strings = float(pack.parallel)
        told = lambda amps: say(amps, "current") if math.isfinite(amps) else "not known"
        each = f", {told(lasting / strings)} a cell" if math.isfinite(lasting) else ""
        text = [
            f"Cells bear {told(lasting)} for long{each}; {told(burst)} for ten seconds",
            f"a whole discharge at {say(found.sustained_a, 'current')} warms them by 30 K without cooling",
            f"settings ask for {say(found.asked_a, 'current')}: the bus sags to {say(found.volts.sag, 'voltage')} at half charge",
            f"at 0 °C the cells resist {found.cold_share:.1f} times as much as now",
        ]
        if ridden is not None:
            text.append(
                f"rides: {say(ridden.lasting_a, 'current')} for long on “{ridden.lasting_run}”, {say(ridden.peak_a, 'current')} at most, "
                f"cells at {say(ridden.hottest_c, 'temperature')}"
            )
        text.append(
            f"about {found.life.cycles:.0f} full charges or {found.life.years:.0f} years (÷ or × 2); "
            f"{say(found.per_kwh, 'money')} for a kWh of the window"
        )
        if found.links is not None:
            one = found.links
            warm = say(one.temperature_c, "temperature") if math.isfinite(one.temperature_c) else "no steady temperature"
            text.append(f"links bear {say(one.bears_a, 'current')}, {say(one.amps, 'current')} flow: {warm}")
        self.words.setText("<br>".join(text))
        self._show_fit()

    def _fit(self) -> tuple[float, float] | None:
        loads = self.battery().loads
        if len(loads) < 2 or len({row.amps for row in loads}) < 2:
            return None
        return pack_fit([row.amps for row in loads], [row.volts for row in loads])

    def _show_fit(self) -> None:
        fit, loads = self._fit(), self.battery().loads
        self.take.setEnabled(fit is not None)
        if fit is None:
            self.fitted.setText(f"{len(loads)} loads kept; two tell the resistance of cells and leads" if loads else "")
            return
        emf, ohm = fit
        say = self.session.say
        self.fitted.setText(f"{len(loads)} loads: {say(ohm, 'resistance')} with leads, {say(emf, 'voltage')} at rest")

    def measure(self) -> None:
        """One load as it was read."""
        session = self.session
        try:
            amps = parse(self.amps.text(), "current", session.unit_set, field="amps")
            volts = parse(self.volts.text(), "voltage", session.unit_set, field="volts")
            row = LoadRow(amps=amps, volts=volts)
            session.apply(
                Edit(label="a load measured", changes=(("variant.battery", replace(self.battery(), loads=(*self.battery().loads, row))),))
            )
        except WattagonError as refusal:
            refuse(self.volts, True)
            session.told.emit(str(refusal), True)
            return
        refuse(self.volts, False)
        for field in (self.amps, self.volts):
            field.clear()

    def take_resistance(self) -> None:
        """The measured resistance in the place of the label's."""
        fit, found = self._fit(), self.found
        if fit is None or found is None:
            return
        pack = found.resolved.train.pack
        each = (fit[1] - float(pack.wiring_ohm)) * float(pack.parallel) / float(pack.series)
        if each <= 0.0:
            self.session.told.emit("the measured resistance is less than that of the leads alone: look at the readings", True)
            return
        told = Quantity(value=each, known=Known.MEASURED, date=date.today().isoformat(), tolerance=0.05 * each)
        self.session.try_apply(Edit(label="measured resistance of the cells", changes=(("variant.pack.overrides.cell_r0_ohm", told),)))


class ChargingTab(Tab):
    """Charger, amps, what it takes and costs."""

    title = "Charging"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.line = ChargeLine(session)
        self.words = lines_of_text("charge-words")
        self.form = scrolled()
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(4, 2, 4, 2)
        column.addWidget(self.words)
        caution = lines_of_text("charge-caution")
        caution.setText(f"<b>Caution:</b> {CAUTION} Local rules and licensed practice come first.")
        column.addWidget(caution)
        column.addStretch(1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addWidget(self.form, 5)
        layout.addWidget(self.line, 5)
        layout.addWidget(scrolled(side), 5)
        self._shown: object = None

    def show_pack(self, found: PackStudy | None) -> None:
        super().show_pack(found)
        self.line.show_pack(found)
        self._build()
        if found is None:
            self.words.setText("")
            return
        one, say = found.charged, self.session.say
        limits = ", ".join(f"{limit.name} {say(limit.amps, 'current')}" for limit in one.limits)
        per = f", {say(one.cost_per_100km, 'money')} for 100 km" if math.isfinite(one.cost_per_100km) else ""
        turns = f"; {one.turns} bricks one after the other" if one.turns > 1 else ""
        self.words.setText(
            "<br>".join(
                (
                    f"<b>{one.charger.name if one.charger is not None else 'No charger of stock ends at these volts'}</b>"
                    f"{'' if self.battery().charging else ' (proposed)'}{turns}",
                    f"least of: {limits}",
                    f"{say(one.wall_wh, 'energy')} from the wall, {say(one.cost, 'money')} a charge{per}",
                    f"ends at {one.reaches:.0%}; a real tail is about {1.5:g} times the taper of two resistances, which is counted",
                )
            )
        )

    def _build(self) -> None:
        told = self.session.design.variant().battery if self.session.docs else None
        shown = (self.session.design.active if self.session.docs else "", told is not None and told.charging is not None)
        if shown == self._shown and self._shown is not None:
            self._name_charger()
            return
        self._shown = shown
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(8, 6, 8, 4)
        form.setVerticalSpacing(3)
        if told is None or told.charging is None:
            form.addRow(soft_line("How it is charged was not told.", 12))
            button = QPushButton("Tell how it is charged", objectName="tell-charging")
            button.clicked.connect(lambda: self.put("how it is charged", charging=Charging()))
            form.addRow(button)
        else:
            base = "variant.battery.charging"
            self.charger = QPushButton(objectName="pick-charger", minimumWidth=60)
            self.charger.clicked.connect(self.pick_charger)
            form.addRow("charger", self.charger)
            form.addRow("charged to", ValueField(self.session, f"{base}.volts", "charged to", fallback="full"))
            form.addRow("with", ValueField(self.session, f"{base}.amps", "charging amps", fallback="what it gives"))
            turns: list[tuple[object, str]] = [(True, "as one pack"), (False, "brick by brick")]
            form.addRow("bricks", ChoiceField(self.session, f"{base}.together", "bricks", turns))
            ways: list[tuple[object, str]] = [(False, "main leads"), (True, "balance leads")]
            form.addRow("through", ChoiceField(self.session, f"{base}.by_balance_leads", "through", ways))
            form.addRow("balance leads bear", ValueField(self.session, f"{base}.lead_a", "balance leads bear", fallback="3 A"))
        swap_contents(self.form, page)
        self._name_charger()

    def _name_charger(self) -> None:
        told = self.battery().charging if self.session.docs else None
        if told is not None and hasattr(self, "charger"):
            part = self.session.stock.find(told.charger) if told.charger else None
            self.charger.setText(part.name if part is not None else "choose from stock")

    def pick_charger(self) -> None:
        """One of stock."""
        told = self.battery().charging or Charging()
        chosen = pick(self.session, ChargerPart, told.charger, self)
        if chosen is not None:
            self.put(chosen.name, charging=replace(told, charger=chosen.id))
