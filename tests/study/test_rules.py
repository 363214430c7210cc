"""Both sides of every rule's bound, with the figure that decides put just beside the limit."""

import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.study.rule_case import case
from wattagon.design import catalogue, file
from wattagon.design.parts import ControllerPart
from wattagon.design.paths import place, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Goal, GoalKind, ShelfItem, WheelChoice
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import find
from wattagon.study.findings.cures import drive_again, with_cures
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, held_under
from wattagon.study.findings.status import Status
from wattagon.study.say import plain

STOCK = catalogue.load()
SOUND = put(put(file.read(DEMO / "dunlin.json").design, "variant.battery", None), "variant.wiring", None)  # variant B, its parts alone
KART = file.read(DEMO / "corncrake.json").design


def finding(design: Design, code: str) -> Finding:
    study = study_drive(design, STOCK)
    return next(f for f in find(design, STOCK, study) if f.code == code)


def with_goals(design: Design, *goals: Goal) -> Design:
    return put(design, "brief.goals", tuple(goals))


class RulesTest(unittest.TestCase):
    def sides(self, code: str, path: str, *pairs: tuple[float, Status], design: Design = SOUND) -> None:
        for value, status in pairs:
            with self.subTest(code, **{path.rsplit(".", 1)[-1]: value}):
                self.assertIs(finding(put(design, path, value), code).status, status)

    def test_a_value_is_over_only_beyond_the_limit(self):
        self.assertEqual(
            [held_under(x, 10.0, 0.1)[0] for x in (8.9, 9.01, 10.0, 10.01)], [Status.CLEAR, Status.TIGHT, Status.TIGHT, Status.OVER]
        )
        self.assertAlmostEqual(held_under(8.0, 10.0, 0.1)[1], 0.2)

    def test_full_pack_against_the_controller(self):
        # 10S of cells that charge to 4.2 V: 42.0 V
        self.sides(
            "controller.pack_volts",
            "variant.controller.voltage_max_v",
            (46.7, Status.CLEAR),
            (46.6, Status.TIGHT),
            (42.0, Status.TIGHT),
            (41.9, Status.OVER),
        )

    def test_full_pack_against_the_motor(self):
        self.sides("motor.pack_volts", "variant.motor.voltage_max_v", (43.4, Status.CLEAR), (43.2, Status.TIGHT), (41.9, Status.OVER))

    def test_motor_amps_against_the_motor(self):
        # 65 A set; over half as much again as it bears lasting is tight
        self.sides("motor.amps", "variant.motor.current_peak_a", (65.0, Status.TIGHT), (64.9, Status.OVER))
        roomy = put(SOUND, "variant.motor.current_peak_a", 90.0)
        self.sides("motor.amps", "variant.motor.current_continuous_a", (43.4, Status.CLEAR), (43.3, Status.TIGHT), design=roomy)

    def test_motor_amps_against_the_controller(self):
        self.sides("controller.motor_amps", "variant.controller.motor_current_burst_a", (65.0, Status.CLEAR), (64.9, Status.OVER))
        self.sides("controller.motor_amps", "variant.controller.motor_current_continuous_a", (52.1, Status.CLEAR), (51.9, Status.TIGHT))

    def test_pack_amps_against_the_controller(self):
        self.sides("controller.pack_amps", "variant.controller.pack_current_max_a", (30.0, Status.CLEAR), (29.9, Status.OVER))

    def test_pack_amps_of_both_controllers_against_the_cells(self):
        # two times 30 A over 4 strings is 15 A a cell
        self.sides("pack.amps", "variant.pack.continuous_a", (15.0, Status.CLEAR), (14.9, Status.TIGHT))
        short = put(SOUND, "variant.pack.continuous_a", 10.0)
        self.sides("pack.amps", "variant.pack.burst_a", (15.0, Status.TIGHT), (14.9, Status.OVER), design=short)

    def test_pack_amps_against_the_protection_board(self):
        self.sides("pack.protection", "variant.pack.protection_a", (66.8, Status.CLEAR), (66.0, Status.TIGHT), (59.9, Status.OVER))
        self.assertIs(finding(SOUND, "pack.protection").status, Status.NOT_CHECKED)

    def test_electrical_and_shaft_speed_at_the_free_speed_of_a_full_pack(self):
        study = study_drive(SOUND, STOCK)
        train, road = study.resolved.train, study.resolved.load
        shaft = float(train.reduction.ratio) * study.states["full"].no_load_speed_m_s / float(road.wheel_radius_m)
        erpm, rpm = float(train.motor.erpm(shaft)), shaft * 60 / 6.283185307179586
        # a limit below what is reached would taper and move the free speed with it: only 'tight' and 'clear' can be forced
        self.sides("controller.erpm", "variant.controller.erpm_max", (erpm / 0.89, Status.CLEAR), (erpm / 0.91, Status.TIGHT))
        self.sides("motor.rpm", "variant.motor.rpm_max", (rpm / 0.94, Status.CLEAR), (rpm / 0.96, Status.TIGHT), (rpm / 1.01, Status.OVER))

    def test_a_brushed_motor_on_a_controller_for_brushless_ones(self):
        self.assertIs(finding(SOUND, "controller.kind").status, Status.CLEAR)
        motor = replace(SOUND.variant().motor, part="brushed-95x110-115", overrides={})
        wrong = put(SOUND, "variant.motor", motor)
        self.assertIs(finding(wrong, "controller.kind").status, Status.OVER)
        study = study_drive(wrong, STOCK)
        found = find(wrong, STOCK, study)
        cures = with_cures(
            next(f for f in found if f.code == "controller.kind"), Case(wrong, STOCK, study, plain), found, drive_again
        ).cures
        self.assertTrue(STOCK.get(ControllerPart, cures[0].edit.changes[0][1].part).brushed)

    def test_unknown_ratings_are_never_clear(self):
        bare = next(c for c in STOCK.all(ControllerPart) if c.voltage_max_v is None)
        design = put(SOUND, "variant.controller", replace(SOUND.variant().controller, part=bare.id))
        self.assertIs(finding(design, "controller.pack_volts").status, Status.NOT_CHECKED)
        self.assertIn("unknown", finding(design, "controller.pack_volts").title)

    def test_cutback_against_what_cells_bear(self):
        self.sides(
            "controller.cutback",
            "variant.controller.cutback_end_v",
            (29.0, Status.CLEAR),
            (28.9, Status.OVER),
            design=put(SOUND, "variant.controller.cutback_start_v", 32.0),
        )

    def test_pack_amps_above_motor_amps_are_told_with_both_powers(self):
        # equal ones may be on purpose; pack amps above what the motors can ever pull are a mistake
        self.sides(
            "drive.amps_confused", "variant.controller.pack_current_a", (64.9, Status.CLEAR), (65.0, Status.CLEAR), (65.1, Status.TIGHT)
        )
        told = finding(put(SOUND, "variant.controller.pack_current_a", 65.1), "drive.amps_confused").title
        self.assertIn("130 A of motor amps", told)
        self.assertIn("4868 W", told)  # amps times volts, the wrong power, beside the true one
        self.assertRegex(told, r"are \d+ W at most, not 4868 W")

    def test_lift_and_grip_against_full_pull(self):
        pull = study_drive(SOUND, STOCK).states["full"].edge.drive_n[0]
        lift = study_drive(SOUND, STOCK).resolved.load.thrust_caps(0.0)["wheel_lift"]
        height = SOUND.vehicle.cm_height.value * lift / pull  # at this height it just lifts
        self.sides(
            "wheel.lift", "vehicle.cm_height", (height * 0.79, Status.CLEAR), (height * 0.81, Status.TIGHT), (height * 1.01, Status.OVER)
        )
        self.sides("wheel.grip", "vehicle.grip", (0.44, Status.CLEAR), (0.40, Status.TIGHT), (0.37, Status.OVER))

    def test_belt_against_motor_torque(self):
        narrow, wide = (put(SOUND, "variant.stages.0.width_mm", w) for w in (9.0, 25.0))
        self.assertIs(finding(narrow, "reduction.pull").status, Status.OVER)
        self.assertIs(finding(wide, "reduction.pull").status, Status.CLEAR)
        self.assertIs(finding(put(SOUND, "variant.stages.0.width_mm", None), "reduction.pull").status, Status.NOT_CHECKED)

    def test_goals_beside_what_is_reached(self):
        reached = study_drive(SOUND, STOCK).states["nominal"].top_speed_m_s
        for share, status in ((1.001, Status.OVER), (0.999, Status.TIGHT), (0.94, Status.CLEAR)):
            design = with_goals(SOUND, Goal(id="v", kind=GoalKind.TOP_SPEED, speed=reached * share))
            self.assertIs(finding(design, "goal.v").status, status)

    def test_a_speed_that_holds_only_when_full(self):
        states = study_drive(SOUND, STOCK).states
        for speed, status in (
            (states["low"].top_speed_m_s * 0.999, Status.CLEAR),
            (states["low"].top_speed_m_s * 1.001, Status.TIGHT),
            (states["nominal"].top_speed_m_s * 1.001, Status.OVER),
        ):
            self.assertIs(
                finding(with_goals(SOUND, Goal(id="v", kind=GoalKind.TOP_SPEED, speed=speed)), "drive.only_when_full").status, status
            )

    def test_duty_at_the_goal_speed(self):
        from wattagon.study.drive.study import needed_along

        resolved = study_drive(SOUND, STOCK).resolved
        # little duty alone is no fault: what it costs is told where pull, heat or start are short
        for speed, status in ((4.0, Status.CLEAR), (9.5, Status.CLEAR), (11.0, Status.TIGHT), (12.0, Status.OVER)):
            duty = float(needed_along(resolved, speed, 0.0, 0.5)["duty"])
            found = finding(with_goals(SOUND, Goal(id="v", kind=GoalKind.TOP_SPEED, speed=speed)), "drive.duty_at_goal")
            self.assertIs(found.status, status, f"duty {duty}")
        short = with_goals(SOUND, Goal(id="v", kind=GoalKind.TOP_SPEED, speed=4.0), Goal(id="s", kind=GoalKind.START, grade=0.6))
        found = finding(short, "drive.duty_at_goal")
        self.assertIs(found.status, Status.TIGHT)
        self.assertRegex(found.title, r"only \d+ ?%")

    def test_thrust_and_heat_on_the_goal_grade_and_the_start_on_it(self):
        for grade, status in ((0.1, Status.CLEAR), (0.29, Status.TIGHT), (0.33, Status.OVER)):
            design = with_goals(SOUND, Goal(id="c", kind=GoalKind.CLIMB, speed=3.0, grade=grade))
            self.assertIs(finding(design, "drive.thrust_on_grade").status, status)
            self.assertIs(finding(design, "drive.start_on_hill").status, status)
        for grade, status in ((0.06, Status.CLEAR), (0.18, Status.TIGHT), (0.30, Status.OVER)):
            design = with_goals(SOUND, Goal(id="c", kind=GoalKind.CLIMB, speed=3.0, grade=grade))
            self.assertIs(finding(design, "motor.heat_on_climb").status, status, grade)

    def test_thrust_given_away_by_a_wheel_or_a_motor_left_on_the_shelf(self):
        self.assertIs(finding(SOUND, "drive.thrust_lost").status, Status.CLEAR)
        larger = put(SOUND, "variant.wheel", WheelChoice(part="wheel-air-230"))
        self.assertRegex(finding(larger, "drive.thrust_lost").title, "13% of thrust given away")
        spare = put(SOUND, "brief.shelf", (ShelfItem(part="outrunner-63x74-170", count=4),))
        self.assertRegex(finding(spare, "drive.thrust_lost").title, "50% of thrust given away: 2 of 4 motors")

    def test_a_finding_that_rests_on_an_assumption_says_so(self):
        self.assertTrue(finding(SOUND, "goal.cruise").assumed)
        known = SOUND
        names = finding(SOUND, "goal.cruise").rests
        for path, item in case(SOUND).inputs.items():
            if item.known is Known.ASSUMED and f".{path}".endswith(tuple(f".{name}" for name in names)):
                target = place(known, path)
                known = put(known, path, Quantity(value=item.value, known=Known.MEASURED) if target.type is Quantity else item.value)
        self.assertFalse(finding(known, "goal.cruise").assumed)

    def test_no_goals_are_not_checked_and_most_urgent_comes_first(self):
        study = study_drive(with_goals(SOUND), STOCK)
        codes = {f.code: f.status for f in find(with_goals(SOUND), STOCK, study)}
        for code in ("drive.only_when_full", "drive.duty_at_goal", "drive.thrust_on_grade", "drive.start_on_hill", "motor.heat_on_climb"):
            self.assertIs(codes[code], Status.NOT_CHECKED, code)
        order = [Status.OVER, Status.TIGHT, Status.NOT_CHECKED, Status.CLEAR]
        for design in (SOUND, put(KART, "active", "B")):
            found = find(design, STOCK, study_drive(design, STOCK))
            ranks = [order.index(f.status) for f in found]
            self.assertEqual(ranks, sorted(ranks))

    def test_a_hub_motor_has_no_belt_to_overload(self):
        bike = put(file.read(DEMO / "bittern.json").design, "active", "B")
        self.assertIs(finding(bike, "reduction.pull").status, Status.CLEAR)
        self.assertEqual(bike.variant().stages, ())
