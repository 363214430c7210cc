"""Strength: the path of every vehicle, factors that move the right way, both sides of each finding, proofs that change a verdict."""

import contextlib
import io
import json
import math
import random
import re
import tempfile
import unittest
import zlib
from dataclasses import replace
from pathlib import Path

from tests.design.malformed import DEMO
from tests.judging import judged_all, judged_by
from tests.random_designs import random_design
from tests.study.test_aboard import known, of
from wattagon.design import catalogue, file
from wattagon.design.parts import MaterialPart
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import Joint, Proof, ReductionKind, StageChoice, Strength, VehicleKind
from wattagon.errors import InputError
from wattagon.exchange.strength_json import strength_data
from wattagon.physics.ride.names import Col
from wattagon.physics.strength.prints import timed_run
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import check
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import Ask, ride
from wattagon.study.strength.kinds import BEARS
from wattagon.study.strength.loads import Asked, met_on
from wattagon.study.strength.proof import proof_of
from wattagon.study.strength.rules import RULES
from wattagon.study.strength.study import WORDS, rests_on, study_strength
from wattagon.study.strength.ways import others

STOCK = catalogue.load()
BOARD, KART, BIKE, PUNT = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern", "garganey"))
KINDS = [
    "shaft",
    "set_screw",
    "key",
    "d_bore",
    "clamp",
    "pin",
    "bolts",
    "slots",
    "plate",
    "bracket",
    "arms",
    "spokes",
    "dropout",
    "torque_arm",
    "freewheel",
    "bearing",
    "axle",
    "coupling",
    "spline",
    "gear",
    "weld",
    "glue",
    "corner",
    "tube",
    "blade",
    "transom",
    "pivot",
]


def strong(design, **asked):
    return study_strength(design, STOCK, study_drive(design, STOCK), **asked)


def with_joints(design, *joints, **told):
    return put(design, "variant.strength", Strength(joints=joints, **told))


def zlib_texts(data):
    """The words of a PDF's pages, for what they say."""
    made = []
    for piece in re.findall(rb"stream\r?\n(.*?)endstream", data, re.DOTALL):
        with contextlib.suppress(zlib.error):
            made.append(zlib.decompressobj().decompress(piece))
    return " ".join(text.decode("latin-1") for text in re.findall(rb"\((.*?)\) Tj", b" ".join(made)))


def faults_of(design, seed):
    """What is wrong with the strength study of one random design: holes, signs, bands, and which gives way first."""
    r = random.Random(seed)
    kind = r.choice(KINDS)
    try:
        joint = Joint(
            kind=kind, place=r.choice(("", "motor", "mount", "wheel")), screw=r.choice((None, 3, 6, 12)), count=r.choice((None, 1, 4))
        )
        found = strong(with_joints(design, joint) if r.random() < 0.7 else design)
    except InputError:
        return []
    faults = []
    for one in found.elements:
        if not all(math.isfinite(value) for value in (one.bears.load, one.bears.wanted, one.bears.spread)):
            faults.append(f"{one.code} has a hole: {one.bears}")
        if math.isnan(one.factor) and one.status is not Status.NOT_CHECKED:
            faults.append(f"{one.code} is {one.status} without a factor")
        if math.isfinite(one.fails_at_nm) and not 0.0 < one.band[0] < one.fails_at_nm < one.band[1]:
            faults.append(f"{one.code} fails at {one.fails_at_nm}, band {one.band}")
    limits = [one.fails_at_nm for one in found.elements if math.isfinite(one.fails_at_nm) and one.kind != "bearing"]
    if found.first is not None and found.first.fails_at_nm > min(limits):
        faults.append(f"first is {found.first.code}")
    return faults


class PathTest(unittest.TestCase):
    def test_every_new_vehicle_has_a_path_and_its_weakest(self):
        for kind in VehicleKind:
            found = strong(new_design(kind))
            self.assertTrue(found.elements, kind)
            self.assertIsNotNone(found.first, kind)
            for one in found.elements:
                self.assertGreater(one.bears.load, 0.0, f"{kind} {one.code}")
                low, high = one.band
                if math.isfinite(one.fails_at_nm):
                    self.assertTrue(0.0 < low < one.fails_at_nm < high, f"{kind} {one.code}")

    def test_random_designs_are_judged_without_a_hole(self):
        for seed in range(60):
            self.assertEqual(faults_of(random_design(seed, STOCK), seed), [])

    def test_more_torque_never_raises_a_factor(self):
        for design in (of(BOARD, "B"), of(KART, "A"), of(BIKE, "A")):
            amps = design.variant().controller.motor_current_a
            little, much = (strong(put(design, "variant.controller.motor_current_a", amps * share)) for share in (0.6, 1.0))
            for one in much.elements:
                before = little.element(one.code)
                if before is not None and math.isfinite(one.factor) and math.isfinite(before.factor):
                    self.assertLessEqual(one.factor, before.factor * (1.0 + 1e-9), one.code)

    def test_thicker_and_more_never_lowers_a_factor(self):
        steps = {
            "screw": [(None, n) for n in (3, 4, 5, 6)],
            "count": [(None, n) for n in (1, 2, 3, 4)],
            "thickness": [(None, known(t)) for t in (0.004, 0.006, 0.010)],
            "length": [(None, known(t)) for t in (0.010, 0.016, 0.024)],
        }
        for kind, field, place in (
            ("set_screw", "screw", "motor"),
            ("set_screw", "count", "motor"),
            ("key", "length", "motor"),
            ("clamp", "screw", "mount"),
            ("bolts", "screw", "wheel"),
            ("bolts", "count", "wheel"),
            ("slots", "screw", "mount"),
            ("plate", "thickness", "mount"),
            ("arms", "thickness", "wheel"),
        ):
            factors = []
            for _, value in steps[field]:
                found = strong(with_joints(of(BOARD, "B"), Joint(kind=kind, place=place, **{field: value})))
                factors.append(next(one.factor for one in found.elements if one.own == 0))
            self.assertEqual(factors, sorted(factors), f"{kind} {field}")

    def test_what_is_wider_thicker_longer_bears_more(self):
        steps = [known(value) for value in (0.004, 0.008, 0.014)]
        for kind, field in (
            ("spline", "length"),
            ("gear", "width"),
            ("gear", "thickness"),
            ("weld", "thickness"),
            ("weld", "length"),
            ("glue", "width"),
            ("corner", "radius"),
            ("tube", "thickness"),
            ("blade", "thickness"),
            ("transom", "length"),
            ("pivot", "diameter"),
            ("spokes", "radius"),
        ):
            design = of(PUNT, "A" if kind == "transom" else "C") if kind in ("blade", "transom", "pivot") else of(KART, "A")
            place = {"spline": "motor", "gear": "stage", "spokes": "wheel", "blade": "wheel"}.get(kind, "mount")
            factors = []
            for value in steps:
                found = strong(with_joints(design, Joint(kind=kind, place=place, **{field: value})))
                factors.append(next(one.factor for one in found.elements if one.own == 0))
            self.assertEqual(factors, sorted(factors), f"{kind} {field}")
            self.assertGreater(factors[2], factors[0], f"{kind} {field}")
        holes = [
            strong(with_joints(of(KART, "A"), Joint(kind="tube", place="mount", inner=known(hole)))).elements[-1].factor
            for hole in (0.0, 0.006, 0.012)
        ]
        self.assertEqual(holes, sorted(holes, reverse=True))

    def test_walls_and_wood(self):
        def plate(**told):
            joint = Joint(kind="plate", place="mount", material="print-petg", thickness=known(0.01), **told)
            return strong(with_joints(of(BOARD, "B"), joint)).element("mount.plate").factor

        self.assertLess(plate(walls=3, fill=0.2), plate(walls=6, fill=0.2))
        self.assertLess(plate(walls=6, fill=0.2), plate())
        self.assertAlmostEqual(plate(walls=100, fill=0.0), plate(), 9)
        wood = strong(
            with_joints(of(BOARD, "B"), Joint(kind="bolts", place="wheel", screw=6, material="wood-birch", thickness=known(0.012)))
        )
        self.assertAlmostEqual(wood.element("wheel.bolts").bears.capacity, 67.21 * 6 * 12, delta=1.0)  # the handbook's f13

    def test_gears_rollers_and_boats_have_their_elements(self):
        def staged(kind, **told):
            return strong(put(of(BOARD, "B"), "variant.stages", (StageChoice(kind=kind, **told),)))

        gear = staged(ReductionKind.GEAR, driver_teeth=14, driven_teeth=56).element("stage.0")
        self.assertEqual((gear.kind, gear.joint.count), ("gear", 14))
        planets = staged(ReductionKind.PLANETARY, driver_teeth=16, driven_teeth=64).element("stage.0")
        self.assertLess(planets.at.pull_n, gear.at.pull_n, "planets share")
        roller = staged(ReductionKind.FRICTION, roller_diameter=0.04).element("stage.0")
        self.assertEqual(roller.kind, "roller")
        self.assertGreater(roller.bears.capacity, 0.0)
        self.assertEqual([one.code for one in strong(of(PUNT, "A")).elements if one.side == "mount"], ["mount.transom"])
        self.assertTrue(math.isnan(strong(of(PUNT, "A")).element("mount.transom").fails_at_nm), "on an axis of its own")

    def test_what_elements_rest_on_is_among_the_inputs(self):
        for design in (of(BOARD, "B"), of(KART, "B"), of(BIKE, "A"), of(PUNT, "C")):
            found = strong(design)
            for one in found.elements:
                paths = rests_on(found, one)
                self.assertTrue(paths, one.code)
                self.assertLessEqual(set(paths), set(found.inputs))
        self.assertIn("vehicle.rider_mass", rests_on(found := strong(of(KART, "A")), found.element("axle.bump")))

    def test_every_kind_of_joint_has_its_equation(self):
        self.assertEqual(set(BEARS), set(KINDS))
        self.assertEqual(set(WORDS), set(KINDS))
        for kind in KINDS:
            found = strong(with_joints(of(KART, "A"), Joint(kind=kind, place="wheel")))
            one = next(one for one in found.elements if one.own == 0)
            self.assertGreater(one.bears.capacity, 0.0, kind)
            self.assertTrue(one.bears.working and one.bears.source, kind)
        with self.assertRaisesRegex(InputError, "kind is string"):
            Joint(kind="string")

    def test_a_told_joint_stands_for_the_typical_one(self):
        found = strong(with_joints(of(BOARD, "B"), Joint(kind="key", length=known(0.02))))
        self.assertEqual(found.element("motor.hub").kind, "key")
        self.assertEqual(found.element("motor.hub").own, 0)
        self.assertNotIn("set_screw", [one.kind for one in found.elements])

    def test_an_outboard_bearing_takes_bending_off_the_shaft(self):
        plain = strong(of(BOARD, "B")).element("motor.shaft").factor
        held = strong(with_joints(of(BOARD, "B"), Joint(kind="shaft", outboard=known(0.02)))).element("motor.shaft").factor
        self.assertGreater(held, 1.5 * plain)


class LoadTest(unittest.TestCase):
    def test_the_peak_is_what_the_drive_brings_at_standstill(self):
        drive = study_drive(of(KART, "A"), STOCK)
        found = study_strength(of(KART, "A"), STOCK, drive)
        radius = float(drive.resolved.road.wheel_radius_m)
        pull = drive.states["full"].standstill_force_n
        self.assertAlmostEqual(found.load("drive").wheel_nm / (pull * radius), 1.0, delta=0.05)
        self.assertGreater(found.load("jam").wheel_nm, found.load("drive").wheel_nm)
        self.assertGreater(found.load("regen").wheel_nm, 0.0)
        self.assertIsNone(strong(of(BIKE, "A")).load("regen"), "a freewheel does not brake")

    def test_a_timed_run_by_the_handbooks_equation(self):
        drive = study_drive(of(KART, "A"), STOCK)
        found = study_strength(of(KART, "A"), STOCK, drive, run=Asked(6.0, 8.0))
        resolved = drive.resolved
        drag = float(resolved.load.resistance_n(4.0, 0.0, resolved.headwind_m_s))
        radius = float(resolved.road.wheel_radius_m)
        effective = float(resolved.load.mass_kg) + float(resolved.road.wheel_inertia_kg_m2) / radius**2
        by_hand = timed_run(effective, 8.0, 6.0, radius, drag)
        self.assertAlmostEqual(found.load("run_mean").wheel_nm, by_hand.mean, 6)
        self.assertGreaterEqual(found.load("run_peak").wheel_nm, found.load("run_mean").wheel_nm)
        self.assertIn("full amps give more", found.load("run_peak").source)
        quick = study_strength(of(KART, "A"), STOCK, drive, run=Asked(1.0, 8.0))
        self.assertIn("weigh and time it again", quick.load("run_peak").source)
        told = put(of(KART, "A"), "variant.strength", Strength(run_time=known(6.0), run_speed=known(8.0)))
        self.assertAlmostEqual(strong(told).load("run_mean").wheel_nm, by_hand.mean, 6)

    def test_a_ride_brings_its_largest_torque_and_its_heat(self):
        design = with_joints(of(BOARD, "B"), Joint(kind="plate", place="mount", material="print-petg"))
        cool = strong(design).element("mount.plate")
        done = ride(design, STOCK, Ask(run="full-climb"))
        met = met_on(done)
        self.assertAlmostEqual(met.case_c, float(done.run.trace[:, Col.CASE].max()), 9)
        found = strong(design, met=met)
        self.assertLessEqual(found.load("ride").wheel_nm, found.load("drive").wheel_nm * 1.02)
        self.assertGreater(found.load("ride").wheel_nm, 0.2 * found.load("drive").wheel_nm)
        hot = strong(design, met=met._replace(case_c=79.0)).element("mount.plate")
        self.assertLess(hot.factor, 0.1 * cool.factor)
        told = put(design, "variant.strength.joints.0.temperature", known(50.0))
        self.assertAlmostEqual(strong(told, met=met._replace(case_c=79.0)).element("mount.plate").factor, cool.factor, 9)


class ProofTest(unittest.TestCase):
    def test_what_is_hung_makes_one_and_a_half_times_the_peak(self):
        found = strong(of(KART, "A"))
        test = proof_of(found.first, stock=STOCK)
        torque = 9.80665 * (test.mass_kg * test.lever_m + 0.5 * 0.5 * test.lever_m)
        self.assertAlmostEqual(torque / found.load("drive").wheel_nm, 1.5, 6)
        warm = strong(with_joints(of(BOARD, "B"), Joint(kind="plate", place="mount", material="print-pla", temperature=known(45.0))))
        cold = proof_of(warm.element("mount.plate"), stock=STOCK)
        self.assertGreater(cold.cold_kg, 2.0 * cold.mass_kg)

    def test_held_is_a_floor_and_never_the_capacity(self):
        design = of(KART, "B")
        hub = strong(design).element("motor.hub")
        light = Proof(element="motor.hub", mass=0.5, lever=0.2, result="held")
        same = strong(put(design, "variant.strength.proofs", (light,))).element("motor.hub")
        self.assertEqual(same.factor, hub.factor)
        self.assertEqual(same.status, hub.status)
        self.assertIn("held at 0.5 kg", same.proved)
        heavy = Proof(element="motor.hub", mass=1.6, lever=0.4, result="held")
        floored = strong(put(design, "variant.strength.proofs", (heavy,))).element("motor.hub")
        self.assertAlmostEqual(floored.band[0], 9.80665 * 1.6 * 0.4, 6)
        self.assertGreater(floored.band[0], hub.band[0])

    def test_held_beyond_the_calculation_lifts_it(self):
        design = of(KART, "B")
        hub = strong(design).element("motor.hub")
        mass = 2.0 * hub.wheel_nm / (9.80665 * 0.4)
        held = strong(put(design, "variant.strength.proofs", (Proof(element="motor.hub", mass=mass, lever=0.4),))).element("motor.hub")
        self.assertAlmostEqual(held.factor, 2.0, 6)
        self.assertIs(held.status, Status.CLEAR)
        self.assertAlmostEqual(held.band[0], 2.0 * hub.wheel_nm, 6)

    def test_a_print_that_broke_cold_bears_less_where_it_works(self):
        joint = Joint(kind="plate", place="mount", material="print-pla", temperature=known(45.0))
        share = (60.0 - 45.0) / (60.0 - 23.0)
        for warm, left in ((None, share), (45.0, 1.0), (30.0, share * 37.0 / 30.0)):
            proof = Proof(element="mount.plate", mass=10.0, lever=0.4, temperature=warm, result="broke")
            one = strong(with_joints(of(BOARD, "B"), joint, proofs=(proof,))).element("mount.plate")
            self.assertAlmostEqual(one.fails_at_nm, left * 10.0 * 9.80665 * 0.4, 6, warm)

    def test_moved_and_broke_change_the_verdict(self):
        design = of(KART, "A")
        hub = strong(design).element("motor.hub")
        self.assertIs(hub.status, Status.CLEAR)
        peak = strong(design).load("drive").wheel_nm
        mass = 0.7 * peak / (9.80665 * 0.5)
        for result in ("moved", "broke"):
            after = strong(put(design, "variant.strength.proofs", (Proof(element="motor.hub", mass=mass, lever=0.5, result=result),)))
            one = after.element("motor.hub")
            self.assertIs(one.status, Status.OVER)
            self.assertAlmostEqual(one.fails_at_nm / (0.7 * peak), 1.0, 6)
            self.assertEqual(after.first.code, "motor.hub")
            found = next(
                f
                for f in judged_all(
                    put(design, "variant.strength.proofs", (Proof(element="motor.hub", mass=mass, lever=0.5, result=result),)), STOCK
                )
                if f.code == "strength.element.motor.hub"
            )
            self.assertIs(found.status, Status.OVER)


class FindingTest(unittest.TestCase):
    def told(self, design, code):
        return next((one for one in judged_by(RULES, design, STOCK) if one.code.startswith(code)), None)

    def cured(self, design, code):
        return next((one for one in check(design, STOCK) if one.code.startswith(code)), None)

    def test_each_element_on_both_sides_of_its_bounds(self):
        def key(length):
            return with_joints(of(KART, "A"), Joint(kind="key", length=known(length), material="steel-c45"))

        factor = strong(key(0.02)).element("motor.hub").factor
        for share, status in ((0.9, Status.OVER), (1.2, Status.TIGHT), (1.6, Status.CLEAR)):
            design = key(0.02 * share / factor)
            self.assertIs(strong(design).element("motor.hub").status, status)
            self.assertIs(self.told(design, "strength.element.motor.hub").status, status)

    def test_a_set_screw_on_a_round_or_soft_shaft_is_an_error_with_its_number(self):
        for flat, material, status in ((0.0, "", Status.OVER), (0.001, "steel-soft", Status.OVER), (0.001, "", Status.CLEAR)):
            found = self.told(
                with_joints(of(BOARD, "B"), Joint(kind="set_screw", screw=6, count=2, flat=known(flat), material=material)),
                "strength.round_shaft",
            )
            self.assertIs(found.status, status, (flat, material))
        self.assertIn("usable of", self.told(of(KART, "B"), "strength.round_shaft").title)
        self.assertTrue(self.cured(of(KART, "B"), "strength.round_shaft").cures)

    def test_one_point_two_points(self):
        for points, status in ((1, Status.OVER), (2, Status.CLEAR)):
            self.assertIs(
                self.told(with_joints(of(BOARD, "B"), Joint(kind="clamp", place="mount", points=points)), "strength.one_point").status,
                status,
            )
        found = self.cured(of(BOARD, "A"), "strength.one_point")
        self.assertIn("when it brakes", found.title)
        self.assertEqual([cure.edit.label for cure in found.cures], ["clamp on the axle: held at two points"])

    def test_locks_prints_and_fuses(self):
        for locked, status in ((False, Status.TIGHT), (True, Status.CLEAR)):
            self.assertIs(
                self.told(with_joints(of(BOARD, "B"), Joint(kind="bolts", place="wheel", locked=locked)), "strength.undone").status, status
            )
        across = Joint(kind="plate", place="mount", material="print-nylon", across=True)
        self.assertIs(self.told(with_joints(of(BOARD, "B"), across), "strength.printed").status, Status.OVER)
        for warm, status in ((50.0, None), (100.0, Status.TIGHT)):
            hot = replace(across, across=False, temperature=known(warm))
            found = self.told(with_joints(of(BOARD, "B"), hot), "strength.printed")
            self.assertEqual(found.status if found is not None else None, status, warm)
        first = strong(of(KART, "A")).first.code
        base = KART.variants[0].strength
        self.assertIs(self.told(put(of(KART, "A"), "variant.strength", replace(base, fuse=first)), "strength.fuse").status, Status.CLEAR)
        self.assertIs(self.told(put(of(KART, "A"), "variant.strength", replace(base, fuse="stage.0")), "strength.fuse").status, Status.OVER)
        self.assertIs(
            self.told(put(of(KART, "A"), "variant.strength", replace(base, fuse="nothing")), "strength.fuse").status, Status.NOT_CHECKED
        )

    def test_what_nobody_measured_is_not_called_tight(self):
        design = new_design(VehicleKind.ALL_TERRAIN_BOARD)
        self.assertIs(strong(design).element("axle.bump").status, Status.TIGHT)
        self.assertIs(self.told(design, "strength.element.axle.bump").status, Status.NOT_CHECKED)
        measured = put(design, "vehicle.axle_diameter", known(0.012))
        self.assertIs(self.told(measured, "strength.element.axle.bump").status, Status.TIGHT)
        thin = put(design, "vehicle.axle_diameter", Quantity(value=0.007, known=Known.ASSUMED))
        self.assertIs(self.told(thin, "strength.element.axle.bump").status, Status.OVER)

    def test_threads_freewheels_couplings(self):
        for long, status in ((0.003, Status.OVER), (0.005, Status.TIGHT), (0.006, Status.CLEAR)):
            joint = Joint(kind="slots", place="mount", screw=4, length=known(long))
            self.assertIs(self.told(with_joints(of(BOARD, "B"), joint), "strength.thread").status, status, long)
        self.assertIs(self.told(with_joints(of(BIKE, "A")), "strength.freewheel").status, Status.TIGHT)
        rated = Joint(kind="freewheel", place="wheel", bears=known(150.0))
        self.assertIs(self.told(with_joints(of(BIKE, "A"), rated), "strength.freewheel").status, Status.CLEAR)
        self.assertIs(self.told(with_joints(of(PUNT, "C")), "strength.coupling").status, Status.NOT_CHECKED)
        for off, status in ((0.0, Status.CLEAR), (0.0002, Status.TIGHT), (0.0004, Status.OVER)):
            joint = Joint(kind="coupling", offset=known(off))
            self.assertIs(self.told(with_joints(of(PUNT, "C"), joint), "strength.coupling").status, status, off)
        shaft = strong(of(PUNT, "C")).element("coupling").at.shaft_m
        for more, status in ((0.002, Status.OVER), (0.00002, Status.CLEAR)):
            joint = Joint(kind="coupling", diameter=known(shaft + more), offset=known(0.0))
            self.assertIs(self.told(with_joints(of(PUNT, "C"), joint), "strength.coupling").status, status, more)

    def test_a_shear_pin_is_to_go_before_the_shaft(self):
        for material, status in (("stainless-soft", Status.TIGHT), ("stainless-hard", Status.CLEAR)):
            design = with_joints(of(PUNT, "C"), Joint(kind="shaft", place="wheel", material=material))
            found = self.told(design, "strength.fuse")
            self.assertIs(found.status, status, material)
        self.assertIsNone(self.told(with_joints(of(KART, "A")), "strength.fuse"))

    def test_the_weakest_is_to_be_proved(self):
        self.assertIs(self.told(of(KART, "A"), "strength.proof").status, Status.NOT_CHECKED)
        first = strong(of(KART, "A")).first.code
        proved = put(of(KART, "A"), "variant.strength.proofs", (Proof(element=first, mass=30.0, lever=0.4),))
        self.assertIs(self.told(proved, "strength.proof").status, Status.CLEAR)

    def test_other_ways_bear_more_and_can_be_taken(self):
        design = of(KART, "B")
        drive = study_drive(design, STOCK)
        found = study_strength(design, STOCK, drive)
        hub = found.element("motor.hub")
        ways = others(found, hub, STOCK, drive)
        self.assertGreater(len(ways), 2)
        for way in ways:
            after = strong(put(design, "variant.strength", way.edit.changes[0][1])).element("motor.hub")
            self.assertAlmostEqual(after.factor, way.factor, 9)
            self.assertGreater(after.factor, hub.factor)

    def test_the_demo_has_flaws_and_sound_twins(self):
        for design, variant, code in (
            (BOARD, "A", "motor.hub"),
            (KART, "B", "motor.hub"),
            (BIKE, "C", "mount.bracket"),
            (BIKE, "B", "dropout"),
        ):
            self.assertIs(strong(of(design, variant)).element(code).status, Status.OVER, code)
        for design, variant in ((BOARD, "B"), (KART, "A"), (BIKE, "A"), (PUNT, "A")):
            over = [one.code for one in strong(of(design, variant)).elements if one.status is Status.OVER]
            self.assertEqual(over, [], variant)


class TerminalTest(unittest.TestCase):
    def run_it(self, *arguments):
        from wattagon.cli import main

        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(arguments))
        return code, out.getvalue(), err.getvalue()

    def test_json_words_and_refusals(self):
        path = str(DEMO / "corncrake.json")
        code, out, _ = self.run_it("strength", path, "--json", "--run-time", "9 s", "--run-speed", "8 m/s")
        data = json.loads(out)
        self.assertEqual(code, 0)
        self.assertEqual([case["case"] for case in data["loads"]], ["drive", "regen", "jam", "grip", "run_mean", "run_peak"])
        for one in data["elements"]:
            self.assertIn(one["side"], ("drive", "mount"))
            self.assertIn(one["status"], ("clear", "tight", "over", "not_checked"))
            if one["band"] is not None:
                self.assertLess(one["band"][0], one["fails_at_wheel_nm"])
        self.assertEqual(
            data["first"]["fails_at_wheel_nm"],
            min(o["fails_at_wheel_nm"] for o in data["elements"] if o["fails_at_wheel_nm"] and o["kind"] != "bearing"),
        )
        self.assertTrue(any(o["rests_on"] for o in data["elements"]))
        code, out, _ = self.run_it("strength", path)
        self.assertIn("first to give way", out)
        self.assertIn("feet clear", out)
        for bad in (("--run-time", "9 s"), ("--run-time", "soon", "--run-speed", "8 m/s"), ("--run-time", "900 s", "--run-speed", "8 m/s")):
            code, _, err = self.run_it("strength", path, *bad)
            self.assertEqual(code, 2)
            self.assertIn("accepted", err)

    def test_the_card_of_a_proof(self):
        with tempfile.TemporaryDirectory() as folder:
            path, card = str(DEMO / "corncrake.json"), Path(folder) / "card.pdf"
            self.assertEqual(self.run_it("strength", path, "--card", str(card), "--element", "motor.hub")[0], 0)
            pages = zlib_texts(card.read_bytes())
            for words in ("Proof test", "Hang 33 kg", "one line", "feet clear", "does not make a vehicle safe", "held / moved / broke"):
                self.assertIn(words, pages)
            code, _, err = self.run_it("strength", path, "--card", str(card), "--element", "axle.bump")
            self.assertEqual(code, 2)
            self.assertIn("motor.hub", err)

    def test_what_would_be_passed_over_is_refused(self):
        for name, *more in (("garganey", "--run-time", "9 s", "--run-speed", "2 m/s"), ("dunlin", "--element", "motor.hub")):
            code, out, err = self.run_it("strength", str(DEMO / f"{name}.json"), *more)
            self.assertEqual((code, out), (2, ""))
            self.assertIn(more[0], err)

    def test_the_loads_of_a_ride(self):
        code, out, _ = self.run_it("strength", str(DEMO / "corncrake.json"), "--json", "--ride", "full-climb")
        self.assertEqual(code, 0)
        self.assertIn("ride", [case["case"] for case in json.loads(out)["loads"]])
        code, _, err = self.run_it("strength", str(DEMO / "corncrake.json"), "--ride", "moon")
        self.assertEqual(code, 2)
        self.assertIn("full-climb", err)

    def test_materials_are_plain_and_consistent(self):
        for part in STOCK.all(MaterialPart):
            self.assertLessEqual(part.yield_mpa, part.strength_mpa, part.id)
            self.assertEqual(part.kind == "print", part.soft_c is not None, part.id)
            self.assertEqual(part.kind != "metal", part.across_mpa is not None, part.id)

    def test_boats_have_their_own_path(self):
        data = strength_data(strong(of(PUNT, "C")), STOCK)
        self.assertEqual([one["kind"] for one in data["elements"]], ["coupling", "shaft", "pin", "blade", "bearing", "pivot"])


if __name__ == "__main__":
    unittest.main()
