"""Load cases and modes: where the weight sits, which case counts for a goal, what tips; further goals."""

import math
import random
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.judging import judged_all
from wattagon.design import catalogue, file
from wattagon.design.parts import ControllerPart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Carried, Goal, GoalKind, LoadCase, Mode
from wattagon.errors import InputError
from wattagon.physics.road import GRAVITY, Road
from wattagon.study.drive.cases import in_case, stands
from wattagon.study.drive.study import study_drive
from wattagon.study.finder.space import as_searched
from wattagon.study.findings.all import find
from wattagon.study.findings.status import Status
from wattagon.study.resolve import Reader, resolve, stand_of

q = lambda value: Quantity(value=value, known=Known.MEASURED)


def carried(mass, x, y, **more):
    return Carried(mass=q(mass), behind_front=q(x), height=q(y), **more)


class CasesTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.bike = file.read(DEMO / "bittern.json").design

    def with_cases(self, *cases, goals=None, modes=(), vehicle=None, **brief):
        design = self.bike if vehicle is None else replace(self.bike, vehicle=replace(self.bike.vehicle, **vehicle))
        changes = {"cases": cases, "modes": modes, **brief}
        if goals is not None:
            changes["goals"] = goals
        return replace(design, brief=replace(design.brief, **changes))

    def findings(self, design):
        return {f.code: f for f in find(design, self.stock, study_drive(design, self.stock))}

    def test_weights_add_up_where_they_sit(self):
        """The handbook's g6: three masses, their middle, and the pull that lifts the front."""
        vehicle = {
            "empty_mass": q(27.0),
            "rider_mass": q(0.0),
            "load_mass": q(0.0),
            "cm_behind_front": q(0.75),
            "cm_height": q(0.55),
            "wheelbase": q(1.32),
        }
        case = LoadCase(id="all", carried=(carried(74.0, 0.80, 1.05), carried(35.0, 1.15, 0.75)))
        design = self.with_cases(case, vehicle=vehicle)
        stand = stand_of(Reader(False), design, 0.0, 0.0, case)
        self.assertAlmostEqual(stand.moving_kg, 136.0)
        self.assertAlmostEqual(stand.behind_front_m, 0.8801, places=4)
        self.assertAlmostEqual(stand.height_m, 0.8735, places=4)
        road = Road(
            mass_kg=stand.moving_kg, rolling=0.01, wheelbase_m=1.32, cm_behind_front_m=stand.behind_front_m, cm_height_m=stand.height_m
        )
        self.assertAlmostEqual(float(road.thrust_caps(0.0)["wheel_lift"]), 671.6, places=1)

    def test_a_piece_left_at_home_is_taken_away_where_it_sits(self):
        without = LoadCase(id="alone", load=False)
        design = self.with_cases(without)
        drive, pack = 8.0, 4.0
        base = stand_of(Reader(False), design, drive, pack, None)
        unknown = stand_of(read := Reader(True), design, drive, pack, without)
        self.assertAlmostEqual(unknown.behind_front_m, base.behind_front_m)
        self.assertIs(read.inputs["vehicle.load_behind_front"].known, Known.ASSUMED)
        known = self.with_cases(without, vehicle={"load_behind_front": q(1.25), "load_height": q(0.8)})
        stand = stand_of(Reader(False), known, drive, pack, without)
        self.assertLess(stand.behind_front_m, base.behind_front_m, "cargo behind the axle's middle went")
        # put back, it is the usual case again
        back = LoadCase(id="back", load=False, carried=(carried(35.0, 1.25, 0.8),))
        again = stand_of(Reader(False), known, drive, pack, back)
        for name in ("mass_kg", "behind_front_m", "height_m", "rolling", "drag_area_m2"):
            self.assertAlmostEqual(getattr(again, name), getattr(base, name), places=9)

    def test_a_trailer_pulls_at_its_hitch(self):
        """Against the balance of moments about the rear contact with the trailer's pull as a force at its hitch."""
        rng = random.Random(4)
        for _ in range(40):
            m, t, h, g = rng.uniform(60, 200), rng.uniform(5, 120), rng.uniform(0.4, 1.1), rng.uniform(0.2, 0.8)
            length, grade = rng.uniform(1.0, 1.6), rng.uniform(0.0, 0.15)
            a = rng.uniform(0.3, 0.7) * length
            road = Road(
                mass_kg=m + t,
                rolling=0.01,
                wheelbase_m=length,
                cm_behind_front_m=a,
                cm_height_m=(m * h + t * g) / (m + t),
                bearing_share=m / (m + t),
            )
            thrust = float(road.thrust_caps(grade)["wheel_lift"])
            cos = 1.0 / math.hypot(1.0, grade)
            per_kg = thrust / (m + t)  # acceleration and slope together
            front_nm = m * GRAVITY * cos * (length - a) - m * per_kg * h - t * per_kg * g
            self.assertAlmostEqual(front_nm / (m * GRAVITY * length), 0.0, places=12)

    def test_a_trailer_rolls_on_its_own_wheels(self):
        case = LoadCase(id="cart", carried=(carried(40.0, 1.5, 0.35, towed=True, hitch_share=q(0.05), rolling=q(0.03), drag_area=q(0.2)),))
        design = self.with_cases(case, case="cart")
        road, plain = (resolve(one, self.stock).road for one in (design, self.bike))
        self.assertAlmostEqual(float(road.mass_kg - plain.mass_kg), 40.0)
        added = float(road.rolling * road.mass_kg - plain.rolling * plain.mass_kg)
        self.assertAlmostEqual(added, 0.03 * 38.0 + 0.011 * 2.0, places=9)
        self.assertAlmostEqual(float(road.drag_area_m2 - plain.drag_area_m2), 0.2)
        self.assertAlmostEqual(float(road.bearing_share * road.mass_kg), float(plain.mass_kg) + 2.0)

    def test_a_hand_cycle_in_front_takes_the_front_wheel(self):
        case = LoadCase(id="front", wheelbase=q(1.7), carried=(carried(12.0, -0.35, 0.4),))
        design = self.with_cases(case)
        stand = stand_of(Reader(False), design, 8.0, 4.0, case)
        plain = stand_of(Reader(False), design, 8.0, 4.0, None)
        self.assertAlmostEqual(stand.wheelbase_m, 1.7)
        mx = plain.mass_kg * plain.behind_front_m - 12.0 * 0.35
        self.assertAlmostEqual(stand.behind_front_m, mx / (plain.mass_kg + 12.0) + 0.38)

    def test_goals_are_judged_in_the_worst_case_unless_they_name_one(self):
        heavy = LoadCase(id="heavy", name="two sacks", carried=(carried(60.0, 0.9, 0.7),))
        goals = (
            Goal(id="a", kind=GoalKind.CLIMB, speed=3.0, grade=0.12),
            Goal(id="b", kind=GoalKind.CLIMB, speed=3.0, grade=0.12, case="usual"),
            Goal(id="c", kind=GoalKind.CLIMB, speed=3.0, grade=0.12, case="heavy"),
            Goal(id="limit", kind=GoalKind.SPEED_LIMIT, speed=9.0),
            Goal(id="gone", kind=GoalKind.CLIMB, speed=3.0, grade=0.12, case="nowhere"),
        )
        design = self.with_cases(heavy, goals=goals)
        found = {r.goal.id: r for r in study_drive(design, self.stock).goals}
        alone = {r.goal.id: r for r in study_drive(self.with_cases(goals=goals[:2]), self.stock).goals}
        in_it = {r.goal.id: r for r in study_drive(replace(in_case(design, "heavy")), self.stock).goals}
        self.assertEqual(found["a"].case, "heavy")
        self.assertEqual(found["b"].case, "usual")
        self.assertAlmostEqual(found["b"].reached, alone["b"].reached, places=9)
        self.assertLess(found["a"].reached, found["b"].reached)
        self.assertAlmostEqual(found["a"].reached, found["c"].reached, places=9)
        self.assertEqual(found["limit"].case, "usual", "the fastest is the worst for a limit")
        for ident in ("a", "b", "c", "limit"):
            self.assertAlmostEqual(found[ident].reached, in_it[ident].reached, places=6, msg="whichever is in view")
        self.assertFalse(found["gone"].met)
        self.assertIn("not in the brief", self.findings(design)["goal.gone"].title)

    def test_previews_and_finds_judge_the_same(self):
        from wattagon.study.drive.levers import levers, preview

        heavy = LoadCase(id="heavy", carried=(carried(60.0, 0.9, 0.7),))
        design = self.with_cases(heavy)
        edit = next(lever.up for lever in levers(design, self.stock) if lever.code == "parallel")
        from wattagon.design.paths import apply

        (step,) = preview(design, self.stock, [edit])
        study = study_drive(apply(design, edit), self.stock)
        for ours, theirs in zip(step.goals, study.goals, strict=True):
            self.assertAlmostEqual(ours.reached, theirs.reached, delta=1e-6 * max(theirs.reached, 1.0))
            self.assertEqual(ours.case, theirs.case)
        self.assertEqual(as_searched(design).brief.case, "", "climb and start ask for the usual load")
        worst = tuple(replace(goal, case="") for goal in design.brief.goals)
        self.assertEqual(as_searched(self.with_cases(heavy, goals=worst)).brief.case, "heavy", "a search asks for the heaviest")

    def test_a_passenger_that_tips_is_over_and_does_not_reach_anything(self):
        child = LoadCase(id="child", name="child on the rack", carried=(carried(25.0, 1.45, 0.95),))
        wide = LoadCase(id="two", name="two grown on the rack", carried=(carried(160.0, 1.9, 1.1),))
        found = self.findings(self.with_cases(child, wide))
        self.assertIsNot(found["case.stands.child"].status, Status.OVER)
        self.assertIs(found["case.stands.two"].status, Status.OVER)
        self.assertIn("as it stands", found["case.stands.two"].title)
        self.assertIn("case.lift.child", found)
        self.assertNotIn("case.lift.two", found)
        goals = (Goal(id="slope", kind=GoalKind.START, grade=0.02, case="two"), Goal(id="any", kind=GoalKind.START, grade=0.02))
        named = self.findings(self.with_cases(wide, goals=goals))
        self.assertIs(named["goal.slope"].status, Status.OVER)
        self.assertIn("does not stand", named["goal.slope"].title)
        self.assertIs(named["goal.any"].status, Status.CLEAR, "it has a finding of its own")
        shown = study_drive(in_case(self.with_cases(wide), "two"), self.stock).resolved
        self.assertEqual(shown.case, "usual", "what does not stand does not drive")

    def test_both_sides_of_where_it_stands(self):
        for x, status in ((1.05, Status.CLEAR), (2.15, Status.TIGHT), (2.6, Status.OVER)):
            case = LoadCase(id="sack", carried=(carried(60.0, x, 0.9),))
            self.assertIs(self.findings(self.with_cases(case))["case.stands.sack"].status, status, x)

    def test_lift_follows_the_case(self):
        case = LoadCase(id="back", carried=(carried(40.0, 1.4, 1.2),))
        design = self.with_cases(case)
        usual, loaded = self.findings(design)["wheel.lift"], self.findings(design)["case.lift.back"]
        self.assertLess(loaded.margin, usual.margin)
        study = study_drive(design, self.stock)
        stand = stands(design, study.resolved, "back")
        lifts = (stand.wheelbase_m - stand.behind_front_m) / stand.pull_height_m * stand.mass_kg * GRAVITY
        thrust = float(study.states["full"].edge.drive_n[0])
        self.assertAlmostEqual(loaded.margin, 1.0 - thrust / lifts, places=6)
        in_view = self.findings(in_case(design, "back"))
        self.assertAlmostEqual(in_view["wheel.lift"].margin, loaded.margin, places=6)
        self.assertIn("case.lift.usual", in_view)

    def test_a_mode_holds_back_what_is_in_view_and_only_limits_that_name_it(self):
        street = Mode(id="street", name="public path", top_speed=6.0)
        goals = (
            Goal(id="fast", kind=GoalKind.TOP_SPEED, speed=5.0),
            Goal(id="there", kind=GoalKind.SPEED_LIMIT, speed=6.5, mode="street"),
            Goal(id="everywhere", kind=GoalKind.SPEED_LIMIT, speed=6.5),
        )
        design = self.with_cases(goals=goals, modes=(street,))
        full = {r.goal.id: r for r in study_drive(design, self.stock).goals}
        self.assertGreater(full["everywhere"].reached, 6.5)
        self.assertLessEqual(full["there"].reached, 6.0)
        self.assertGreater(full["there"].reached, 5.7)
        held = replace(design, brief=replace(design.brief, mode="street"))
        study = study_drive(held, self.stock)
        self.assertLessEqual(study.states["full"].top_speed_m_s, 6.0)
        for result in study.goals:
            self.assertAlmostEqual(result.reached, full[result.goal.id].reached, places=6, msg="goals: the strongest mode")
        held_back, free = self.findings(held), self.findings(design)
        self.assertEqual({code: f.status for code, f in held_back.items()}, {code: f.status for code, f in free.items()})
        amps = Mode(id="weak", motor_current_a=10.0, pack_current_a=4.0)
        weak = study_drive(self.with_cases(modes=(amps,), mode="weak"), self.stock)
        self.assertAlmostEqual(float(weak.resolved.train.controller.motor_current_a), 10.0)
        self.assertLess(weak.states["full"].standstill_force_n, study.states["full"].standstill_force_n)

    def test_a_brushed_motor_keeps_no_speed(self):
        street = Mode(id="street", top_speed=6.0)
        design = self.with_cases(modes=(street,))
        self.assertNotIn("mode.speed.street", self.findings(design))
        base = design.variant()
        part = next(p.id for p in self.stock.all(ControllerPart) if getattr(p, "brushed", False))
        motor, controller = replace(base.motor, part="brushed-95x110-115"), replace(base.controller, part=part)
        brushed = replace(base, motor=motor, controller=controller)
        other = replace(design, variants=(brushed,), active=brushed.id)
        self.assertIs(self.findings(other)["mode.speed.street"].status, Status.NOT_CHECKED)

    def test_carrying_packing_tool_and_day(self):
        home = LoadCase(id="stairs", name="up the stairs", rider=False, load=False, pack=False)
        goals = (
            Goal(id="whole", kind=GoalKind.CARRY, amount=50.0),
            Goal(id="pieces", kind=GoalKind.CARRY, amount=50.0, case="stairs", steps=48),
            Goal(id="boot", kind=GoalKind.PACKED, length=1.9, width=0.7, height=1.1),
            Goal(id="mill", kind=GoalKind.TOOL, torque=20.0, rpm=100.0),
            Goal(id="day", kind=GoalKind.DAY_COST, amount=1.0, distance=20000.0, speed=5.0),
        )
        design = self.with_cases(home, goals=goals)
        study = study_drive(design, self.stock)
        found = {r.goal.id: r for r in study.goals}
        resolved = study.resolved
        self.assertAlmostEqual(found["whole"].reached, 27.0 + resolved.drive_mass_kg)
        self.assertAlmostEqual(found["pieces"].reached, 27.0 + resolved.drive_mass_kg - resolved.pack_kg)
        self.assertTrue(math.isnan(found["boot"].reached))
        self.assertIs(self.findings(design)["goal.boot"].status, Status.NOT_CHECKED)
        sized = self.with_cases(home, goals=goals, vehicle={"packed_length": q(1.8), "packed_width": q(0.6), "packed_height": q(1.21)})
        boot = next(r for r in study_drive(sized, self.stock).goals if r.goal.id == "boot")
        self.assertAlmostEqual(boot.margin, 1.0 - 1.21 / 1.1, places=9)
        # the tool's torque is the drive's at that shaft speed
        radius = float(resolved.road.wheel_radius_m)
        v = 100.0 * math.tau / 60.0 * radius
        import numpy as np

        state = study.states["nominal"].edge
        self.assertAlmostEqual(found["mill"].reached / (float(np.interp(v, state.speed_m_s, state.drive_n)) * radius), 1.0, delta=0.01)
        # a day: energy over the charger, and wear
        day, pack = found["day"].reached, resolved.train.pack
        twice = study_drive(self.with_cases(goals=(replace(goals[4], distance=40000.0),)), self.stock).goals[0].reached
        self.assertAlmostEqual(twice, 2.0 * day, places=9)
        free = study_drive(replace(design, brief=replace(design.brief, energy_price=Quantity(value=0.0))), self.stock).goals[4].reached
        self.assertGreater(day, free)
        full_cycle = resolved.pack_price / 450.0
        self.assertLess(free, full_cycle, "less than one cycle")
        self.assertGreater(float(pack.capacity_ah), 0.0)
        codes = {f.code: f for f in judged_all(design, self.stock)}
        self.assertIn("48 steps", codes["goal.pieces"].because)

    def test_ids_and_references_are_checked(self):
        for bad in ({"id": "usual"}, {"id": "a b"}):
            with self.assertRaises(InputError):
                LoadCase(**bad)
        with self.assertRaisesRegex(InputError, "case"):
            self.with_cases(case="none")
        with self.assertRaisesRegex(InputError, "mode"):
            self.with_cases(mode="none")
        twice = LoadCase(id="x")
        with self.assertRaisesRegex(InputError, "twice"):
            self.with_cases(twice, twice)
