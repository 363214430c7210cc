"""The layout: proposals that can be built, stages as the handbook has them, gaps on both sides, cures, files to cut read back."""

import contextlib
import io
import json
import math
import random
import tempfile
import unittest
import xml.etree.ElementTree as ET
from dataclasses import replace
from pathlib import Path

import ezdxf
import numpy as np

from tests.design.malformed import DEMO
from tests.judging import judged_by
from tests.random_designs import random_design
from wattagon.design import catalogue, file
from wattagon.design.kinds import KINDS
from wattagon.design.parts import IdlerPart
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import Idler, Layout, Obstacle, ReductionKind, Spot, StageChoice, StageLayout, TakeUp, VehicleKind
from wattagon.errors import InputError, WattagonError
from wattagon.physics.clearance import circles_apart
from wattagon.physics.path import Round, drawn, loop_around
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import check
from wattagon.study.findings.status import Status
from wattagon.study.layout.edits import fitted_to, idler_for, stepped, with_shaft
from wattagon.study.layout.onpaper import full_scale
from wattagon.study.layout.rules import RULES
from wattagon.study.layout.sheets import refused, sheets
from wattagon.study.layout.study import study_layout
from wattagon.study.layout.swing import axles, swing

STOCK = catalogue.load()
CHAIN = StageChoice(kind=ReductionKind.CHAIN, profile="08A", driver_teeth=12, driven_teeth=36)
BOARD = file.read(DEMO / "dunlin.json").design
KART = file.read(DEMO / "corncrake.json").design
BIKE = file.read(DEMO / "bittern.json").design


def laid(design):
    return study_layout(design, STOCK, study_drive(design, STOCK))


def of(design, variant):
    return replace(design, active=variant)


def run(*arguments):
    from wattagon.cli import main

    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(list(arguments))
    return code, out.getvalue(), err.getvalue()


def known(value):
    return Quantity(value=value, known=Known.MEASURED, tolerance=0.0)


class PathTest(unittest.TestCase):
    def test_length_is_that_of_the_drawn_path(self):
        """Against a polyline of the drawn path, whose arcs are shorter by (1 - sinc) of half a step."""
        rng, real, tried = random.Random(5), 0, 0
        while real < 2000 and tried < 20000:
            tried += 1
            rounds = [Round(0.0, 0.0, rng.uniform(8, 40)), Round(rng.uniform(70, 260), rng.uniform(-60, 60), rng.uniform(8, 60))]
            for _ in range(rng.randint(0, 3)):
                rounds.append(Round(rng.uniform(0, 200), rng.uniform(-90, 90), rng.uniform(5, 25), rng.choice((1, -1))))
            loop = loop_around(rounds)
            if not loop.real:
                continue
            real += 1
            step = math.radians(0.25)
            points = np.array(drawn(rounds, loop, step))
            long = float(np.hypot(*np.diff(np.vstack([points, points[:1]]), axis=0).T).sum())
            self.assertAlmostEqual(long / loop.length, 1.0, delta=1e-6)
        self.assertEqual(real, 2000)

    def test_loops_that_cannot_be_say_why(self):
        near = loop_around((Round(0, 0, 30), Round(10, 0, 50)))
        self.assertIn("too close", near.fault)
        away = loop_around((Round(0, 0, 10), Round(100, 0, 10), Round(50, 80, 10, -1)))
        self.assertFalse(away.real)
        self.assertTrue(away.fault)


class ProposalTest(unittest.TestCase):
    def test_every_new_vehicle_has_a_drive_that_stock_can_build(self):
        for kind in KINDS:
            found = laid(new_design(kind))
            for one in found.stages:
                self.assertTrue(one.in_stock, kind)
                self.assertTrue(one.path.loop.real, kind)
                self.assertLess(abs(one.off_m), 1e-6, kind)
            for shaft in found.shafts[:-1]:
                self.assertTrue(shaft.proposed or not found.stages, kind)
            for gap in found.gaps:
                self.assertNotIn(gap.code, ("can.axle", "can.ground") if gap.status is Status.OVER else (), f"{kind} {gap.between}")

    def test_a_lever_moves_the_drawing(self):
        before = laid(BIKE)
        after = laid(put(BIKE, "variant.stages.0.driven_teeth", 60))
        self.assertNotAlmostEqual(before.shafts[0].x, after.shafts[0].x, 3)
        self.assertTrue(after.stages[0].in_stock)

    def test_random_designs_are_laid_out_and_their_parts_cut_or_refused(self):
        laid_out = 0
        for seed in range(160):
            design = random_design(seed, STOCK)
            try:
                drive = study_drive(design, STOCK)
            except WattagonError:
                continue
            found = study_layout(design, STOCK, drive)
            laid_out += 1
            for one in found.gaps:
                self.assertEqual(math.isnan(one.nominal), one.status is Status.NOT_CHECKED)
                self.assertLessEqual(0.0 if math.isnan(one.worst) else one.worst, math.inf if math.isnan(one.nominal) else one.nominal)
            for one in found.stages:
                self.assertTrue(one.path.loop.fault or abs(sum(one.wraps) - 2.0 * math.pi) < 1e-6)
            self.assertEqual(
                len(sheets(found)) + len(refused(found)), len({one.id for one in sheets(found)} | {c for c, _ in refused(found)})
            )
        self.assertGreater(laid_out, 100)


class StageTest(unittest.TestCase):
    def at(self, x, z=0.0, **stage):
        layout = Layout(motor=Spot(x=known(x), z=known(z)), stages=(StageLayout(**stage),))
        return laid(put(of(BOARD, "C"), "variant.layout", layout)).stages[0]

    def test_off_its_place_is_told_in_millimetres(self):
        fits = self.at(0.092366, loop=85)
        self.assertAlmostEqual(fits.fitting_m, 0.092366, 4)
        far = self.at(0.096366, loop=85)
        self.assertGreater(far.off_m, 0.005)  # about twice the 4 mm, by the cosine of its lean
        self.assertLess(far.off_m, 0.008)

    def test_wheels_that_stand_in_each_other_are_told_for_belt_and_chain(self):
        for chain in (CHAIN, replace(CHAIN, kind=ReductionKind.BELT, profile="5M", width_mm=15.0)):
            design = put(of(KART, "A"), "variant.stages", (chain,))
            near = put(design, "variant.layout", Layout(motor=with_shaft(Layout(), laid(design).shafts, 0, 0.006, 0.004).motor))
            found = laid(near)
            self.assertTrue(math.isnan(found.stages[0].off_m))
            told = next(one for one in judged_by(RULES, near, STOCK) if one.code.startswith("layout.loop"))
            self.assertIs(told.status, Status.OVER)
            self.assertIn("too close", told.title)

    def test_an_idler_on_the_back_brings_teeth_into_mesh(self):
        design = of(BOARD, "B")
        found = laid(design)
        edit = idler_for(found, STOCK, found.stages[0])
        self.assertIsNotNone(edit)
        with_one = laid(apply(design, edit)).stages[0]
        self.assertTrue(with_one.path.loop.real)
        self.assertGreater(with_one.in_mesh, found.stages[0].in_mesh)
        self.assertIn(-1, [wheel.round.side for wheel in with_one.path.wheels])
        self.assertLess(abs(with_one.off_m), 0.0015)

    def test_the_slack_strand_is_the_one_that_leaves_the_driven_wheel(self):
        """The tight one is drawn first: driving forwards, with the front to the right, wheels turn clockwise."""
        one = self.at(0.0924, loop=85)
        self.assertEqual([wheel.what for wheel in one.path.wheels], ["driver", "driven"])
        self.assertGreater(one.path.loop.spans[0].begin[1], one.path.loop.spans[1].begin[1])  # above, with the motor ahead

    def test_teeth_step_through_stock_and_forget_the_loop(self):
        design = put(of(BOARD, "C"), "variant.layout", Layout(stages=(StageLayout(loop=85),)))
        edit = stepped(design, STOCK, 0, "driver", 1)
        changed = apply(design, edit)
        self.assertEqual(changed.variant().stages[0].driver_teeth, 16)
        self.assertIsNone(changed.variant().layout.stages[0].loop)

    def test_another_loop_moves_its_driver_to_where_it_lies(self):
        design = of(BOARD, "B")
        moved = apply(design, fitted_to(design, STOCK, 0, 90))
        one = laid(moved).stages[0]
        self.assertEqual(one.loop, 90)
        self.assertLess(abs(one.off_m), 2e-4)

    def test_a_jackshaft_takes_the_drawn_motor_along(self):
        found = laid(BIKE)
        layout = with_shaft(Layout(), found.shafts, 0, 0.40, 0.15)
        layout = with_shaft(layout, laid(put(BIKE, "variant.layout", layout)).shafts, 1, found.shafts[1].x + 0.02, found.shafts[1].z)
        after = laid(put(BIKE, "variant.layout", layout))
        self.assertAlmostEqual(after.shafts[0].x, 0.42, 4)
        self.assertAlmostEqual(after.shafts[1].x, found.shafts[1].x + 0.02, 4)


class TakeUpTest(unittest.TestCase):
    def told(self, **stage):
        design = put(of(BOARD, "B"), "variant.layout", Layout(stages=(StageLayout(**stage),)))
        return next(one for one in judged_by(RULES, design, STOCK) if one.code == "layout.slots.0")

    def test_each_way_to_take_up_a_loop_says_what_it_needs(self):
        for stage, status, words in (
            ({}, Status.CLEAR, "slots from"),
            ({"slot": known(0.010)}, Status.CLEAR, "slots of"),
            ({"slot": known(0.004)}, Status.TIGHT, "are needed"),
            ({"slot": known(0.001)}, Status.OVER, "are needed"),
            ({"take_up": TakeUp.ECCENTRIC}, Status.CLEAR, "an eccentric of"),
            ({"take_up": TakeUp.ECCENTRIC, "slot": known(0.001)}, Status.OVER, "an eccentric with a travel of"),
            ({"take_up": TakeUp.NONE}, Status.OVER, "nothing takes up"),
            ({"take_up": TakeUp.IDLER}, Status.OVER, "no idler is there"),
        ):
            found = self.told(**stage)
            self.assertIs(found.status, status, stage)
            self.assertIn(words, found.title)

    def test_an_idler_is_the_smallest_of_stock_that_the_belt_bears_(self):
        found = laid(of(BOARD, "B"))
        edit = idler_for(found, STOCK, found.stages[0])
        idler = edit.changes[0][1].stages[0].idlers[0]
        part = STOCK.get(IdlerPart, idler.part)
        self.assertAlmostEqual(idler.diameter.value, part.diameter_mm / 1e3)
        self.assertGreaterEqual(part.width_mm, 25.0)
        least = 1e3 * found.stages[0].made.kind.least_idler_m(18, inside=False)
        smaller = [one for one in STOCK.all(IdlerPart) if not one.profile and least <= one.diameter_mm < part.diameter_mm]
        self.assertTrue(all(one.width_mm < 25.0 for one in smaller))


class PaperTest(unittest.TestCase):
    def test_the_side_view_goes_on_paper_as_large_as_it_is(self):
        found = laid(of(BOARD, "B"))
        made = full_scale(found)
        self.assertAlmostEqual(2.0 * made.outer[0].radius, 2e3 * found.scene.tyre_m)
        self.assertAlmostEqual(made.figures[0][1], 1e3 * found.stages[0].centre_m)
        long = [sum(piece.length for piece in mark) for mark in made.marks]
        self.assertTrue(any(abs(value / (1e3 * found.stages[0].length_m) - 1.0) < 2e-3 for value in long), "the belt as it runs")
        with tempfile.TemporaryDirectory() as folder:
            target = Path(folder) / "side.pdf"
            code, out, _ = run("layout", str(DEMO / "dunlin.json"), "--pdf", str(target), "--paper", "Letter")
            self.assertEqual(code, 0)
            self.assertIn("side.pdf", out)
            self.assertTrue(target.read_bytes().startswith(b"%PDF"))
        code, _, err = run("layout", str(DEMO / "garganey.json"), "--pdf", "x.pdf")
        self.assertEqual(code, 2)
        self.assertIn("vehicle on wheels", err)


class GapTest(unittest.TestCase):
    def gap(self, design, code):
        return next(one for one in laid(design).gaps if one.code == code)

    def test_cans_side_by_side_on_both_sides(self):
        design = of(BOARD, "B")
        for width, status in ((0.219, Status.OVER), (0.228, Status.TIGHT), (0.234, Status.CLEAR)):
            self.assertIs(self.gap(put(design, "vehicle.clear_width", known(width)), "cans.between").status, status, width)
        unknown = self.gap(put(design, "vehicle.clear_width", None), "cans.between")
        self.assertIs(unknown.status, Status.NOT_CHECKED)
        self.assertIn("not measured", unknown.because)

    def test_can_and_obstacle_against_sampled_circles(self):
        rng = random.Random(3)
        for _ in range(60):
            x, z = rng.uniform(-0.16, -0.05), rng.uniform(-0.05, 0.05)
            one = Obstacle(
                shape="circle",
                x=rng.uniform(-0.3, 0.1),
                z=rng.uniform(-0.2, 0.0),  # above the axle it would be the deck's, under which the truck turns
                radius=rng.uniform(0.005, 0.05),
                right=-0.085,
                left=0.085,
            )
            layout = Layout(motor=Spot(x=known(x), z=known(z)), obstacles=(one,))
            found = self.gap(put(of(BOARD, "B"), "variant.layout", layout), "obstacle.0.can")
            turn = np.linspace(0.0, 2.0 * math.pi, 721)
            rim = np.stack([x + 0.0315 * np.cos(turn), z + 0.0315 * np.sin(turn)])
            sampled = float(np.min(np.hypot(rim[0] - one.x, rim[1] - one.z))) - one.radius
            if sampled > 0.0 and math.hypot(one.x - x, one.z - z) > 0.0315:
                self.assertAlmostEqual(found.nominal, sampled, 4)
            else:
                self.assertAlmostEqual(found.nominal, circles_apart((x, z), 0.0315, (one.x, one.z), one.radius), 9)

    def test_what_lies_in_another_plane_does_not_meet(self):
        beside = Obstacle(shape="circle", x=-0.09, z=0.0, radius=0.02, right=0.2, left=0.3)
        layout = Layout(motor=Spot(x=known(-0.0924), z=known(0.0)), obstacles=(beside,))
        self.assertFalse([g for g in laid(put(of(BOARD, "B"), "variant.layout", layout)).gaps if g.code.startswith("obstacle")])

    def test_a_measure_with_a_wide_tolerance_makes_it_tight(self):
        design = of(BOARD, "B")
        sure = self.gap(put(design, "vehicle.clear_width", Quantity(value=0.236, known=Known.MEASURED, tolerance=0.0005)), "cans.between")
        loose = self.gap(put(design, "vehicle.clear_width", Quantity(value=0.236, known=Known.MEASURED, tolerance=0.006)), "cans.between")
        self.assertEqual(sure.nominal, loose.nominal)
        self.assertIs(sure.status, Status.CLEAR)
        self.assertIs(loose.status, Status.TIGHT)

    def test_crank_arms_on_both_sides(self):
        """Belts lie 37.5 to 62.5 mm out; half of the tread less an arm of 14 mm has to clear them by 4 mm and 1 mm twice."""
        self.assertIs(self.gap(put(BIKE, "variant.layout", Layout()), "crank.drive").status, Status.NOT_CHECKED)
        for tread, status in ((0.152, Status.OVER), (0.163, Status.TIGHT), (0.167, Status.CLEAR)):
            design = put(BIKE, "variant.layout", Layout(tread=known(tread)))
            self.assertIs(self.gap(design, "crank.drive").status, status, tread)

    def test_a_large_driven_pulley_comes_near_the_ground(self):
        for teeth, status in ((84, Status.CLEAR), (100, Status.TIGHT)):
            design = put(of(BOARD, "B"), "variant.stages.0.driven_teeth", teeth)
            design = put(design, "variant.layout", None)
            self.assertIs(self.gap(design, "wheel.ground").status, status, teeth)


class FindingTest(unittest.TestCase):
    def found(self, design):
        return {one.code: one for one in judged_by(RULES, design, STOCK)}

    def test_flaws_of_the_demo_are_told(self):
        first = self.found(of(BOARD, "A"))
        self.assertIs(first["layout.cans"].status, Status.OVER)
        self.assertNotIn("motor.side_by_side", first)
        third = self.found(of(BOARD, "C"))
        self.assertIn("no shop has one of 83 teeth", third["layout.loop.0"].title)
        self.assertIs(self.found(BIKE)["layout.mesh.0"].status, Status.TIGHT)

    def test_cures_were_tried(self):
        third = of(BOARD, "C")
        loop = next(one for one in check(third, STOCK) if one.code == "layout.loop.0")
        self.assertTrue(loop.cures)
        mended = apply(third, loop.cures[0].edit)
        self.assertIs(self.found(mended)["layout.loop.0"].status, Status.CLEAR)

    def test_no_cure_puts_another_gap_over(self):
        for design in (of(BOARD, "A"), BIKE):
            before = {one.code: one for one in check(design, STOCK)}
            self.assertTrue(any(one.cures for one in before.values() if one.code.startswith("layout.")))
            over = {code for code, one in before.items() if one.status is Status.OVER}
            for one in before.values():
                for cure in one.cures if one.code.startswith("layout.") else ():
                    after = self.found(apply(design, cure.edit))
                    newly = {code for code, other in after.items() if other.status is Status.OVER and code.startswith("layout.")} - over
                    self.assertEqual(newly, set(), f"{one.code}: {cure.text}")

    def test_jump_and_width_on_both_sides(self):
        weak = put(of(BOARD, "B"), "variant.controller.motor_current_a", 12.0)
        strong = put(of(BOARD, "B"), "variant.controller.motor_current_a", 190.0)
        self.assertIs(self.found(weak)["layout.jump.0"].status, Status.CLEAR)
        self.assertIn(self.found(strong)["layout.jump.0"].status, (Status.TIGHT, Status.OVER))
        self.assertIs(self.found(weak)["layout.width.0"].status, Status.CLEAR)
        self.assertIs(self.found(strong)["layout.width.0"].status, Status.OVER)


class SwingTest(unittest.TestCase):
    def with_arm(self, driver_x, driver_z, travel=0.08, **stage):
        bike = put(new_design(VehicleKind.SUSPENDED_BIKE), "variant.stages", (CHAIN,))
        layout = Layout(
            motor=Spot(x=known(driver_x), z=known(driver_z)),
            pivot=Spot(x=known(0.42), z=known(0.02)),
            travel=known(travel),
            stages=(StageLayout(**stage),),
        )
        return put(bike, "variant.layout", layout)

    def growth(self, design):
        return next(f for f in judged_by(RULES, design, STOCK) if f.code == "layout.growth")

    def test_a_sprocket_on_the_pivot_grows_nothing_and_one_above_it_does(self):
        self.assertIs(self.growth(self.with_arm(0.42, 0.02)).status, Status.CLEAR)
        self.assertIs(self.growth(self.with_arm(0.36, 0.12)).status, Status.OVER)
        plain = put(self.with_arm(0.42, 0.02), "variant.layout", None)
        self.assertIs(self.growth(plain).status, Status.NOT_CHECKED)

    def test_growth_is_that_of_the_sampled_arm(self):
        design = self.with_arm(0.36, 0.10)
        found = laid(design)
        made = swing(found.layout, found.shafts[0], found.stages[0])
        places = list(axles(found.layout))
        self.assertAlmostEqual(places[-1][1] - places[0][1], 0.08, delta=0.008)  # it rises by the travel
        for x, z in places:
            self.assertAlmostEqual(math.hypot(x - 0.42, z - 0.02), math.hypot(0.42, 0.02), 9)
        apart = [math.hypot(x - 0.36, z - 0.10) for x, z in places]
        self.assertAlmostEqual(made.most_m - made.least_m, max(apart) - min(apart), 9)
        self.assertAlmostEqual(made.growth_m / (2.0 * (max(apart) - min(apart))), 1.0, delta=0.1)


class TerminalTest(unittest.TestCase):
    def test_layout_as_json_and_picture(self):
        with tempfile.TemporaryDirectory() as folder:
            picture = Path(folder) / "side.svg"
            code, out, _ = run("layout", str(DEMO / "dunlin.json"), "--variant", "B", "--json", "--svg", str(picture))
            self.assertEqual(code, 0)
            ET.fromstring(picture.read_text())
        data = json.loads(out)
        stage = data["stages"][0]
        self.assertEqual(stage["teeth"], [15, 72])
        self.assertEqual(stage["loop"], 85)
        self.assertEqual(stage["teeth_in_mesh"], 5)
        self.assertEqual([one["kind"] for one in stage["path"]], ["driver", "driven"])
        self.assertAlmostEqual(sum(one["side"] * one["wrap_deg"] for one in stage["path"]), 360.0, 6)
        self.assertEqual([one["wrap_deg"] for one in stage["path"]], stage["wrap_deg"])
        for key in (
            "pitch_mm",
            "centre_mm",
            "length_mm",
            "span_mm",
            "tension_n",
            "tone_hz",
            "force_n",
            "deflection_mm",
            "jump_nm",
            "shear_nm",
        ):
            self.assertGreater(stage[key], 0.0, key)
        self.assertEqual(stage["slot_mm"], sorted(stage["slot_mm"]))
        self.assertTrue(all({"between", "mm", "worst_mm", "status"} <= gap.keys() for gap in data["gaps"]))

    def test_cut_lists_writes_and_refuses(self):
        path = str(DEMO / "corncrake.json")
        code, out, _ = run("cut", path, "--list", "--json")
        self.assertEqual(code, 0)
        self.assertIn("sprocket-driver", json.loads(out))
        with tempfile.TemporaryDirectory() as folder:
            out_file = Path(folder) / "s.dxf"
            self.assertEqual(run("cut", path, "sprocket-driver", "-o", str(out_file), "--kerf", "0.2", "--thickness", "6")[0], 0)
            self.assertTrue(ezdxf.readfile(out_file).modelspace())
            code, _, err = run("cut", path, "sprocket-driver", "-o", str(out_file), "--kerf", "7")
            self.assertEqual(code, 2)
            self.assertIn("--kerf", err)
            self.assertEqual(run("cut", path, "cake", "-o", str(out_file))[0], 2)

    def test_files_keep_a_layout(self):
        idler = Idler(x=known(0.05), z=known(0.03), diameter=known(0.038))
        layout = Layout(
            motor=Spot(x=known(0.1), z=known(0.02)), stages=(StageLayout(loop=90, idlers=(idler,)),), obstacles=(Obstacle(x=0.1, z=0.1),)
        )
        design = put(BOARD, "variant.layout", layout)
        self.assertEqual(file.from_json(file.to_json(design)), design)
        with self.assertRaises(InputError):
            Obstacle(x=0.0, z=0.0, shape="star")


if __name__ == "__main__":
    unittest.main()
