"""The parts of a variant in detail: picked from stock, corrected by what was measured, stages of the reduction."""

from __future__ import annotations

import contextlib
from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QFormLayout,
    QFrame,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, HubPart, MotorPart, ProfilePart, WheelPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit, get
from wattagon.design.tree import Gears, ReductionKind, StageChoice, Variant, WheelChoice
from wattagon.desk.drive.propeller_parts import pick_carrier, pick_propeller, propeller_section
from wattagon.desk.fields import ChoiceField, ValueField
from wattagon.desk.passing import swap_contents
from wattagon.desk.picker import pick, pick_cell
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import PathError, WattagonError
from wattagon.exchange import units
from wattagon.study.findings.status import Status
from wattagon.study.resolve import ROLLER_GRIP, ROLLER_PRESS_N
from wattagon.study.resolve.gears import HUB_NM
from wattagon.study.ride.inputs import RAMP_DOWN_S, RAMP_UP_S, SHIFT_PAUSE_S

MOTOR_FIELDS = (
    ("kv_rpm_per_v", "kv"),
    ("resistance_ohm", "Resistance"),
    ("inductance_h", "Inductance"),
    ("no_load_a", "No-load current"),
    ("pole_pairs", "Pole pairs"),
    ("current_continuous_a", "Lasting motor amps"),
    ("current_peak_a", "Peak motor amps"),
    ("voltage_max_v", "Highest voltage"),
    ("bolts_mm", "Bolt circle of its face, mm"),
    ("limit_c", "Winding limit"),
    ("mount_w_per_k", "Heat into the mount"),
    ("air_share", "Air at the case"),
    ("fixed_w_per_k", "Water cooling"),
)
CONTROLLER_RATINGS = (
    ("voltage_max_v", "Highest supply"),
    ("motor_current_continuous_a", "Lasting motor amps"),
    ("motor_current_burst_a", "Burst motor amps"),
    ("pack_current_max_a", "Highest pack amps"),
    ("erpm_max", "Electrical speed"),
    ("duty_max", "Largest duty"),
    ("to_air_k_per_w", "Controller to air"),
    ("heat_j_per_k", "Heat capacity"),
)
CONTROLLER_SETTINGS = (
    ("motor_current_a", "Motor amps"),
    ("pack_current_a", "Pack amps"),
    ("regen_motor_current_a", "Braking motor amps"),
    ("regen_pack_current_a", "Braking pack amps"),
    ("cutback_start_v", "Cutback starts"),
    ("cutback_end_v", "Cutback ends"),
    ("motor_taper_start_c", "Motor taper starts"),
    ("motor_taper_end_c", "Motor taper ends"),
    ("boost_tau_s", "Boost time constant"),
    ("box_area", "Walls of a closed box"),
    ("brake_resistor_ohm", "Brake resistor"),
    ("release_current_a", "Braking amps on release"),
    ("ramp_up_s", "Ramp up"),
    ("ramp_down_s", "Ramp down"),
)
ROLLER_FIELDS = (
    ("roller_diameter", "Roller"),
    ("press_force", "Pressing force"),
    ("arm_angle", "Arm pulled in"),
    ("grip_dry", "Grip, dry"),
    ("grip_dusty", "Grip, dusty"),
    ("grip_wet", "Grip, wet"),
)
# what is taken where a field is empty: value and dimension, or words
ELSE: dict[str, tuple[float, str] | str] = {
    "regen_motor_current_a": "not stated",
    "regen_pack_current_a": "not stated",
    "release_current_a": "not stated",
    "arm_angle": "fixed press",
    "ramp_up_s": (RAMP_UP_S, "time"),
    "ramp_down_s": (RAMP_DOWN_S, "time"),
    "shift_up": "≈ as usual",
    "shift_pause": (SHIFT_PAUSE_S, "time"),
    "press_force": (ROLLER_PRESS_N, "force"),
    "efficiency": "≈ as usual",
    "drag": "≈ as usual",
    "wake": "≈ by its place",
    "deduction": "≈ by its place",
    "seal": "≈ by its place",
    "tail_length": "not stated",
    "pivot_height": "not stated",
    "made_for": "≈ as usual",
    "wedge": "none",
    "shaft_diameter": "not stated",
    "shaft_span": "not stated",
    "thrust_rating": "not stated",
    "cooling_w_per_k": "≈ as usual",
    "pump_w": "≈ as usual",
    "tilt": "level",
    "thrust_factor": "as forecast",
    "torque_factor": "as forecast",
    **{f"grip_{on}": (grip, "number") for on, grip in ROLLER_GRIP.items()},
}
PACK_FIELDS = (
    ("capacity_ah", "Capacity of a cell"),
    ("cell_r0_ohm", "Cell resistance"),
    ("continuous_a", "Lasting cell amps"),
    ("burst_a", "Burst cell amps"),
)
STAGE_WORDS = {
    ReductionKind.BELT: "toothed belt",
    ReductionKind.CHAIN: "chain",
    ReductionKind.GEAR: "spur gears",
    ReductionKind.PLANETARY: "planetary gear",
    ReductionKind.FRICTION: "friction roller",
    ReductionKind.DIRECT: "direct",
}


def _nearest(offered: list[int], wanted: int) -> int:
    return min(offered, key=lambda teeth: abs(teeth - wanted))


class PartsPanel(QScrollArea):
    """A form in the order of the drive; rebuilt only when its make-up changes."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._made: tuple[object, ...] = ()
        self._sections: dict[str, QWidget] = {}
        self.setObjectName("parts")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        session.design_changed.connect(self.refresh)
        self.refresh()

    def show_link(self, link: str) -> None:
        """Scroll to one link of the drive."""
        self.refresh()
        section = self._sections.get({"road": "wheel", "shaft": "propeller"}.get(link, link))
        if section is not None:
            self.ensureWidgetVisible(section, 0, 0)
            self.verticalScrollBar().setValue(section.y())

    def showEvent(self, event: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        """Rebuild when other parts are used; the fields follow values by themselves."""
        if not self._session.docs or not self.isVisible():
            return
        v = self._session.design.variant()
        made = (
            self._session.doc.key,
            v.id,
            v.motor.part,
            v.controller.part,
            v.pack.part,
            v.wheel.part if v.wheel else None,
            tuple((s.kind, s.profile) for s in v.stages),
            v.gears is not None,
            (v.propeller.part, v.propeller.place, v.propeller.cooling, v.propeller.carrier) if v.propeller is not None else None,
            self._session.stock.stamp,
        )
        if made == self._made:
            for box in self.findChildren(QCheckBox):
                self._show_box(box)
            return
        self._made = made
        self._build(v)

    def _build(self, v: Variant) -> None:
        place = self.verticalScrollBar().value()
        body = QWidget()
        layout = QVBoxLayout(body)
        layout.setContentsMargins(4, 2, 10, 8)
        layout.setSpacing(4)
        stock = self._session.stock
        self._sections = {}
        form = self.section(layout, "motor", "Motor")
        motor = stock.get(MotorPart, v.motor.part) if v.motor.part in stock.rows(MotorPart) else None
        self.pick_row(form, motor.name if motor else v.motor.part, "motor")
        floats = self._session.design.vehicle.kind.floats
        driven = () if floats else (("driven_wheels", "Driven wheels"),)
        self.fields(form, "variant.motor", (("count", "Motors"), *driven))
        self.fields(form, "variant.motor", MOTOR_FIELDS, motor)
        for k, stage in enumerate(v.stages):
            self._stage(layout, k, stage)
        if v.gears is not None:
            self._gears(layout, v.gears)
        elif not floats and KINDS[self._session.design.vehicle.kind].pedals:
            through = QPushButton("Through the bike's gears", objectName="add-gears")
            through.setProperty("flat", True)
            through.setToolTip("The stages drive the crank; the bike's own chain and cassette follow")
            through.clicked.connect(lambda: self._set_gears(Gears()))
            layout.addWidget(through, 0, Qt.AlignmentFlag.AlignLeft)
        add = QPushButton("Add a stage", objectName="add-stage")
        add.setProperty("flat", True)
        add.clicked.connect(self._add_stage)
        layout.addWidget(add, 0, Qt.AlignmentFlag.AlignLeft)
        form = self.section(layout, "controller", "Controller, one a motor")
        part = stock.get(ControllerPart, v.controller.part) if v.controller.part in stock.rows(ControllerPart) else None
        self.pick_row(form, part.name if part else v.controller.part, "controller")
        self.fields(form, "variant.controller", CONTROLLER_SETTINGS)
        self.fields(form, "variant.controller", CONTROLLER_RATINGS, part)
        form = self.section(layout, "pack", "Pack")
        cell = stock.get(CellPart, v.pack.part) if v.pack.part in stock.rows(CellPart) else None
        self.pick_row(form, cell.name if cell else v.pack.part, "pack")
        self.fields(
            form,
            "variant.pack",
            (("series", "In series"), ("parallel", "In parallel"), ("protection_a", "Protection board"), ("wiring_ohm", "Leads and links")),
        )
        self.fields(form, "variant.pack", PACK_FIELDS, cell)
        if floats and v.propeller is not None:
            propeller_section(self, layout, self._session, v.propeller)
        elif not floats:
            self._wheel(layout, v)
        layout.addStretch(1)
        swap_contents(self, body)
        self.verticalScrollBar().setValue(place)

    def _wheel(self, layout: QVBoxLayout, v: Variant) -> None:
        form, stock = self.section(layout, "wheel", "Wheel"), self._session.stock
        wheel = stock.get(WheelPart, v.wheel.part) if v.wheel is not None and v.wheel.part in stock.rows(WheelPart) else None
        self.pick_row(form, wheel.name if wheel else "as measured on the vehicle", "wheel")
        if v.wheel is not None:
            self.fields(form, "variant.wheel", (("diameter_m", "Tyre diameter"), ("rolling_share", "Loaded radius")), wheel)
            own = QPushButton("Use the measured wheel")
            own.setProperty("flat", True)
            own.clicked.connect(self._own_wheel)
            form.addRow(own)

    def section(self, layout: QVBoxLayout, code: str, title: str) -> QFormLayout:
        frame = QFrame()
        form = QFormLayout(frame)
        form.setContentsMargins(4, 6, 2, 8)
        form.setVerticalSpacing(4)
        form.setHorizontalSpacing(8)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        head = QLabel(title)
        head.setFont(font(13, 600))
        form.addRow(head)
        layout.addWidget(frame)
        self._sections.setdefault(code, frame)
        return form

    def pick_row(self, form: QFormLayout, name: str, what: str) -> None:
        button = QPushButton(name, objectName=f"pick-{what}")
        button.setToolTip(f"{name}. Pick another from stock")
        button.setStyleSheet("text-align: left;")
        button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        button.clicked.connect(
            {
                "motor": self.pick_motor,
                "controller": self.pick_controller,
                "pack": self.pick_cell,
                "wheel": self.pick_wheel,
                "propeller": self.pick_propeller,
                "carrier": self.pick_carrier,
            }[what]
        )
        form.addRow(button)

    def fields(self, form: QFormLayout, base: str, fields: tuple[tuple[str, str], ...], part: object = None) -> None:
        for name, label in fields:
            fallback = ""
            if part is not None:
                value = getattr(part, name)
                fallback = "not stated" if value is None else f"{self._said(name, value)}, stock"
            elif name in ELSE:
                taken = ELSE[name]
                fallback = taken if isinstance(taken, str) else f"≈ {self._session.say(*taken)}"
            field = ValueField(self._session, f"{base}.{name}", label, fallback=fallback)
            field.setMinimumWidth(58)
            words = self.soft(label)
            words.setBuddy(field)
            form.addRow(words, field)

    def _said(self, name: str, value: float) -> str:
        from wattagon.design import codec
        from wattagon.design.parts import PART_KINDS

        for cls in PART_KINDS:
            item = codec.member(cls, name)
            if item is not None and item.spec is not None:
                return self._session.say(float(value), item.spec.dimension)
        return f"{value:g}"

    # stages

    def _stage(self, layout: QVBoxLayout, k: int, stage: StageChoice) -> None:
        form = self.section(layout, "reduction", f"Stage {k + 1}")
        base = f"variant.stages.{k}"
        kinds: list[tuple[object, str]] = list(STAGE_WORDS.items())
        choice = ChoiceField(self._session, f"{base}.kind", "Kind", kinds)
        choice.activated.disconnect()
        choice.setMinimumWidth(58)
        choice.activated.connect(lambda _i, k=k, box=choice: self.set_kind(k, ReductionKind(box.currentData())))
        form.addRow(self.soft("Kind"), choice)
        if stage.kind in (ReductionKind.BELT, ReductionKind.CHAIN):
            families: list[tuple[object, str]] = [
                (p.id, p.name) for p in self._session.stock.rows(ProfilePart).values() if getattr(p, "kind", "") == stage.kind.value
            ]
            profile = ChoiceField(self._session, f"{base}.profile", "Family", families)
            profile.setMinimumWidth(58)
            form.addRow(self.soft("Family"), profile)
        if stage.kind is ReductionKind.FRICTION:
            self.fields(form, base, ROLLER_FIELDS)
        elif stage.kind is not ReductionKind.DIRECT:
            names = ("Sun teeth", "Ring teeth") if stage.kind is ReductionKind.PLANETARY else ("Driver teeth", "Driven teeth")
            self.fields(form, base, (("driver_teeth", names[0]), ("driven_teeth", names[1])))
        if stage.kind is ReductionKind.BELT:
            self.fields(form, base, (("width_mm", "Width, mm"),))
        if stage.kind is not ReductionKind.DIRECT:
            self.fields(form, base, (("efficiency", "Efficiency"), ("drag", "Drag")))
        row = QVBoxLayout()
        boxes = [(f"{base}.freewheel", "freewheel"), (f"{base}.shared", "shared by all motors")]
        if stage.kind is ReductionKind.FRICTION:
            boxes += [("brief.conditions.dusty", "dusty ground"), ("brief.conditions.rain_excluded", "never ridden in rain")]
        for path, words in boxes:
            box = QCheckBox(words, objectName=path)
            self._show_box(box)
            box.clicked.connect(lambda on, path=path, words=words: self._check(path, words, on))
            row.addWidget(box)
        form.addRow(row)
        remove = QPushButton("Remove this stage", objectName=f"remove-stage-{k}")
        remove.setProperty("flat", True)
        remove.clicked.connect(lambda _on=False, k=k: self._remove_stage(k))
        form.addRow(remove)

    def _gears(self, layout: QVBoxLayout, gears: Gears) -> None:
        """The bike's own ring, cogs, freewheels and the cadence that is pedalled."""
        form = self.section(layout, "reduction", "Bike's own gears")
        base = "variant.gears"
        self.fields(form, base, (("ring", "Ring teeth"),))
        cogs = QLineEdit(" ".join(map(str, gears.cogs)), objectName="gear-cogs")
        cogs.setCursorPosition(0)
        cogs.setAccessibleName("Teeth of the cogs, the largest first")
        cogs.setToolTip("Teeth of the cogs, the largest first, such as 42 34 28 24 20 17 14 11")
        cogs.editingFinished.connect(lambda: self.set_cogs(cogs))
        form.addRow(self.soft("Cogs"), cogs)
        names = (
            ("in_view", "Gear in view"),
            ("cadence_low", "Shift down at"),
            ("shift_up", "Shift up at"),
            ("shift_pause", "Pause for a shift"),
            ("cadence_high", "Help up to"),
            ("efficiency", "Efficiency"),
        )
        self.fields(form, base, names)
        say = self._session.say
        hubs: list[tuple[object, str]] = [("", "the bike's own")]
        hubs += [(hub.id, f"{hub.name}, {say(hub.torque_nm, 'torque')}") for hub in self._session.stock.rows(HubPart).values()]
        choice = ChoiceField(self._session, f"{base}.hub", "Hub", hubs)
        choice.setToolTip(f"What body, cassette and pawls bear together; the bike's own is taken as {say(HUB_NM, 'torque')}, typical")
        choice.setMinimumWidth(58)
        form.addRow(self.soft("Hub"), choice)
        row = QVBoxLayout()
        for name, words in (("crank_clutch", "cranks stand still by themselves"), ("hub_freewheel", "freewheel in the hub")):
            box = QCheckBox(words, objectName=f"{base}.{name}")
            self._show_box(box)
            box.clicked.connect(lambda on, path=f"{base}.{name}", words=words: self._check(path, words, on))
            row.addWidget(box)
        form.addRow(row)
        remove = QPushButton("Not through the gears", objectName="remove-gears")
        remove.setProperty("flat", True)
        remove.clicked.connect(lambda: self._set_gears(None))
        form.addRow(remove)

    def set_cogs(self, field: QLineEdit) -> None:
        """Other cogs, as typed; a refusal is told and the typing stays."""
        gears = self._session.design.variant().gears
        if gears is None or not field.isModified():
            return
        try:
            cogs = tuple(units.whole(word, "count", "Cogs") for word in field.text().replace(",", " ").split())
            fresh = replace(gears, cogs=tuple(sorted(cogs, reverse=True)), in_view=None)
            self._session.apply(Edit(label="Cogs", changes=(("variant.gears", fresh),)))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        field.setText(" ".join(map(str, fresh.cogs)))
        field.setModified(False)

    def _set_gears(self, gears: Gears | None) -> None:
        label = "Through the bike's gears" if gears is not None else "Not through the bike's gears"
        self._session.try_apply(Edit(label=label, changes=(("variant.gears", gears),)))

    def soft(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setProperty("voice", "soft")
        label.setFont(font(12))
        return label

    def _show_box(self, box: QCheckBox) -> None:
        with contextlib.suppress(PathError):  # a stage that is no more: the form is made anew
            box.setChecked(bool(get(self._session.design, box.objectName())))

    def _check(self, path: str, words: str, on: bool) -> None:
        self._session.try_apply(Edit(label=f"{words.capitalize()} {'on' if on else 'off'}", changes=((path, on),)))
        self._made = ()
        self.refresh()

    def set_kind(self, k: int, kind: ReductionKind) -> None:
        stages = list(self._session.design.variant().stages)
        stages[k] = self.typical_stage(kind, stages[k])
        if not self._session.try_apply(Edit(label=f"Stage {k + 1}: {STAGE_WORDS[kind]}", changes=(("variant.stages", tuple(stages)),))):
            self._made = ()
            self.refresh()

    def typical_stage(self, kind: ReductionKind, old: StageChoice | None = None) -> StageChoice:
        """A stage of a kind that can be solved at once: stock teeth near the old ones."""
        stock = self._session.stock
        teeth = (old.driver_teeth, old.driven_teeth) if old is not None and old.driven_teeth > 1 else (15, 45)
        if kind in (ReductionKind.BELT, ReductionKind.CHAIN):
            family = {ReductionKind.BELT: "5M", ReductionKind.CHAIN: "08A"}[kind]
            offered = [sorted({p.teeth for p in toothed(stock, family, role)}) or [t] for role, t in (("driver", 15), ("driven", 45))]
            near = tuple(_nearest(o, w) for o, w in zip(offered, teeth, strict=True))
            return StageChoice(
                kind=kind, profile=family, driver_teeth=near[0], driven_teeth=near[1], width_mm=15.0 if family == "5M" else None
            )
        if kind is ReductionKind.FRICTION:
            return StageChoice(kind=kind, roller_diameter=0.04)
        if kind is ReductionKind.DIRECT:
            return StageChoice(kind=kind)
        return StageChoice(kind=kind, driver_teeth=teeth[0], driven_teeth=teeth[1])

    def _add_stage(self) -> None:
        stages = self._session.design.variant().stages
        added = (*stages, self.typical_stage(ReductionKind.BELT))
        self._session.try_apply(Edit(label=f"Add stage {len(added)}", changes=(("variant.stages", added),)))

    def _remove_stage(self, k: int) -> None:
        stages = self._session.design.variant().stages
        self._session.try_apply(Edit(label=f"Remove stage {k + 1}", changes=(("variant.stages", (*stages[:k], *stages[k + 1 :])),)))

    # picking

    def pick_motor(self) -> None:
        choice = self._session.design.variant().motor
        part = pick(self._session, MotorPart, choice.part, self)
        if part is not None and part.id != choice.part:
            self._session.try_apply(
                Edit(label=f"Motor {part.name}", changes=(("variant.motor", replace(choice, part=part.id, overrides={})),))
            )

    def pick_controller(self) -> None:
        choice = self._session.design.variant().controller
        part = pick(self._session, ControllerPart, choice.part, self)
        if part is not None and part.id != choice.part:
            self._session.try_apply(Edit(label=part.name, changes=(("variant.controller", replace(choice, part=part.id, overrides={})),)))

    def pick_cell(self) -> None:
        pick_cell(self._session, self)

    def pick_wheel(self) -> None:
        choice = self._session.design.variant().wheel
        part = pick(self._session, WheelPart, choice.part if choice else "", self)
        if part is not None:
            self._session.try_apply(Edit(label=part.name, changes=(("variant.wheel", WheelChoice(part=part.id)),)))

    def pick_propeller(self) -> None:
        pick_propeller(self._session, self)

    def pick_carrier(self) -> None:
        pick_carrier(self._session, self)

    def _own_wheel(self) -> None:
        self._session.try_apply(Edit(label="Measured wheel", changes=(("variant.wheel", None),)))


def worst(session: Session, links: tuple[str, ...]) -> Status | None:
    """The most urgent status among the findings of some links; None when all is clear."""
    for status in (Status.OVER, Status.TIGHT):
        if any(f.status is status and f.link in links for f in session.findings):
            return status
    return None
