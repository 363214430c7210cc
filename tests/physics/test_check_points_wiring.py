"""Check points of the handbook's chapter on wiring and of cell links; the ladder against the fine radial model; bricks."""

import math
import random
import unittest

import numpy as np

from tests.physics.radial import warmed_c
from wattagon.physics import bricks
from wattagon.physics.wiring import board, box, brake, bus, contact, copper, fuse, precharge, short, strip, warmth
from wattagon.physics.wiring.warmth import Around


def gauge(number, outer_mm):
    area = copper.gauge_area_m2(number)
    return copper.Cable(area_m2=area, outer_m=outer_mm * 1e-3, ohm_m=copper.ohm_of_area(area))


G8, G10 = gauge(8, 6.6), gauge(10, 5.5)
WARM = Around(air_c=40.0)
K100 = 60.0 / (math.tau * 100.0)


class Points(unittest.TestCase):
    def near(self, got, wanted, share=6e-4):
        self.assertLess(abs(got / wanted - 1.0), share, f"{got} is not {wanted}")

    def nears(self, pairs, share=6e-4):
        for got, wanted in pairs:
            self.near(got, wanted, share)


class CopperTest(Points):
    def test_a(self):
        self.nears(
            (
                (1e6 * copper.rho_ohm_m(90.0), 0.02198),
                (1e3 * copper.gauge_diameter_m(10), 2.588),
                (1e6 * copper.gauge_area_m2(10), 5.261),
                (copper.gauge_of(10e-6), 7.230),
                (1e3 * G8.ohm_m, 2.143),
                (1e3 * G8.ohm_at(80.0), 2.649),
                (100.0 * 2 * 0.8 * G8.ohm_at(60.0), 0.3969),
                (100.0**2 * 2 * 0.8 * G8.ohm_at(60.0), 39.69),
                (1e6 * copper.area_for_drop_m2(150.0, 1.0, 2, 1.2, 60.0), 7.470),
                (1e6 * copper.area_of_ohm(1.95e-3), 9.195),
                (copper.temperature_of(2.600, 2.143, 22.0), 76.69),
                (copper.skin_factor(6.033e-3, 1500.0), 1.102),
                (100.0 * copper.range_lost(6.0, 8.0, 15.0), 1.370),
            )
        )

    def test_skin_of_thick_leads_at_high_speed(self):
        for number, wanted in ((8, 1.02), (6, 1.05), (4, 1.12), (2, 1.27)):
            area = copper.gauge_area_m2(number)
            self.assertAlmostEqual(copper.skin_factor(math.sqrt(4 * area / (0.74 * math.pi)), 1667.0), wanted, delta=0.012)


class WarmthTest(Points):
    def test_b(self):
        skin = warmth.surface_c(G8, Around(), 90.0)
        copper_c = warmth.copper_c(G8, WARM, 60.0)
        pair = Around(bundle=2)
        amps, inside = warmth.cased_ampacity_a(G8, pair, 1.2, 1.2, 30.0)
        iec = copper.Cable(area_m2=copper.area_of_ohm(1.95e-3), outer_m=6.5e-3, ohm_m=1.95e-3)
        self.nears(
            (
                (warmth.film_w_m2k(6.6e-3, 85.0, 25.0), 11.38),
                (warmth.insulation_km_w(G8), 0.4005),
                (skin, 81.39),
                (warmth.leaves_w_m(G8, Around(), skin), 21.50),
                (warmth.ampacity_a(G8, Around()), 88.69),
                (copper_c, 70.31),
                (warmth.surface_c(G8, WARM, copper_c), 66.61),
                (warmth.ampacity_a(G8, Around(height_m=2000.0)), 86.47),
                (warmth.ampacity_a(G8, Around(wind_m_s=3.0)), 152.7),
                (warmth.ampacity_a(G8, pair), 77.96),
                (warmth.ampacity_a(G8, Around(bundle=3)), 69.51),
                (amps, 44.08),
                (inside, 68.65),
                (warmth.cased_c(G8, pair, 40.0, 1.2, 1.2, 30.0)[0], 85.00),
                (warmth.ampacity_a(iec, Around()), 93.36),
            )
        )

    def test_sun_and_wrap_take_amps_and_too_much_has_no_steady_state(self):
        free = warmth.ampacity_a(G8, WARM)
        self.assertLess(warmth.ampacity_a(G8, Around(air_c=40.0, sun_w_m2=900.0)), 0.97 * free)
        self.assertLess(warmth.ampacity_a(G8, Around(air_c=40.0, wrap_m=0.004)), 0.95 * free)
        self.assertEqual(warmth.copper_c(G8, WARM, 900.0), math.inf)
        self.assertEqual(warmth.ampacity_a(G8, Around(air_c=95.0)), 0.0)

    def test_temperature_and_ampacity_are_each_others_inverse(self):
        chance = random.Random(4)
        for _ in range(40):
            cable = gauge(chance.choice((20, 14, 8, 2)), 14.0)
            around = Around(air_c=chance.uniform(-10, 60), bundle=chance.choice((1, 2, 3)), wind_m_s=chance.choice((0.0, 4.0)))
            limit = around.air_c + chance.uniform(10, 80)
            self.near(warmth.copper_c(cable, around, warmth.ampacity_a(cable, around, limit)) + 273.15, limit + 273.15, 1e-5)


class ShortTest(Points):
    def test_c(self):
        ladder = short.ladder(G8, Around())
        tau = short.time_constant_s(G10, WARM)
        self.nears(
            (
                (short.iec_constant(), 225.6),
                (short.copper_only_a(G8.area_m2, 1.0, 25.0, 90.0), 892.5),
                (short.wormer_share(G8), 0.4096),
                (short.capacity_j_mk(G8, Around(), 90.0), 61.69),
                (warmth.secant_w_mk(G8, Around(), 90.0), 0.3308),
                (short.time_constant_s(G8, Around()), 186.5),
                (ladder.bears_a(1.0, 90.0), 966.9),
                (ladder.bears_a(10.0, 90.0), 359.8),
                (ladder.bears_a(60.0, 90.0), 171.8),
                (short.first_order_a(G8, Around(), 10.0, 90.0), 409.7),
                (ladder.bears_a(10.0, 90.0, 60.0), 278.8),
                (short.ladder(G10, Around()).time_to_s(200.0, 90.0), 15.44),
                (warmth.ampacity_a(G10, WARM), 57.66),
                (tau, 145.2),
                (short.endless_a(150.0, 5.0, 25.0, 55.0, tau), 53.03),
                (math.sqrt((600 * 30**2 + 300 * 85**2 + 2700 * 30**2) / 3600), 37.78),
                (short.equivalent_a(np.array([600.0, 300.0, 2700.0]), np.array([30.0, 85.0, 30.0]), tau)[0], 80.14),
                (short.hold_s(85.0, 30.0, 57.66, tau), 70.21),
            )
        )

    def test_c19_the_radial_model(self):
        self.near(warmed_c(G10, WARM, [(5, 150), (55, 25)] * 20, step_s=0.05)[1], 86.68)

    def test_the_ladder_and_the_radial_model_agree(self):
        for number, outer in ((16, 3.0), (10, 5.5), (4, 11.5)):
            cable = gauge(number, outer)
            ladder = short.ladder(cable, WARM)
            for seconds, share in ((1.0, 0.006), (10.0, 0.006), (60.0, 0.016), (300.0, 0.016)):
                amps = ladder.bears_a(seconds, 90.0)
                low, high = 0.9 * amps, 1.1 * amps
                for _ in range(9):
                    middle = 0.5 * (low + high)
                    cool = warmed_c(cable, WARM, [(seconds, middle)], step_s=seconds / 200)[1] < 90.0
                    low, high = (middle, high) if cool else (low, middle)
                self.near(amps, low, share + 0.001)

    def test_filter_ends_in_its_two_limits(self):
        seconds, amps = np.array([3.0, 20.0, 7.0]), np.array([90.0, 10.0, 60.0])
        self.near(short.equivalent_a(seconds, amps, 1e-6)[0], 90.0)
        rms = math.sqrt(float(np.sum(seconds * amps**2)) / 30.0)
        many = np.tile(seconds, 400), np.tile(amps, 400)
        self.near(short.equivalent_a(*many, 4000.0)[0], rms, 0.12)
        self.assertEqual(short.hold_s(50.0, 0.0, 60.0, 100.0), math.inf)


class ContactTest(Points):
    def test_d(self):
        new = contact.Contact(ohm=0.3e-3, mass_kg=4.2e-3, to_air_w_k=7e-3, cable=G10)
        near = contact.Contact(ohm=0.3e-3, mass_kg=4.2e-3, to_air_w_k=7e-3, cable=G10, to_mirror_m=0.05)
        self.nears(
            (
                (1e3 * contact.end_length_m(new, WARM), 84.26),
                (contact.rise_k(new, WARM, 45.0), 36.08),
                (contact.far_rise_k(new, WARM, 45.0), 28.43),
                (contact.lasting_a(new, WARM), 52.22),
                (contact.lasting_a(contact.worn(new), WARM), 46.10),
                (contact.short_by_heat_a(contact.worn(new), WARM, 10.0), 128.9),
                (contact.soft_a(contact.worn(new)), 116.7),
                (contact.lasting_a(near, WARM), 48.91),
                (contact.time_constant_s(new, WARM), 89.74),
                (1e3 * contact.constriction_ohm(1.72e-8, 0.8e9, 20.0), 0.09641),
                (contact.spot_c(90.0, 0.07), 153.6),
            )
        )
        self.assertEqual(contact.short_a(contact.worn(new), WARM, 10.0)[1], "millivolts")

    def test_a_contact_never_bears_more_than_its_cable(self):
        chance = random.Random(7)
        for _ in range(30):
            cable = gauge(chance.choice((16, 12, 8)), 7.0)
            one = contact.Contact(ohm=chance.uniform(0.05, 2.0) * 1e-3, mass_kg=0.004, to_air_w_k=0.0, cable=cable)
            self.assertLessEqual(contact.lasting_a(one, WARM), warmth.ampacity_a(cable, WARM) * 1.0001)


class FuseTest(Points):
    def test_e(self):
        largest, smallest = fuse.short_currents_a(84.0, 60.0, 20 / 4 * 0.012, 0.006)
        ladder = short.ladder(G8, WARM, 200.0)
        ratio, at = fuse.protects(fuse.SLOW, 100.0, ladder, 60.0, 200.0, largest)
        amps, volts = bricks.share([62.0, 62.0, 61.0], [0.03, 0.03, 0.045], 150.0)
        dead, _ = bricks.share([62.0, 62.0, 57.0], [0.03, 0.03, 0.045], 0.0)
        self.nears(
            (
                (fuse.clears_s(fuse.SLOW, 1.5, "earliest"), 33.25),
                (fuse.clears_s(fuse.SLOW, 1.5, "latest"), 498.8),
                (fuse.clears_s(fuse.FAST, 2.5, "latest"), 1.996),
                (fuse.clears_s(fuse.SLOW, 10.0, "latest"), 0.3600),
                (fuse.rating_for_a(fuse.SLOW, 62.0, [(150.0, 8.0)], 45.0), 100.0),
                (fuse.rating_for_a(fuse.SLOW, 62.0, [(150.0, 8.0), (300.0, 2.0)], 45.0), 200.0),
                (largest, 2000.0),
                (smallest, 476.2),
                (fuse.clears_s(fuse.SLOW, smallest / 100.0, "latest"), 1.994),
                (ratio, 0.4873),
                (at, 144.7),
                (amps[0], 64.58),
                (amps[2], 20.83),
                (volts, 60.06),
                (dead[2], -83.33),
                (fuse.protects(fuse.SLOW, 80.0, ladder, 60.0, 200.0, largest)[0], 6.532),
                (warmth.ampacity_a(G8, WARM, 200.0), 136.4),
            )
        )
        self.assertEqual(fuse.clears_s(fuse.SLOW, 1.2, "latest"), math.inf)
        self.assertEqual(fuse.clears_s(fuse.FAST, 1.0, "earliest"), math.inf)


class BusTest(Points):
    def test_f(self):
        ohm = precharge.ohm_for(0.5, 2e-3)
        peak, at, bank = precharge.inrush(84.0, 0.03, 1e-6, 2e-3)
        share, rest = precharge.first_touch(84.0, 5.6, 0.03, 2e-3, 0.03)
        self.nears(
            (
                (ohm, 83.45),
                (precharge.ohm_for(0.5, 2e-3, 0.99), 54.29),
                (84.0**2 / ohm, 84.55),
                (precharge.heat_j(84.0, 2e-3), 7.038),
                (precharge.bank_j(84.0, 2e-3), 7.056),
                (precharge.bank_j(0.05 * 84.0, 2e-3), 0.01764),
                (peak, 1764.0),
                (1e6 * at, 50.38),
                (bank, 88.90),
                (precharge.inrush(84.0, 0.06, 1e-6, 2e-3)[0], 1123.0),
                (7.056 * 10 / 30, 2.352),
                (share, 0.9313),
                (rest, 192.3),
                (precharge.bleeds_s(1e4, 2e-3, 84.0), 56.43),
                (precharge.settles_v(84.0, 100.0, 8.0), 73.05),
                (precharge.settles_v(84.0, 100.0, bleeder_ohm=1000.0), 76.36),
                (1e3 * precharge.release_s(0.5, 96.0, 0.25, 0.05, 0.8), 7.750),
                (1e3 * precharge.release_s(0.5, 96.0, 0.25, 0.05, 36.8), 1.977),
                (precharge.hold_w(24.0, 96.0, 0.4), 0.9600),
                (precharge.arc_gap_mm(100.0), 53.33),
                (precharge.arc_j(200.0, 2e-6, 84.0, 120.0), 0.1333),
            )
        )
        self.assertEqual(precharge.settles_v(84.0, 400.0, 20.0, 20.0), 20.0)  # it hangs where the converter wakes

    def test_g(self):
        wide = G8.strand_m
        self.nears(
            (
                (1e6 * bus.pair_henry_m(6.6e-3, wide), 0.5987),
                (1e6 * bus.pair_henry_m(0.1, wide), 1.686),
                (1e6 * bus.pair_skin_henry_m(6.6e-3, wide), 0.4606),
                (bus.sine_ripple_a(100.0, 0.6), 45.93),
                (bus.sine_ripple_a(100.0, 0.9, 0.9), 39.61),
                (bus.block_ripple_a(80.0, 0.5), 40.0),
                (bus.pack_share(40e3, 500e-6, 0.012, 0.8e-6, 0.03), 0.07286),
                (1e-3 * bus.resonance_hz(0.8e-6, 500e-6), 7.958),
                (bus.cut_peak_v(84.0, 200.0, 0.03, 1.2e-6, 500e-6, 0.01), 88.21),
                (bus.cut_bound_v(84.0, 200.0, 1.2e-6, 500e-6, 0.01), 95.80),
                (bus.cut_peak_v(84.0, 200.0, 0.006, 1.2e-6, 500e-6, 0.01), 91.67),
                (bus.life_h(2000.0, 105.0, 60.0, 1.0), 3.2e4),
                (bus.capacitors_for(45.93, 2.5), 23),
            )
        )

    def test_h(self):
        lead = 0.4 * G8.ohm_at(80.0)
        self.nears(
            (
                (bus.lead_rms_a(150.0), 106.1),
                (bus.lead_rms_a(150.0 * 2.0 / math.sqrt(3.0)), 122.5),
                (1.5 * 150.0**2 * lead, 35.76),
                (2e3 * lead, 2.119),
            )
        )

    def test_i(self):
        plain, sine = brake.braked(K100, 300.0, 0.022, 0.1), brake.braked(K100, 300.0, 0.022, 0.1, 7, 30e-6)
        stop = brake.stop(170.0, 8.0, 1.0, K100, 5.0, 0.14, 0.022, 0.1)
        rise = brake.pulse_k(stop.resistor_j, 0.25, 460.0)
        self.nears(
            (
                (K100, 0.09549),
                (plain.amps, 234.8),
                (plain.torque_nm, 22.42),
                (plain.resistor_w, 5514.0),
                (plain.winding_w, 1213.0),
                (stop.seconds, 3.708),
                (stop.metres, 12.48),
                (stop.resistor_j, 4389.0),
                (rise, 38.17),
                (brake.repeated_c(rise, 30.0, 0.25, 460.0, 0.6, 25.0), 133.2),
                (brake.braked(K100, 900.0, 0.022, 0.1, 7, 30e-6).torque_nm, 19.79),
                (brake.braked(K100, 900.0, 0.022, 0.1).torque_nm, 67.27),
                (brake.chopper_ohm(92.0, 2000.0), 4.232),
                (brake.strip_m(0.1, 0.01, 0.0005), 0.4545),
                (brake.strip_kg(0.4545, 0.01, 0.0005), 0.01909),
                (sine.torque_nm, 17.70),
                (brake.stop(170.0, 8.0, 1.0, K100, 5.0, 0.14, 0.022, 0.1, 7, 30e-6).seconds, 3.920),
            )
        )
        moved = 0.5 * 170.0 * (64.0 - 1.0)
        self.near(stop.resistor_j + stop.winding_j, moved)

    def test_j(self):
        plastic = box.Box(length_m=0.2, width_m=0.12, height_m=0.07)
        metal = box.Box(length_m=0.2, width_m=0.12, height_m=0.07, wall_w_mk=150.0)
        self.nears(
            (
                (box.inside_c(plastic, 30.0, 25.0), 97.62),
                (box.skin_c(plastic, 30.0, 25.0), 53.98),
                (box.inside_c(plastic, 30.0, 25.0, 800.0), 110.9),
                (box.watts_for(plastic, 60.0, 25.0), 13.81),
                (box.inside_c(metal, 30.0, 25.0), 94.39),
                (box.plated_c(30.0, 0.3, 1.5, 3.0, 25.0), 58.75),
            )
        )

    def test_k(self):
        self.nears(
            (
                (1e3 * board.lifted_s(84.0, 100.0, 2e-3, 1000.0), 2.944),
                (1e3 * board.lifted_by_amps_s(84.0, 100.0, 2e-3, 15.0), 2.133),
                (board.dumped_v(84.0, 30e-6, 200.0, 2e-3), 87.50),
                (board.idle_bridge_v(K100, 9500.0 * math.tau / 60.0), 93.40),
                (board.diode_w(60.0), 48.0),
                (board.bleed_h(0.03, 20.0, 0.1), 6.0),
                (board.board_w(0.8e-3, 80.0), 5.120),
            )
        )

    def test_g1_g2_of_cell_links(self):
        self.nears(
            (
                (1e3 * strip.strip_ohm("nickel", 0.02, 0.008, 0.00015), 1.167),
                (strip.strip_c("nickel", 0.008, 0.00015, 7.0), 45.19),
                (strip.strip_a("nickel", 0.008, 0.00015), 6.971),
                (strip.strip_a("plated steel", 0.008, 0.00015), 4.662),
                (strip.strip_a("copper", 0.008, 0.0002), 16.67),
                (strip.strip_a("nickel", 0.008, 0.0003), 9.949),
            )
        )


class BricksTest(Points):
    def brick(self, **changes):
        return bricks.Brick(**{"chemistry": "nmc_power", "series": 10, "capacity_ah": 10.0, "ohm": 0.05, **changes})

    def test_c6_joined_at_unlike_charge(self):
        amps, volts = bricks.share([25.2, 24.6], [0.020, 0.030], 0.0)
        self.near(amps[0], 12.0)
        self.near(volts, 24.96)

    def test_series_adds_and_parallel_shares(self):
        two = bricks.Assembly(rows=((self.brick(), self.brick()),), strings=True)
        self.assertEqual((two.series, two.capacity_ah), (20, 10.0))
        self.near(two.ohm, 0.1)
        six = bricks.Assembly(rows=((self.brick(), self.brick()),) * 3, strings=True)
        self.near(six.ohm, 0.1 / 3)
        self.near(six.capacity_ah, 30.0)
        for row in six.currents(60.0):
            self.assertEqual([round(one, 9) for one in row], [20.0, 20.0])
        groups = bricks.Assembly(rows=((self.brick(), self.brick(ohm=0.1)),) * 2, strings=False)
        self.near(groups.ohm, 2 * 0.05 * 0.1 / 0.15)
        self.nears(zip(groups.currents(30.0)[0], (20.0, 10.0), strict=True))

    def test_the_weakest_ends_it(self):
        weak = bricks.Assembly(rows=((self.brick(), self.brick(capacity_ah=6.0)),), strings=True)
        found = bricks.run_down(weak, 5.0, 2.9, bottom=0.0)
        self.assertEqual(found.ended_by, (0, 1))
        self.near(found.capacity_ah, 6.0, 0.06)
        even = bricks.run_down(bricks.Assembly(rows=((self.brick(), self.brick()),), strings=True), 5.0, 2.9)
        self.assertGreater(even.energy_wh, 1.5 * found.energy_wh)

    def test_currents_add_up_whatever_is_joined(self):
        chance = random.Random(11)
        for _ in range(200):
            rows = tuple(
                (self.brick(capacity_ah=chance.uniform(1, 30), ohm=chance.uniform(0.005, 0.3), charge=chance.random()),)
                for _ in range(chance.randint(1, 5))
            )
            whole = bricks.Assembly(rows=rows, strings=True)
            amps = chance.uniform(-50, 200)
            self.assertAlmostEqual(sum(row[0] for row in whole.currents(amps)), amps, places=6)
            self.assertGreaterEqual(whole.joining_a(), 0.0)
            self.assertTrue(math.isfinite(bricks.run_down(whole, 10.0, 2.5, steps=40).energy_wh))


if __name__ == "__main__":
    unittest.main()
