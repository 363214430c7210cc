"""What carries a propeller: the lean of its transom, cans in the water, legs and shaft kits; how sure a boat's figures are."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.boats import NO_WHEELS, new_boat
from wattagon.design.carried import with_carrier
from wattagon.design.fitted import fitted
from wattagon.design.parts import CarrierPart, MotorPart, PropellerPart
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Cooling, Place, ReductionKind, StageChoice, VehicleKind
from wattagon.errors import InputError
from wattagon.exchange.set_text import set_from_text
from wattagon.physics.water.boat import scaled, screw_of
from wattagon.physics.water.limits import wet_rotor_w
from wattagon.physics.water.propeller import Blades, open_water
from wattagon.study.bands import band, wide_inputs
from wattagon.study.drive.measure_first import HULL, measure_first
from wattagon.study.drive.study import point_at, study_drive
from wattagon.study.drive.water import boat_in, can_w, prop_at
from wattagon.study.findings.all import check, find
from wattagon.study.findings.status import Status
from wattagon.study.layout.screw import blade, propeller_solid
from wattagon.study.resolve import resolve
from wattagon.study.resolve.bill import bill_of_parts

STOCK = catalogue.load()
PUNT = file.read(DEMO / "garganey.json").design
WEDGE, ANGLE = "variant.propeller.wedge", "vehicle.hull.transom_angle"


def measured(degrees):
    return Quantity(value=math.radians(degrees), known=Known.MEASURED)


def status(design, code):
    found = {f.code: f for f in find(design, STOCK, study_drive(design, STOCK))}
    return found[code].status if code in found else None


class TransomTest(unittest.TestCase):
    def test_three_degrees_off_on_both_sides(self):
        bare = put(PUNT, WEDGE, None)
        for degrees, expected in ((2.9, Status.CLEAR), (3.1, Status.TIGHT), (-2.9, Status.CLEAR), (-3.1, Status.TIGHT)):
            self.assertIs(status(put(bare, ANGLE, measured(degrees)), "prop.lean"), expected, degrees)
        self.assertIs(status(put(bare, ANGLE, None), "prop.lean"), Status.NOT_CHECKED)

    def test_a_leg_is_made_for_twelve_degrees_and_a_tail_is_not_clamped(self):
        leg = put(put(put(PUNT, WEDGE, None), "variant.propeller.place", Place.LEG), ANGLE, measured(12.0))
        self.assertIs(status(leg, "prop.lean"), Status.CLEAR)
        self.assertIs(status(put(leg, ANGLE, measured(4.0)), "prop.lean"), Status.TIGHT)
        self.assertIs(status(put(put(leg, ANGLE, measured(4.0)), WEDGE, measured(-8.0)), "prop.lean"), Status.CLEAR)
        self.assertIsNone(status(put(leg, "variant.propeller.place", Place.SHAFT), "prop.lean"))

    def test_its_cure_is_the_wedge_that_levels_it(self):
        tilted = put(PUNT, WEDGE, None)
        found = next(f for f in check(tilted, STOCK) if f.code == "prop.lean")
        self.assertTrue(found.cures)
        cured = apply(tilted, found.cures[0].edit)
        self.assertAlmostEqual(cured.variant().propeller.wedge.value, PUNT.vehicle.hull.transom_angle.value)
        self.assertIs(status(cured, "prop.lean"), Status.CLEAR)

    def test_a_shaft_off_level_pushes_less_forwards(self):
        tilted = put(put(PUNT, WEDGE, None), ANGLE, measured(15.0))
        level = put(tilted, WEDGE, measured(15.0))
        pulls = [float(study_drive(design, STOCK).docks["full"].pull_n) for design in (tilted, level)]
        self.assertAlmostEqual(pulls[0] / pulls[1], math.cos(math.radians(15.0)), 4)
        given = put(tilted, "variant.propeller.tilt", measured(0.0))  # what was measured of the shaft itself comes first
        self.assertAlmostEqual(float(boat_in(resolve(given, STOCK)).tilt_cos), 1.0)


class CanTest(unittest.TestCase):
    def test_the_water_takes_what_the_handbook_says_at_any_turns(self):
        wet = resolve(put(PUNT, "variant.propeller.flooded", True), STOCK)
        motor = STOCK.get(MotorPart, PUNT.variant().motor.part)
        for rpm in (600.0, 1500.0):
            expected = wet_rotor_w(motor.can_mm / 2e3, motor.length_mm / 1e3, rpm * math.tau / 60.0, float(boat_in(wet).kg_m3))
            self.assertAlmostEqual(can_w(wet, rpm / 60.0) / float(expected), 1.0, 9)

    def test_behind_a_gear_it_goes_with_the_cube_of_the_ratio(self):
        stage = StageChoice(kind=ReductionKind.GEAR, driver_teeth=15, driven_teeth=30)
        direct = put(PUNT, "variant.propeller.flooded", True)
        geared = put(direct, "variant.stages", (stage,))
        self.assertAlmostEqual(can_w(resolve(geared, STOCK), 10.0) / can_w(resolve(direct, STOCK), 10.0), 8.0, 9)

    def test_power_is_in_balance_and_the_propeller_itself_stays_as_it_is(self):
        dry, wet = (resolve(put(PUNT, "variant.propeller.flooded", on), STOCK) for on in (False, True))
        a, b = (point_at(one, speed_m_s=1.8) for one in (dry, wet))
        self.assertLess(b.balance_error, 1e-9)
        self.assertGreater(b.shaft_w, a.shaft_w)
        one, other = prop_at(dry, 1.8, a.thrust_n), prop_at(wet, 1.8, b.thrust_n)
        self.assertAlmostEqual(one.efficiency, other.efficiency, 3)
        self.assertAlmostEqual(b.shaft_w - a.shaft_w, can_w(wet, other.rpm / 60.0), delta=0.02 * (b.shaft_w - a.shaft_w))

    def test_a_fast_can_is_told_and_a_sealed_one_is_not(self):
        wet = put(PUNT, "variant.propeller.flooded", True)
        self.assertIs(status(wet, "motor.can"), Status.CLEAR)
        stage = StageChoice(kind=ReductionKind.GEAR, driver_teeth=15, driven_teeth=30)
        self.assertIs(status(put(wet, "variant.stages", (stage,)), "motor.can"), Status.TIGHT)
        self.assertIsNone(status(PUNT, "motor.can"))
        self.assertIsNone(status(put(wet, "variant.propeller.place", Place.LONG_TAIL), "motor.can"))


class CarrierTest(unittest.TestCase):
    def test_stock_is_consistent(self):
        parts = STOCK.all(CarrierPart)
        self.assertFalse(STOCK.bad_rows)
        self.assertEqual({part.kind for part in parts}, {"leg", "tube", "tail"})
        for part in parts:
            self.assertLess(part.span_m, part.length_m)
            steel = math.pi / 4.0 * part.shaft_m**2 * part.length_m * 7850.0
            self.assertGreater(part.mass_kg, steel, part.id)  # at least its shaft
            self.assertEqual(part.kind == "leg", part.driver_teeth > 0)

    def test_a_leg_brings_its_gear_pump_and_measures_once(self):
        leg, other = STOCK.get(CarrierPart, "leg-short-12-25"), STOCK.get(CarrierPart, "leg-long-13-28")
        taken = apply(PUNT, with_carrier(PUNT.variant(), leg))
        choice, stages = taken.variant().propeller, taken.variant().stages
        self.assertEqual((choice.place, choice.cooling, choice.carrier), (Place.LEG, Cooling.PUMP, leg.id))
        self.assertEqual([(s.driver_teeth, s.driven_teeth) for s in stages], [(12, 25)])
        again = apply(taken, with_carrier(taken.variant(), other)).variant()
        self.assertEqual([(s.driver_teeth, s.driven_teeth) for s in again.stages], [(13, 28)])
        self.assertEqual(again.propeller.shaft_diameter.value, other.shaft_m)
        tube = apply(taken, with_carrier(taken.variant(), STOCK.get(CarrierPart, "tube-10-700"))).variant()
        self.assertEqual((tube.propeller.place, tube.propeller.cooling, tube.stages), (Place.SHAFT, Cooling.PLACED, ()))

    def test_it_is_weighed_and_paid_for(self):
        tube = STOCK.get(CarrierPart, "tube-8-500")
        taken = put(PUNT, "variant.propeller.carrier", tube.id)
        before, after = resolve(PUNT, STOCK), resolve(taken, STOCK)
        self.assertAlmostEqual(after.drive_mass_kg - before.drive_mass_kg, tube.mass_kg)
        self.assertAlmostEqual(after.full_price - before.full_price, tube.price)
        self.assertIn(tube.name, [row[1] for row in bill_of_parts(taken.variant(), STOCK)])

    def test_the_gear_of_a_leg_on_both_sides(self):
        leg = STOCK.get(CarrierPart, "leg-light-14-14")
        light = apply(PUNT, with_carrier(PUNT.variant(), leg))

        def with_torque(wanted):
            """Motor amps at which the propeller held fast takes a torque."""
            low, high = 5.0, 400.0
            for _ in range(30):
                amps = 0.5 * (low + high)
                free = put(put(light, "variant.controller.pack_current_a", 900.0), "variant.controller.motor_current_a", amps)
                pull = study_drive(free, STOCK).docks["full"].pull_n
                peak = prop_at(resolve(free, STOCK), 0.0, pull).torque_nm
                low, high = (low, amps) if peak > wanted else (amps, high)
            return free

        light = put(light, "variant.propeller.part", "prop-250x150-3-moulded")
        for share, expected in ((0.78, Status.CLEAR), (0.82, Status.TIGHT), (0.98, Status.TIGHT), (1.02, Status.OVER)):
            self.assertIs(status(with_torque(share * leg.gear_nm), "shaft.leg"), expected, share)
        self.assertIs(status(put(light, "variant.propeller.carrier", ""), "shaft.leg"), Status.NOT_CHECKED)


class SizeTest(unittest.TestCase):
    def test_a_size_is_typed_as_it_stands_on_the_hub(self):
        made = set_from_text(PUNT, "variant.propeller.size=8x6")
        part = fitted(STOCK.get(PropellerPart, made.variant().propeller.part), made.variant().propeller)
        self.assertAlmostEqual(part.diameter_m, 8 * 0.0254)
        self.assertAlmostEqual(part.pitch_m, 6 * 0.0254)
        screw = boat_in(resolve(made, STOCK)).screw
        self.assertAlmostEqual(float(screw.diameter_m), 8 * 0.0254)

    def test_findings_judge_the_propeller_as_it_was_measured(self):
        made = set_from_text(PUNT, "variant.propeller.size=245 x 180 mm")
        self.assertIs(status(PUNT, "prop.depth"), Status.CLEAR)
        self.assertIs(status(made, "prop.depth"), Status.TIGHT)  # 240 mm down


class FileTest(unittest.TestCase):
    def test_a_boat_has_no_wheels_in_its_file_unless_they_were_measured(self):
        boat = new_boat(VehicleKind.CANOE, "Canoe")
        text = file.to_json(boat)
        for name in NO_WHEELS:
            self.assertNotIn(f'"{name}"', text)
        self.assertEqual(file.from_json(text), boat)
        taken = put(boat, "vehicle.tyre_diameter", Quantity(value=0.3, known=Known.MEASURED))
        self.assertEqual(file.from_json(file.to_json(taken)), taken)
        wheels = file.to_json(file.read(DEMO / "dunlin.json").design)
        self.assertIn('"tyre_diameter"', wheels)


class SolidTest(unittest.TestCase):
    def test_a_propeller_is_watertight_and_as_large_as_it_should_be(self):
        made = propeller_solid(PUNT, STOCK)
        edges: dict[tuple[bytes, bytes], int] = {}
        for triangle in made.triangles.round(6):
            for k in range(3):
                pair = triangle[k].tobytes(), triangle[(k + 1) % 3].tobytes()
                if pair[0] != pair[1]:
                    edges[pair] = edges.get(pair, 0) + 1
        self.assertTrue(all(edges.get((b, a), 0) == many for (a, b), many in edges.items()))
        radius = np.hypot(made.triangles[:, :, 0], made.triangles[:, :, 1])
        self.assertAlmostEqual(float(radius.max()), 0.985 * 100.0, delta=0.6)  # 200 mm across, cut short where the chord ends
        self.assertAlmostEqual(float(radius.min()), 5.1, delta=0.05)  # its bore for a shaft of 10 mm
        volume = float(np.sum(np.einsum("ij,ij->i", made.triangles[:, 0], np.cross(made.triangles[:, 1], made.triangles[:, 2]))) / 6.0)
        self.assertGreater(volume, 1e4)

    def test_its_pitch_is_that_of_its_helix(self):
        shape = Blades(diameter_m=0.24, pitch_m=0.18, blades=3, area_ratio=0.45, hub_ratio=0.2)
        points = blade(shape).reshape(-1, 3)
        at = 0.7 * 120.0
        near = points[np.abs(np.hypot(points[:, 0], points[:, 1]) - at) < 2.0]
        turn, along = np.arctan2(near[:, 1], near[:, 0]), near[:, 2]
        slope = np.polyfit(turn, along, 1)[0] * 2.0 * math.pi
        self.assertAlmostEqual(slope / 180.0, 1.0, delta=0.05)

    def test_a_hub_too_thin_for_its_shaft_is_refused(self):
        thick = put(PUNT, "variant.propeller.shaft_diameter", Quantity(value=0.036, known=Known.MEASURED))
        with self.assertRaises(InputError):
            propeller_solid(thick, STOCK)


class SureTest(unittest.TestCase):
    def test_tables_with_factors_are_those_of_factored_coefficients(self):
        shape = Blades(diameter_m=0.2, pitch_m=0.14, blades=3, area_ratio=0.4, hub_ratio=0.2)
        water = open_water(shape, 0.0115)
        quick, made = scaled(screw_of(0.2, 0.14, water), 1.15, 0.9), screw_of(0.2, 0.14, water.scaled(1.15, 0.9))
        shares = np.linspace(0.0, 1.0, 57)
        for table in ("by_thrust", "by_torque"):
            a, b = getattr(quick, table).at(shares), getattr(made, table).at(shares)
            self.assertLess(float(np.max(np.abs(a - b))), 3e-3)
        advance = np.linspace(0.0, 0.7, 31)
        np.testing.assert_allclose(quick.thrust.at(advance), made.thrust.at(advance), atol=1e-6)

    def test_a_dock_test_narrows_the_propeller_and_a_tow_test_the_hull(self):
        plain = put(PUNT, "vehicle.hull.tow", ())
        wide = {w.path.rsplit(".", 1)[-1]: w.width for w in wide_inputs(resolve(plain, STOCK, note=True).inputs)}
        self.assertNotIn("resistance_model", wide)  # a floating hull's is in its factors
        self.assertAlmostEqual(wide["thrust_model"], 0.20)
        self.assertNotIn("pitch_m", wide)
        tried = put(PUNT, "variant.propeller.thrust_factor", Quantity(value=0.93, known=Known.FITTED, tolerance=0.01))
        wide = {w.path.rsplit(".", 1)[-1]: w.width for w in wide_inputs(resolve(tried, STOCK, note=True).inputs)}
        self.assertAlmostEqual(wide["resistance_model"], 0.10)
        self.assertAlmostEqual(wide["thrust_model"], 0.10)
        self.assertAlmostEqual(wide["thrust_factor"], 0.01)
        skiff = {w.path: w.width for w in wide_inputs(resolve(new_boat(VehicleKind.PLANING_SKIFF, "S"), STOCK, note=True).inputs)}
        self.assertAlmostEqual(skiff["vehicle.hull.resistance_model"], 0.15)

    def test_bands_hold_the_figure_and_shrink_with_what_is_known(self):
        before = band(PUNT, STOCK, samples=64)
        self.assertEqual(before.refused, 0)
        for one in before.bands:
            self.assertLessEqual(one.low, one.value + 1e-9)
            self.assertGreaterEqual(one.high, one.value - 1e-9)
        self.assertGreater(before.bands[0].high - before.bands[0].low, 0.03)
        known = {"diameter_m": Quantity(value=0.2, known=Known.MEASURED), "pitch_m": Quantity(value=0.11, known=Known.MEASURED)}
        choice = replace(PUNT.variant().propeller, overrides=known, thrust_factor=Quantity(value=1.0, known=Known.FITTED, tolerance=0.01))
        after = band(put(PUNT, "variant.propeller", choice), STOCK, samples=64)
        dock = next(k for k, goal in enumerate(PUNT.brief.goals) if goal.kind.value == "bollard")
        spread = lambda bands: bands.bands[dock].high - bands.bands[dock].low
        self.assertLess(spread(after), 0.6 * spread(before))

    def test_hull_measures_are_among_what_to_measure_first(self):
        from wattagon.exchange.units import say
        from wattagon.study.drive.follow import follow
        from wattagon.study.studies import Task

        boat = new_boat(VehicleKind.PLANING_SKIFF, "Skiff")
        found = measure_first(Task(design=boat, stock=STOCK, say=say, results={"drive": follow(boat, STOCK, say)}))
        self.assertTrue({f"vehicle.{name}" for name in HULL} & {weight.path for weight in found})


if __name__ == "__main__":
    unittest.main()
