"""What rides along and what sits on shafts: proposals, gaps on both sides of every bound, leads, balance, bores, whirl, sweeps."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.judging import judged_by
from wattagon.design import catalogue, file
from wattagon.design.parts import MotorPart, ToothedPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import Body, Idler, Layout, Obstacle, OnShaft, ReductionKind, Spot, Stack, StageChoice, StageLayout, VehicleKind
from wattagon.errors import InputError
from wattagon.exchange.layout_json import layout_data
from wattagon.physics.clearance import crest_rise_m, pedal_lean_rad
from wattagon.physics.gears import contact_ratio, pair_centre_m, planet_rad_s, planets
from wattagon.physics.vibration import SOFT, bare_rpm, critical_rpm, overhung_n_m, together_rpm
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import check
from wattagon.study.findings.status import Status
from wattagon.study.layout.aboard import with_body
from wattagon.study.layout.aboard_gaps import CREST_M, apart, from_round
from wattagon.study.layout.rules import RULES
from wattagon.study.layout.study import study_layout
from wattagon.study.layout.sweep import leaning, sweeps

STOCK = catalogue.load()
BOARD, KART, BIKE = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern"))


def of(design, variant):
    return replace(design, active=variant)


def laid(design):
    return study_layout(design, STOCK, study_drive(design, STOCK))


def known(value, tolerance=0.0005):
    return Quantity(value=value, known=Known.MEASURED, tolerance=tolerance)


def body(kind="thing", x=0.3, y=0.0, z=0.0, size=(0.1, 0.06, 0.04), **told):
    sides = dict(zip(("length", "width", "height"), map(known, size), strict=True))
    return Body(kind=kind, x=known(x), y=known(y), z=known(z), **sides, **told)


def with_bodies(design, *bodies, **layout):
    base = design.variant().layout or Layout()
    return put(design, "variant.layout", replace(base, bodies=bodies, **layout))


def gaps(design):
    return {gap.code: gap for gap in laid(design).gaps}


class ProposalTest(unittest.TestCase):
    def test_every_vehicle_on_wheels_is_offered_pack_controllers_and_receiver_that_meet_nothing(self):
        for kind in VehicleKind:
            if kind.floats:
                continue
            found = laid(new_design(kind))
            self.assertEqual({one.kind for one in found.scene.bodies}, {"pack", "controller", "receiver"}, kind)
            for k, one in enumerate(found.scene.bodies):
                self.assertTrue(one.missing)
                for other in found.scene.bodies[k + 1 :]:
                    self.assertGreater(apart(one.box, other.box), 0.0, f"{kind}: {one.name}, {other.name}")
            told = [gap for gap in found.gaps if gap.code.startswith("body.")]
            self.assertEqual([(gap.code, gap.status) for gap in told], [("body.pack.told", Status.NOT_CHECKED)], kind)

    def test_a_proposal_is_as_heavy_as_its_part_and_as_large_as_its_mass_says(self):
        found = laid(of(BIKE, "B"))
        pack = found.scene.bodies[0]
        self.assertAlmostEqual(pack.mass_kg, found.resolved.pack_kg)
        self.assertAlmostEqual(pack.mass_kg / (pack.length * pack.width * pack.height), 1900.0, delta=60.0)

    def test_where_the_brief_says_the_pack_sits_it_is_proposed(self):
        bike = put(put(of(BIKE, "B"), "vehicle.pack_behind_front", known(0.9)), "vehicle.pack_height", known(0.7))
        found = laid(bike)
        self.assertAlmostEqual(found.scene.bodies[0].x, 1.32 - 0.9)
        self.assertAlmostEqual(found.scene.bodies[0].z, 0.7 - found.scene.tyre_m)

    def test_one_controller_told_leaves_the_other_proposed(self):
        found = laid(with_bodies(of(BOARD, "A"), body("controller")))
        names = [(one.name, bool(one.missing)) for one in found.scene.bodies if one.kind == "controller"]
        self.assertEqual(names, [("controller 1", False), ("controller 2", True)])

    def test_taking_a_proposal_up_keeps_it_where_it_is(self):
        before = laid(of(BIKE, "B"))
        layout = with_body(before.layout, before.scene.bodies, 0)
        after = laid(put(of(BIKE, "B"), "variant.layout", layout)).scene.bodies[0]
        self.assertEqual((after.missing, after.index), ("", 0))
        for mine, theirs in zip(after.box, before.scene.bodies[0].box, strict=True):
            np.testing.assert_allclose(mine, theirs, atol=1e-4)

    def test_odd_words_are_refused_by_name(self):
        for field in ("kind", "plugs", "out", "held"):
            with self.assertRaisesRegex(InputError, f"{field} is sideways"):
                body(**{field: "sideways"})
        with self.assertRaisesRegex(InputError, "kind is gear"):
            OnShaft(kind="gear")


class BodyGapTest(unittest.TestCase):
    def test_boxes_against_sampled_points(self):
        rng = random.Random(5)
        grid = np.linspace(0.0, 1.0, 9)
        for _ in range(60):
            boxes = []
            for _ in range(2):
                low = [rng.uniform(-0.2, 0.2) for _ in range(3)]
                boxes.append(tuple((a, a + rng.uniform(0.02, 0.15)) for a in low))
            points = [np.stack(np.meshgrid(*[a + (b - a) * grid for a, b in box]), -1).reshape(-1, 3) for box in boxes]
            # the nearest point of the other box to each sampled one
            clipped = np.stack([np.clip(points[0][:, k], *boxes[1][k]) for k in range(3)], -1)
            sampled = float(np.min(np.linalg.norm(points[0] - clipped, axis=1)))
            exact = apart(*boxes)
            if exact > 0.0:
                self.assertLessEqual(exact, sampled + 1e-12)
                self.assertGreater(exact, sampled - 0.03)
                self.assertAlmostEqual(exact, apart(boxes[1], boxes[0]), 12)
            else:
                self.assertTrue(all(a[0] < b[1] and b[0] < a[1] for a, b in zip(*boxes, strict=True)))

    def test_a_box_against_a_sampled_tyre(self):
        rng = random.Random(8)
        turn = np.linspace(0.0, 2.0 * math.pi, 2881)
        for _ in range(60):
            x0, z0 = rng.uniform(-0.3, 0.3), rng.uniform(-0.3, 0.3)
            box = ((x0, x0 + 0.1), (-0.05, 0.05), (z0, z0 + 0.07))
            radius = rng.uniform(0.03, 0.12)
            rim = np.stack([radius * np.cos(turn), radius * np.sin(turn)])
            away = np.hypot(rim[0] - np.clip(rim[0], *box[0]), rim[1] - np.clip(rim[1], *box[2]))
            exact = from_round(box, 0.0, 0.0, radius, (-0.02, 0.02))
            if exact > 0.0:
                self.assertAlmostEqual(exact, float(away.min()), 5)
            else:
                self.assertLess(float(away.min()), 1e-9 + radius)
            self.assertGreaterEqual(from_round(box, 0.0, 0.0, radius, (0.06, 0.08)), 0.01 - 1e-12, "beside it")

    def test_two_bodies_on_both_sides_of_what_is_wanted(self):
        for room, status in ((-0.001, Status.OVER), (0.004, Status.TIGHT), (0.0061, Status.CLEAR)):
            found = gaps(with_bodies(of(KART, "A"), body(x=0.6, name="one"), body(x=0.7 + room, name="two")))
            self.assertIs(found["body.one.two"].status, status, room)
            self.assertAlmostEqual(found["body.one.two"].nominal, room)

    def test_a_thing_in_a_box_is_measured_to_its_walls(self):
        box = body("box", x=0.6, size=(0.2, 0.2, 0.1), name="case")
        for x, status in ((0.6, Status.CLEAR), (0.645, Status.TIGHT), (0.65, Status.OVER)):
            found = gaps(with_bodies(of(KART, "A"), box, body(x=x, name="thing")))
            self.assertIs(found["body.thing.case"].status, status, x)

    def test_plugs_need_room_up_to_what_stands_there(self):
        for room, status in ((0.030, Status.OVER), (0.036, Status.TIGHT), (0.039, Status.CLEAR)):
            one = body(x=0.6, name="one", plugs="front")
            found = gaps(with_bodies(of(KART, "A"), one, body(x=0.7 + room, name="two")))["body.one.plugs"]
            self.assertIs(found.status, status, room)
            self.assertIn("two", found.swept)
        inside = body(x=0.63, name="one", plugs="front")
        found = gaps(with_bodies(of(KART, "A"), body("box", x=0.6, size=(0.2, 0.2, 0.1), name="case"), inside))["body.one.plugs"]
        self.assertIn("wall of the case", found.swept)

    def test_the_way_out_of_a_pack(self):
        pack = body("pack", x=0.6, z=0.05, out="top")
        over = body(x=0.6, z=0.12, name="seat")
        self.assertIs(gaps(with_bodies(of(KART, "A"), pack))["body.pack.out"].status, Status.CLEAR)
        blocked = gaps(with_bodies(of(KART, "A"), pack, over))["body.pack.out"]
        self.assertIs(blocked.status, Status.OVER)
        self.assertIn("seat", blocked.swept)
        closed = body("box", x=0.6, z=0.05, size=(0.2, 0.2, 0.1), name="case")
        self.assertIs(gaps(with_bodies(of(KART, "A"), closed, pack))["body.pack.out"].status, Status.OVER, "no lid there")
        lid = replace(closed, out="top")
        self.assertIs(gaps(with_bodies(of(KART, "A"), lid, pack))["body.pack.out"].status, Status.CLEAR)

    def test_ground_and_crest_under_a_case(self):
        board = of(BOARD, "B")
        for low, status in ((-0.034, Status.CLEAR), (-0.048, Status.TIGHT), (-0.065, Status.OVER)):
            found = gaps(with_bodies(board, body("pack", x=0.47, z=low + 0.02, size=(0.1, 0.1, 0.04)), flex=None))["body.pack.ground"]
            self.assertIs(found.status, status, low)
            tyre = laid(board).scene.tyre_m
            self.assertAlmostEqual(found.nominal, tyre + low - crest_rise_m(CREST_M, 0.94), 9)
        give = gaps(with_bodies(board, body("pack", x=0.47, z=-0.014, size=(0.1, 0.1, 0.04)), flex=known(0.004)))["body.pack.ground"]
        self.assertAlmostEqual(give.nominal, tyre - 0.034 - crest_rise_m(CREST_M, 0.94) - 0.008, 9)

    def test_a_stiff_case_under_a_deck_that_gives(self):
        board = put(of(BOARD, "B"), "vehicle.deck_height", known(0.135))
        under = 0.135 - 0.020 - laid(board).scene.tyre_m
        case = lambda room: body("box", x=0.47, z=under - room - 0.02, size=(0.5, 0.2, 0.04))
        self.assertIs(gaps(with_bodies(board, case(0.01), flex=None))["body.box.deck"].status, Status.NOT_CHECKED)
        for room, status in ((0.0005, Status.OVER), (0.0025, Status.TIGHT), (0.006, Status.CLEAR)):
            found = gaps(with_bodies(board, case(room), flex=known(0.004)))["body.box.deck"]
            self.assertIs(found.status, status, room)
            self.assertAlmostEqual(found.nominal, room - 0.004 * (0.5 / 0.94) ** 2, 9)

    def test_heels_and_crank_arms_on_both_sides(self):
        bike = put(of(BIKE, "C"), "variant.layout.tread", known(0.172, 0.001))
        for out, status in ((0.05, Status.CLEAR), (0.083, Status.OVER)):
            one = body(x=0.30, y=out - 0.02, z=0.02, size=(0.07, 0.04, 0.05))
            found = gaps(with_bodies(bike, one))
            self.assertIs(found["body.thing.heel"].status, status)
        one = body(x=0.40, y=0.045, z=0.02, size=(0.07, 0.04, 0.05))
        self.assertIs(gaps(with_bodies(bike, one))["body.thing.crank"].status, Status.CLEAR)
        self.assertIs(gaps(with_bodies(bike, replace(one, y=known(0.05))))["body.thing.crank"].status, Status.TIGHT)
        self.assertIs(gaps(with_bodies(bike, replace(one, y=known(0.06))))["body.thing.crank"].status, Status.OVER)

    def test_a_piece_of_the_frame_through_a_box_is_over(self):
        tube = Obstacle(name="tube", shape="line", x=0.5, z=0.0, x2=0.9, z2=0.0, radius=0.01, right=-0.5, left=0.5)
        found = gaps(with_bodies(of(KART, "A"), body(x=0.6), obstacles=(tube,)))["body.thing.frame.0"]
        self.assertIs(found.status, Status.OVER)
        beside = replace(tube, right=0.2, left=0.3)
        self.assertNotIn("body.thing.frame.0", gaps(with_bodies(of(KART, "A"), body(x=0.6), obstacles=(beside,))))

    def test_the_demo_shows_its_flaws_and_its_sound_variant_none(self):
        for design, variant, code in (
            (BOARD, "A", "body.pack.ground"),
            (BOARD, "A", "stack.axle.length"),
            (BOARD, "C", "body.pack.plugs"),
            (KART, "B", "body.pack.out"),
            (BIKE, "C", "body.controller.heel"),
        ):
            self.assertIn(gaps(of(design, variant))[code].status, (Status.OVER, Status.TIGHT), code)
        for design, variant in ((BOARD, "B"), (KART, "A"), (BIKE, "A")):
            bad = [gap.code for gap in laid(of(design, variant)).gaps if gap.status in (Status.OVER, Status.TIGHT)]
            self.assertEqual(bad, [], variant)


class CureTest(unittest.TestCase):
    def test_a_body_is_moved_by_what_lacks(self):
        design = with_bodies(of(KART, "A"), body("pack", x=0.6, held="strap", out="top"), body(x=0.697, name="two"))
        found = next(one for one in check(design, STOCK) if one.code == "layout.gap.body.pack.two")
        self.assertIs(found.status, Status.OVER)
        self.assertTrue(found.cures)
        for cure in found.cures:
            self.assertIs(gaps(_applied(design, cure.edit))["body.pack.two"].status, Status.CLEAR, cure.edit.label)

    def test_what_holds_the_pack_is_asked_for(self):
        for held, status in (("", Status.NOT_CHECKED), ("strap", Status.CLEAR)):
            found = next(
                one for one in judged_by(RULES, with_bodies(of(KART, "A"), body("pack", held=held)), STOCK) if one.code == "layout.held"
            )
            self.assertIs(found.status, status)


def _applied(design, edit):
    for path, value in edit.changes:
        design = put(design, path, value)
    return design


class LeadsTest(unittest.TestCase):
    def test_leads_go_along_across_and_up_with_their_bends(self):
        pack, box = body("pack", x=0.6, plugs="rear"), body("controller", x=0.3, y=0.1, plugs="front")
        found = laid(with_bodies(of(KART, "A"), pack, box))
        lead = next(one for one in found.leads if (one.begin, one.end) == ("pack", "controller"))
        self.assertAlmostEqual(lead.length_m, 1.1 * (0.2 + 0.1 + 2 * 0.03))

    def test_balance_is_that_of_all_masses(self):
        found = laid(with_bodies(of(BOARD, "B"), body("pack", x=0.5, y=0.05, mass=known(3.0))))
        parts = [(one.mass_kg, one.x, one.y) for one in found.scene.bodies]
        motor = found.resolved.motor_part.mass_kg
        total = sum(mass for mass, _, _ in parts) + 2 * motor
        self.assertAlmostEqual(found.balance.mass_kg, total)
        ahead = (sum(mass * x for mass, x, _ in parts) + 2 * motor * found.shafts[0].x) / total
        self.assertAlmostEqual(found.balance.x, ahead)
        self.assertAlmostEqual(found.balance.y, sum(mass * y for mass, _, y in parts) / total)


class StackTest(unittest.TestCase):
    def with_stack(self, **told):
        items = tuple(OnShaft(kind=kind, width=known(width, 0.0)) for kind, width in (("mount", 0.01), ("wheel", 0.05), ("nut", 0.006)))
        return put(of(KART, "A"), "variant.layout", Layout(stacks=(Stack(items=items, **told),)))

    def test_thread_on_both_sides(self):
        for long, status in ((0.065, Status.OVER), (0.067, Status.TIGHT), (0.069, Status.CLEAR)):
            self.assertIs(gaps(self.with_stack(length=known(long, 0.001)))["stack.axle.length"].status, status, long)
        self.assertIs(gaps(self.with_stack())["stack.axle.length"].status, Status.NOT_CHECKED)
        for thread, status in ((0.007, Status.OVER), (0.012, Status.CLEAR)):
            found = gaps(self.with_stack(length=known(0.069), thread=known(thread)))["stack.axle.thread"]
            self.assertIs(found.status, status, thread)

    def test_width_between_dropouts_both_ways(self):
        for between, status in ((0.058, Status.OVER), (0.06, Status.CLEAR), (0.063, Status.OVER)):
            self.assertIs(gaps(self.with_stack(between=known(between)))["stack.axle.between"].status, status, between)

    def test_proposed_stacks_follow_belt_and_plate(self):
        motor = next(one for one in laid(of(BOARD, "A")).stacks if one.stack.shaft == "motor")
        self.assertEqual([piece.kind for piece in motor.pieces], ["mount", "spacer", "pulley"])
        self.assertAlmostEqual(motor.long_m, 0.012 + 0.018 + 0.015 + 0.0015)
        shafts = [one.stack.shaft for one in laid(of(BIKE, "A")).stacks]
        self.assertEqual(shafts, ["motor", "jackshaft", "axle"])

    def test_whirl_by_hand_and_on_both_sides(self):
        def bike(diameter, bearings, beyond):
            told = Stack(shaft="jackshaft", diameter=known(diameter), bearings=known(bearings), beyond=known(beyond))
            return put(of(BIKE, "A"), "variant.layout.stacks", (told,))

        found = laid(bike(0.012, 0.05, 0.02)).whirls[0]
        mass = 0.0
        run = laid(bike(0.012, 0.05, 0.02))
        for one, role in ((run.stages[0], "driven"), (run.stages[1], "driver")):
            teeth = one.made.choice.driven_teeth if role == "driven" else one.made.choice.driver_teeth
            mass += next(part.mass_kg for part in toothed(STOCK, one.made.family.id, role) if part.teeth == teeth)
        stiff = SOFT * overhung_n_m(0.012, 0.02, 0.05)
        self.assertAlmostEqual(found.critical_rpm / together_rpm(bare_rpm(0.012, 0.05), critical_rpm(stiff, mass)), 1.0, 9)
        self.assertAlmostEqual(found.turns_rpm, run.stages[0].driver_rpm * 14 / 72)
        for diameter, bearings, status in ((0.012, 0.05, Status.CLEAR), (0.003, 0.9, Status.OVER)):
            told = next(one for one in judged_by(RULES, bike(diameter, bearings, 0.0), STOCK) if one.code == "layout.whirl")
            self.assertIs(told.status, status)


class BoreTest(unittest.TestCase):
    def told(self, bore):
        chosen = KART.variant().stages[0]
        fits = lambda part: part.profile == chosen.profile and part.teeth == chosen.driver_teeth and part.role != "driven"
        rows = {part.id: replace(part, bore_mm=bore) if fits(part) else part for part in STOCK.rows(ToothedPart).values()}
        stock = catalogue.Catalogue(parts={**STOCK.parts, ToothedPart: rows})
        return next(one for one in judged_by(RULES, of(KART, "A"), stock) if one.code == "layout.bore")

    def test_fits_is_bored_out_sleeved_or_refused(self):
        shaft = STOCK.get(MotorPart, KART.variants[0].motor.part).shaft_mm
        for bore, status, words in (
            (shaft, Status.CLEAR, "fits"),
            (shaft - 2.0, Status.CLEAR, "bore it out"),
            (shaft + 1.0, Status.OVER, "too thin for a sleeve"),
            (shaft + 4.0, Status.TIGHT, "keyed sleeve of 2 mm"),
        ):
            found = self.told(bore)
            self.assertIs(found.status, status, bore)
            self.assertIn(words, found.title)

    def test_too_little_metal_under_the_teeth(self):
        stage = replace(KART.variants[0].stages[0], profile="04C", driver_teeth=11)
        thick = put(of(KART, "A"), "variant.stages", (stage,))
        found = next(one for one in judged_by(RULES, thick, STOCK) if one.code == "layout.bore")
        self.assertIs(found.status, Status.OVER)
        self.assertIn("of metal would stay", found.title)


class MeshTest(unittest.TestCase):
    """Stages without a loop."""

    def with_stage(self, design, centre=None, module=None, **stage):
        design = put(design, "variant.stages", (StageChoice(**stage),))
        told = StageLayout(module=known(module)) if module is not None else StageLayout()
        spot = Spot(x=known(centre), z=known(0.0)) if centre is not None else None
        return put(design, "variant.layout", Layout(motor=spot, stages=(told,)))

    def cured(self, design, code):
        return next(one for one in check(design, STOCK) if one.code.startswith(code))

    def told(self, design, code):
        return next(one for one in judged_by(RULES, design, STOCK) if one.code.startswith(code))

    def test_contact_ratio_of_a_sampled_line_of_action(self):
        # textbook: 20 and 40 teeth of 20 degrees without shift carry 1.63 on average
        self.assertAlmostEqual(contact_ratio(0.002, 20, 40, pair_centre_m(0.002, 20, 40)), 1.635, 2)
        module, one, other = 0.002, 18, 60
        centre = pair_centre_m(module, one, other)
        bases = [0.5 * module * z * math.cos(math.radians(20.0)) for z in (one, other)]
        # contact points lie on the common tangent of both base circles, inside both tip circles
        reach = np.linspace(-0.02, 0.02, 40001)
        pitch = 0.5 * module * one * math.sin(math.radians(20.0))
        near = np.hypot(bases[0], pitch + reach) <= 0.5 * module * (one + 2)
        far = np.hypot(bases[1], 0.5 * module * other * math.sin(math.radians(20.0)) - reach) <= 0.5 * module * (other + 2)
        long = float(np.ptp(reach[near & far]))
        self.assertAlmostEqual(contact_ratio(module, one, other, centre), long / (math.pi * module * math.cos(math.radians(20.0))), 3)

    def test_gears_jam_mesh_or_hardly_mesh(self):
        gear = {"kind": ReductionKind.GEAR, "driver_teeth": 20, "driven_teeth": 60, "module": 0.002}
        for centre, status, words in (
            (0.0795, Status.OVER, "jam"),
            (0.080, Status.CLEAR, "teeth carry"),
            (0.0808, Status.TIGHT, "teeth carry"),
            (0.0815, Status.OVER, "hardly mesh"),
        ):
            found = self.told(self.with_stage(of(KART, "B"), centre, **gear), "layout.gears")
            self.assertIs(found.status, status, centre)
            self.assertIn(words, found.title)
        few = self.with_stage(of(KART, "B"), 0.075, **{**gear, "driver_teeth": 15})
        self.assertIn("cut under", self.told(few, "layout.gears").title)
        self.assertIs(
            self.told(self.with_stage(of(KART, "B"), 0.08, **{**gear, "module": None}), "layout.gears").status, Status.NOT_CHECKED
        )

    def test_a_cure_moves_the_driver_to_where_they_mesh(self):
        design = self.with_stage(of(KART, "B"), 0.0795, kind=ReductionKind.GEAR, driver_teeth=20, driven_teeth=60, module=0.002)
        cure = self.cured(design, "layout.gears").cures[0]
        self.assertAlmostEqual(laid(_applied(design, cure.edit)).meshes[0].off_m, 0.0, 6)

    def test_planets_go_in_or_not(self):
        # the handbook's a4, and each of its three conditions broken
        self.assertTrue(planets(12, 60, 3).fits)
        self.assertAlmostEqual(planet_rad_s(12, 60, 600.0), -250.0)
        for sun, ring, count, words in ((12, 61, 3, "no whole planet"), (12, 60, 5, "not stand evenly"), (12, 60, 6, "meet each other")):
            self.assertIn(words, planets(sun, ring, count).fault)
        self.assertIn("not larger", planets(60, 60, 3).fault)
        odd = self.with_stage(of(KART, "B"), kind=ReductionKind.PLANETARY, driver_teeth=12, driven_teeth=61)
        self.assertIs(self.told(odd, "layout.gears").status, Status.OVER)

    def test_a_roller_on_its_tyre(self):
        roller = {"kind": ReductionKind.FRICTION, "roller_diameter": 0.06}
        lies = laid(self.with_stage(of(BIKE, "C"), **roller))
        self.assertEqual([round(grip, 2) for grip in lies.meshes[0].grip_n], [105.0, 67.5, 37.5])  # the handbook's a6, and dusty
        for off, status in ((0.0, Status.CLEAR), (0.003, Status.OVER), (-0.01, Status.TIGHT)):
            design = self.with_stage(of(BIKE, "C"), lies.meshes[0].fitting_m + off, **roller)
            self.assertIs(self.told(design, "layout.roller").status, status)

    def test_they_stand_in_the_terminals_stages_too(self):
        two = (
            StageChoice(kind=ReductionKind.PLANETARY, driver_teeth=12, driven_teeth=60),
            StageChoice(kind=ReductionKind.BELT, profile="5M", driver_teeth=20, driven_teeth=40, width_mm=15.0),
        )
        made = layout_data(laid(put(put(of(KART, "B"), "variant.layout", None), "variant.stages", two)))["stages"]
        self.assertEqual([stage["kind"] for stage in made], ["planetary", "belt"])
        self.assertEqual(set(made[1]) - set(made[0]), set())
        self.assertEqual(made[0]["planets"], {"count": 3, "teeth": 24, "fault": None})


class SprungTest(unittest.TestCase):
    def test_a_sprung_idler_and_a_braking_motor_do_not_go_together(self):
        idler = Idler(x=known(0.06), z=known(-0.05), diameter=known(0.04), sprung=True)
        kart = put(of(KART, "A"), "variant.layout", Layout(stages=(StageLayout(idlers=(idler,)),)))
        told = lambda design: next((one for one in judged_by(RULES, design, STOCK) if one.code == "layout.sprung"), None)
        self.assertIs(told(put(kart, "variant.controller.regen_motor_current_a", 40.0)).status, Status.OVER)
        self.assertIs(told(put(kart, "variant.controller.regen_motor_current_a", 0.0)).status, Status.CLEAR)
        fixed = put(kart, "variant.layout", Layout(stages=(StageLayout(idlers=(replace(idler, sprung=False),)),)))
        self.assertIsNone(told(fixed))


class SweepTest(unittest.TestCase):
    def test_each_vehicle_has_its_own_ways_to_move(self):
        self.assertEqual([one.code for one in sweeps(laid(of(BOARD, "B")).scene)], ["truck"])
        self.assertEqual([one.code for one in sweeps(laid(of(BIKE, "A")).scene)], ["lean"])
        self.assertEqual(sweeps(laid(of(KART, "A")).scene), [])

    def test_the_least_of_a_sweep_is_what_the_gap_says(self):
        found = laid(of(BOARD, "B"))
        sweep = sweeps(found.scene)[0]
        gap = next(one for one in found.gaps if one.code == "obstacle.0.can")
        self.assertAlmostEqual(sweep.least()[1].nominal, gap.nominal, 6)
        self.assertGreater(sweep.at(0.0)[0].nominal, gap.nominal)

    def test_the_pedal_touches_where_the_handbook_says(self):
        bike = put(of(BIKE, "A"), "variant.layout.crank", Spot(x=known(0.43), z=known(0.285 - laid(of(BIKE, "A")).scene.tyre_m)))
        bike = put(bike, "variant.layout.tread", known(2 * (0.190 - 0.107)))
        scene = laid(bike).scene
        at = pedal_lean_rad(0.285, 0.170, 0.0, 0.190)
        height = next(here.nominal for here in leaning(scene, at) if here.between == "pedal to ground")
        self.assertAlmostEqual(height, 0.0, 9)

    def test_travel_moves_the_wheel_to_the_can(self):
        arm = Layout(motor=Spot(x=known(0.30), z=known(0.20)), pivot=Spot(x=known(0.42), z=known(0.02)), travel=known(0.08))
        bike = put(new_design(VehicleKind.SUSPENDED_BIKE), "variant.motor.part", BIKE.variants[0].motor.part)
        found = laid(put(put(bike, "variant.stages", BIKE.variants[0].stages[1:]), "variant.layout", arm))
        sweep = next(one for one in sweeps(found.scene) if one.code == "travel")
        self.assertAlmostEqual(sweep.most, 0.08)
        self.assertLess(sweep.at(0.08)[0].nominal, sweep.at(0.0)[0].nominal)


if __name__ == "__main__":
    unittest.main()
