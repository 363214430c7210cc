"""Packs: volts against ratings, bricks that share, two schools, charging, cell checks; both sides of every bound."""

import contextlib
import datetime
import io
import json
import math
import random
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.study.rule_case import BIKE, BOARD, KART, STOCK, SidesCase, case, changed, known
from wattagon import cli
from wattagon.design.parts import BoardPart, CellPart, ChargerPart
from wattagon.design.paths import apply
from wattagon.design.template import new_design
from wattagon.design.tree import Battery, BrickChoice, CellCheck, Charging, EntryKind, Links, LoadRow, VehicleKind
from wattagon.errors import InputError
from wattagon.physics import pack as packs
from wattagon.physics.bricks import Assembly, Brick, run_down
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status
from wattagon.study.pack.checks import due, judge, read_volts, recorded, trend
from wattagon.study.pack.rules import RULES, check_due
from wattagon.study.pack.rungs import part_way
from wattagon.study.pack.schools import Trip
from wattagon.study.pack.study import study_pack
from wattagon.study.ride.profiles import longest_above, profiles, strongest_in

PLAIN = changed(BOARD, variant__battery=None, variant__wiring=None)  # nothing told: 10S4P


def packed(design, rides=()):
    return study_pack(design, STOCK, study_drive(design, STOCK), rides)


def with_battery(design=PLAIN, **fields):
    return changed(design, variant__battery=Battery(**fields))


RIDDEN = ("pack.lasting", "pack.burst", "pack.board_lasting", "pack.board_trips")  # what is judged by rides


def at_rest(design):
    """A case whose pack was not ridden: quick, and enough for most rules."""
    made = case(design)
    made.made("pack", lambda: study_pack(design, STOCK, made.study))
    return made


def verdicts(design, code):
    """Findings of a rule, or of its family, by the end of their code."""
    rule = next(rule for rule in RULES if rule.code == code)
    made = case(design) if code in RIDDEN else at_rest(design)
    return {finding.code.removeprefix(f"{code}."): finding for finding in rule.findings(made)}


class PackTest(SidesCase):
    def verdicts(self, design, code):
        return verdicts(design, code)

    # volts

    def test_the_column_follows_from_chemistry_and_settings(self):
        found = packed(PLAIN)
        volts, pack = found.volts, found.resolved.train.pack
        self.assertAlmostEqual(volts.full, 42.0)
        self.assertAlmostEqual(volts.nominal, 10 * 3.745)
        self.assertAlmostEqual(volts.sag, volts.nominal - float(pack.steady_ohm) * 60.0)
        self.assertEqual(volts.sag_a, 60.0)
        self.assertLess(volts.empty, volts.cut_end)

    def test_a_cutback_that_bites_lowers_the_largest_current(self):
        found = packed(changed(PLAIN, variant__controller__cutback_start_v=36.5, variant__controller__cutback_end_v=30.0))
        self.assertLess(found.volts.sag_a, 60.0)
        self.assertAlmostEqual(found.volts.sag_a, 60.0 * (found.volts.sag - 30.0) / 6.5, places=6)

    def test_rungs_on_both_sides_of_their_bounds(self):
        def board(volts):
            return changed(PLAIN, variant__controller__overrides__voltage_max_v=known(volts))

        for volts, wanted in ((49.5, Status.CLEAR), (49.3, Status.TIGHT), (46.7, Status.TIGHT), (46.6, Status.OVER)):
            rung = next(one for one in packed(board(volts)).rungs if one.code == "controller")
            self.assertIs(rung.status, wanted, volts)

    def test_a_charger_ends_at_the_packs_volts_to_half_a_percent(self):
        at = lambda part: with_battery(charging=Charging(charger=part))
        self.assertIs(self.status(at("charger-42-5"), "pack.rung", "charger"), Status.CLEAR)
        self.assertIs(self.status(at("charger-25p2-3"), "pack.rung", "charger"), Status.TIGHT)
        found = verdicts(at("charger-50p4-5"), "pack.rung")["charger"]
        self.assertIs(found.status, Status.OVER)
        self.assertTrue(any(edit.changes[0][1].charging.charger == "charger-42-5" for edit in found.candidates()))

    def test_charging_part_way_for_a_rating(self):
        resolved = study_drive(PLAIN, STOCK).resolved
        half = part_way(resolved, 42.0)
        self.assertAlmostEqual(half.volts, 37.8)
        self.assertAlmostEqual(half.charge, float(packs.charge_at("nmc_power", 3.78)))
        self.assertTrue(0.3 < half.energy_share < 0.6)
        self.assertAlmostEqual(half.wrong_v, 42.0)
        tall = replace(KART, active="B")
        self.assertIn("75.6 V", verdicts(tall, "pack.part_way")["pack.part_way"].title)
        self.assertIs(self.status(tall, "pack.part_way"), Status.OVER)
        self.assertEqual(verdicts(PLAIN, "pack.part_way"), {})

    def test_the_window_moves_energy_life_and_range(self):
        wide, narrow = with_battery(window_top=1.0, window_bottom=0.05), with_battery(window_top=0.85, window_bottom=0.2)
        a, b = packed(wide), packed(narrow)
        self.assertGreater(a.usable_wh, 1.3 * b.usable_wh)
        self.assertGreater(b.life.cycles, 1.5 * a.life.cycles)
        self.assertGreater(a.range_m, 1.3 * b.range_m)
        with self.assertRaises(InputError):
            Battery(window_top=0.4, window_bottom=0.38)

    # bricks

    def halves(self, **old):
        one = BrickChoice(name="new", place=1, series=10, parallel=2)
        return with_battery(bricks=(one, replace(one, name="old", place=2, **old)))

    def test_like_bricks_are_the_plain_pack(self):
        a, b = packed(PLAIN).resolved.train.pack, packed(self.halves()).resolved.train.pack
        self.assertAlmostEqual(float(a.capacity_ah), float(b.capacity_ah))
        self.assertAlmostEqual(float(a.burst_ohm), float(b.burst_ohm), places=9)
        self.assertAlmostEqual(float(a.continuous_a), float(b.continuous_a))

    def test_an_aged_brick_takes_less_and_limits_the_rest(self):
        aged = self.halves(resistance=known(0.13), capacity=known(5.0))
        found = packed(aged)
        (new,), (old,) = found.shares
        self.assertAlmostEqual(new + old, found.asked_a)
        self.assertGreater(new, 1.8 * old)
        pack = found.resolved.train.pack
        self.assertAlmostEqual(float(pack.capacity_ah), 13.0)
        self.assertLess(float(pack.continuous_a), float(packed(PLAIN).resolved.train.pack.continuous_a))
        hard = self.halves(resistance=known(0.8))
        self.sides("pack.share", aged, changed(hard, variant__controller__pack_current_a=45.0))

    def test_bricks_that_cannot_stand_together_are_said_and_left_out(self):
        for change, words in (
            ({"series": 9}, "9 and 10 cells"),
            ({"part": "pouch-10"}, "different chemistry"),
        ):
            design = self.halves(**change)
            self.assertIn(words, verdicts(design, "pack.bricks")["pack.bricks"].title)
            self.assertIs(self.status(design, "pack.bricks"), Status.OVER)
            self.assertAlmostEqual(float(packed(design).resolved.train.pack.capacity_ah), 16.0)
        short = with_battery(bricks=(BrickChoice(series=8, parallel=4),))
        self.assertIn("make 8 in series, the drive counts 10", verdicts(short, "pack.bricks")["pack.bricks"].title)

    def test_unlike_charge_on_both_sides_of_fifty_millivolts_a_cell(self):
        near, far = (self.halves(rest=known(10 * (4.18 - apart))) for apart in (0.045, 0.055))
        self.sides("pack.bricks", near, far)
        self.assertIn("A flow when joined", verdicts(far, "pack.bricks")["pack.bricks"].title)

    def test_two_halves_in_series_and_three_of_two(self):
        half = BrickChoice(series=5, parallel=4, place=1)
        self.assertAlmostEqual(float(packed(with_battery(bricks=(half, half))).resolved.train.pack.capacity_ah), 16.0)
        groups = with_battery(joined="groups", bricks=tuple(replace(half, parallel=2, place=p) for p in (1, 1, 2, 2)))
        pack = packed(groups).resolved.train.pack
        self.assertEqual((float(pack.series), float(pack.capacity_ah)), (10.0, 16.0))
        self.assertAlmostEqual(float(pack.burst_ohm), float(packed(PLAIN).resolved.train.pack.burst_ohm), places=9)

    def test_the_weakest_brick_is_named(self):
        half = BrickChoice(series=5, parallel=4, place=1)
        weak = with_battery(bricks=(half, replace(half, name="tired", capacity=known(11.0))))
        found = verdicts(weak, "pack.weakest")["pack.weakest"]
        self.assertIs(found.status, Status.TIGHT)
        self.assertIn("Tired is empty first", found.title)

    def test_mass_and_price_are_those_of_the_bricks(self):
        kart = packed(KART)
        self.assertAlmostEqual(kart.resolved.pack_kg, 4 * STOCK.get(CellPart, "pack-6s-12").mass_kg)
        self.assertAlmostEqual(kart.resolved.pack_price, 4 * 139.0)

    # currents

    def test_windows_of_a_profile(self):
        import numpy as np

        seconds, amps = np.array([2.0, 3.0, 5.0]), np.array([10.0, 60.0, 20.0])
        self.assertAlmostEqual(strongest_in(seconds, amps, 3.0), 60.0)
        self.assertAlmostEqual(strongest_in(seconds, amps, 10.0), math.sqrt((2 * 100 + 3 * 3600 + 5 * 400) / 10))
        self.assertEqual(longest_above(seconds, amps, 15.0), 8.0)
        self.assertEqual(longest_above(seconds, amps, 70.0), 0.0)

    def test_rides_against_what_cells_bear_for_long(self):
        def rated(lasting, burst=60.0):
            made = changed(PLAIN, variant__pack__overrides__continuous_a=known(lasting))
            return changed(made, variant__pack__overrides__burst_a=known(burst))

        asked = packed(PLAIN, profiles(PLAIN, STOCK)).ridden.lasting_a / 4.0
        self.sides("pack.lasting", rated(1.3 * asked), rated(0.95 * asked))
        self.assertIs(self.status(rated(1.1 * asked), "pack.lasting"), Status.TIGHT)
        self.assertIs(self.status(rated(30.0, 40.0), "pack.burst"), Status.CLEAR)
        self.assertIs(self.status(rated(13.0, 16.0), "pack.burst"), Status.TIGHT)  # above the lasting figure for more than ten seconds

    def test_links_between_cells(self):
        strip = lambda thick: with_battery(links=Links(width=0.01, thickness=thick, layers=1, wrapped=True))
        self.sides("pack.links", strip(0.0015), strip(0.0001))
        found = verdicts(strip(0.0001), "pack.links")["pack.links"]
        better = packed(apply(strip(0.0001), found.candidates()[1])).links
        self.assertGreater(better.bears_a, packed(strip(0.0001)).links.bears_a)
        plated = with_battery(links=Links(metal="plated steel", width=0.01, thickness=0.0003))
        self.assertLess(packed(plated).links.bears_a, packed(strip(0.0003)).links.bears_a)

    # the two schools

    def board(self, **better):
        return with_battery(school="board", board="board-10-60", board_overrides={name: known(v) for name, v in better.items()})

    def test_a_boards_trips_by_time_and_not_by_the_peak_alone(self):
        self.sides("pack.board_trips", self.board(first_a=80.0, first_s=0.5), self.board(first_a=70.0, first_s=5.0))
        for stretch, wanted in ((4.9, Status.CLEAR), (5.1, Status.TIGHT), (9.9, Status.TIGHT), (10.0, Status.OVER)):
            trip = Trip(name="first trip", amps=80.0, delay_s=10.0, stretch_s=stretch, peak_a=75.0, run="start")
            self.assertIs(trip.status, wanted, stretch)
        amps = packed(PLAIN, profiles(PLAIN, STOCK))
        lasting = packed(self.board(), amps.profiles).guarded.lasting_a
        self.sides("pack.board_lasting", self.board(lasting_a=1.3 * lasting), self.board(lasting_a=0.98 * lasting))

    def test_regeneration_against_the_charge_trip(self):
        self.assertIs(self.status(self.board(charge_a=17.0), "pack.board_regen"), Status.OVER)
        self.assertIs(self.status(self.board(charge_a=25.0), "pack.board_regen"), Status.TIGHT)  # it can open all the same
        none = changed(self.board(), variant__controller__regen_pack_current_a=0.0)
        self.assertEqual(verdicts(none, "pack.board_regen"), {})

    def test_a_board_counts_cells_and_knows_its_chemistry(self):
        self.sides("pack.board_fits", self.board(), changed(self.board(), variant__pack__series=11))
        iron = with_battery(school="board", board="board-16-100-iron")
        iron = changed(iron, variant__pack__series=16)
        self.assertIn("iron", verdicts(iron, "pack.board_fits")["pack.board_fits"].title)
        for edit in verdicts(changed(self.board(), variant__pack__series=13), "pack.board_fits")["pack.board_fits"].candidates():
            part = STOCK.get(BoardPart, edit.changes[0][1].board)
            self.assertTrue(part.series_low <= 13 <= part.series_high)

    def test_a_board_of_no_label_is_not_checked(self):
        bare = with_battery(school="board", board="board-unlabelled")
        for code in ("pack.board_trips", "pack.board_regen", "pack.board_balance"):
            self.assertIs(self.status(bare, code), Status.NOT_CHECKED)

    def test_without_a_board_the_window_is_narrow_and_the_controller_cuts_off(self):
        narrow = with_battery(school="none", window_top=0.9, window_bottom=0.15)
        self.sides(
            "pack.narrow", narrow, with_battery(school="none", window_top=1.0, window_bottom=0.15), wanted=(Status.CLEAR, Status.TIGHT)
        )
        low = changed(narrow, variant__controller__cutback_end_v=28.0, variant__controller__cutback_start_v=31.0)
        self.assertIs(self.status(low, "pack.narrow"), Status.OVER)
        self.assertIs(self.status(narrow, "pack.school"), Status.NOT_CHECKED)
        self.assertIn("over or under its volts", verdicts(narrow, "pack.school")["pack.school"].title)
        self.assertEqual(verdicts(self.board(), "pack.narrow"), {})

    def test_the_controllers_cutoff_comes_before_the_boards(self):
        low = changed(self.board(), variant__controller__cutback_end_v=28.0, variant__controller__cutback_start_v=31.0)
        self.assertIs(self.status(low, "pack.inside"), Status.OVER)
        self.assertEqual(verdicts(self.board(), "pack.inside"), {})

    def test_balancing_takes_its_hours(self):
        self.assertIs(self.status(self.board(balance_ma=60.0), "pack.board_balance"), Status.CLEAR)
        self.assertIs(self.status(self.board(balance_ma=10.0), "pack.board_balance"), Status.TIGHT)

    def test_a_board_is_a_fault_and_not_a_limiter(self):
        weak = self.board(lasting_a=20.0)
        self.assertEqual(packed(weak, profiles(weak, STOCK)).ridden.peak_a, packed(PLAIN, profiles(PLAIN, STOCK)).ridden.peak_a)

    # charging

    def test_a_charge_in_time_and_money(self):
        one = packed(with_battery(charging=Charging(charger="charger-42-5"))).charged
        self.assertEqual(one.amps, 5.0)
        self.assertLess(one.storage_s, one.to_80_s)
        self.assertLess(one.to_80_s, one.full_s)
        self.assertAlmostEqual(one.to_80_s, 0.65 * 16.0 / 5.0 * 3600.0, delta=60.0)
        self.assertAlmostEqual(one.cost, one.wall_wh / 1000.0 * BOARD.brief.energy_price.value)
        self.assertGreater(one.wall_wh, packed(PLAIN).usable_wh)
        slow = packed(with_battery(charging=Charging(charger="charger-42-2"))).charged
        self.assertGreater(slow.full_s, 2.0 * one.full_s)

    def test_the_least_amps_are_named(self):
        limit = with_battery(charging=Charging(charger="charger-42-5", amps=known(5.0), by_balance_leads=True))
        self.sides("pack.charge_amps", with_battery(charging=Charging(charger="charger-42-5", amps=known(5.0))), limit)
        self.assertIn("balance leads", verdicts(limit, "pack.charge_amps")["pack.charge_amps"].title)

    def test_bricks_charged_one_after_the_other(self):
        half = BrickChoice(series=5, parallel=4, place=1)
        apart = with_battery(bricks=(half, half), charging=Charging(charger="charger-balance-6", together=False))
        one = packed(apart).charged
        self.assertEqual(one.turns, 2)
        self.assertAlmostEqual(one.volts, 21.0)
        self.assertAlmostEqual(one.wall_wh, packed(PLAIN).charged.wall_wh, delta=0.12 * one.wall_wh)

    def test_stock_chargers_end_at_whole_packs(self):
        cells = [n * limit for n in range(1, 31) for limit in (4.2, 3.65, 2.45)]
        for part in STOCK.all(ChargerPart):
            if part.volts_low is None:
                self.assertLess(min(abs(part.volts / volts - 1.0) for volts in cells), 0.003, part.name)

    def test_cold(self):
        for air, wanted in ((6.0, None), (4.0, Status.TIGHT), (-1.0, Status.OVER)):
            design = changed(PLAIN, brief__conditions__air_temperature=known(air))
            found = verdicts(design, "pack.cold").get("pack.cold")
            self.assertEqual(found.status if found is not None else None, wanted)

    # cell checks

    def spread(self, apart, middle=3.75, full=False, chemistry="nmc_power"):
        volts = (middle,) * 9 + (middle - apart,)
        return judge(CellCheck(date="2026-05-01", volts=volts, full=full), chemistry)

    def test_bounds_of_the_spread(self):
        for apart, wanted in ((0.0295, Status.CLEAR), (0.031, Status.TIGHT), (0.0495, Status.TIGHT), (0.051, Status.OVER)):
            self.assertIs(self.spread(apart).status, wanted, apart)
        self.assertEqual(self.spread(0.02).outlier, 9)
        self.assertIsNone(self.spread(0.004).outlier)

    def test_even_iron_cells_near_three_volts_are_nearly_empty(self):
        found = self.spread(0.0, 3.05, chemistry="lfp")
        self.assertIs(found.status, Status.TIGHT)
        self.assertIn("nearly empty", found.verdict)
        self.assertIn("however even", found.verdict)
        self.assertLess(found.charge, 0.05)

    def test_iron_cells_in_the_middle_are_judged_by_charge(self):
        self.assertIs(self.spread(0.020, 3.30, chemistry="lfp").status, Status.OVER)
        self.assertIs(self.spread(0.020, 3.40, full=True, chemistry="lfp").status, Status.CLEAR)

    def test_what_is_finished_over_or_under(self):
        self.assertIn("finished", self.spread(2.0, 3.8).verdict)
        self.assertIn("over its charge limit", self.spread(0.0, 4.25).verdict)
        self.assertIn("below what", self.spread(0.5, 2.9).verdict)

    def test_trend_and_the_next_day(self):
        checks = tuple(CellCheck(date=f"2026-0{m}-01", volts=(3.8, 3.8, 3.8, 3.8 - 0.002 * (m - 1))) for m in (1, 3, 5, 7))
        found = trend(checks)
        self.assertEqual(found.group, 3)
        self.assertAlmostEqual(1e3 * found.group_v_month, -2.0, delta=0.05)
        self.assertIsNone(trend(checks[:2]))
        self.assertEqual(due(checks, "none", None), (30, datetime.date(2026, 7, 31)))
        self.assertEqual(due((), "board", None), (90, None))
        design = with_battery(checks=checks, check_days=10)
        self.assertIs(check_due(case(design), datetime.date(2026, 7, 11)).status, Status.CLEAR)
        self.assertIs(check_due(case(design), datetime.date(2026, 7, 12)).status, Status.TIGHT)
        self.assertIs(self.status(design, "pack.drifting"), Status.TIGHT)
        still = tuple(replace(c, volts=(3.8, 3.8, 3.8, 3.795)) for c in checks)
        self.assertIs(self.status(with_battery(checks=still), "pack.drifting"), Status.CLEAR)

    def test_volts_as_people_type_them(self):
        for text, wanted in (
            ("3.842 3.841", (3.842, 3.841)),
            ("1: 3,842 V\n2: 3,841 V", (3.842, 3.841)),
            ("3842 mV; 3841mV", (3.842, 3.841)),
            ("3.842,3.841,3.840", (3.842, 3.841, 3.84)),
            ("3.842, 3.841", (3.842, 3.841)),
            ("", ()),
        ):
            self.assertEqual(read_volts(text), wanted, text)
        for text in ("3.8x", "38", "nan", "3.8 3.9 -1"):
            with self.assertRaisesRegex(InputError, "cell volts"):
                read_volts(text)

    def test_a_check_is_kept_in_pack_and_history(self):
        check = CellCheck(date="2026-03-02", volts=(3.8,) * 10)
        after = apply(BOARD, recorded(BOARD, check))
        self.assertIn(check, after.variant().battery.checks)
        self.assertEqual([c.date for c in after.variant().battery.checks], sorted(c.date for c in after.variant().battery.checks))
        self.assertIs(after.history[-1].kind, EntryKind.CELL_CHECK)

    def test_a_check_of_another_pack_is_not_judged(self):
        design = with_battery(checks=(CellCheck(date="2026-03-02", volts=(3.8,) * 8),))
        self.assertIs(self.status(design, "pack.cells"), Status.NOT_CHECKED)
        self.assertIs(self.status(PLAIN, "pack.cells"), Status.NOT_CHECKED)
        self.assertEqual(verdicts(BOARD, "pack.cells")["pack.cells"].status, Status.CLEAR)

    def test_a_measured_resistance(self):
        from wattagon.physics.infer import pack_fit

        rows = (LoadRow(amps=5.0, volts=39.40), LoadRow(amps=25.0, volts=38.62), LoadRow(amps=45.0, volts=37.83))
        emf, ohm = pack_fit([r.amps for r in rows], [r.volts for r in rows])
        self.assertAlmostEqual(emf, 39.60, places=2)
        self.assertAlmostEqual(ohm, 0.03925, places=5)

    # side by side, all of them

    def test_the_same_energy_in_each_chemistry(self):
        found = packed(PLAIN)
        self.assertEqual([one.chemistry for one in found.others], list(packs.CHEMISTRIES))
        for one in found.others:
            self.assertGreaterEqual(one.usable_wh, 0.999 * found.usable_wh)
            self.assertAlmostEqual(one.series * float(packs.rest_volts(one.chemistry, 0.5)) / found.volts.nominal, 1.0, delta=0.2)
        lead = found.others[-1]
        self.assertGreater(lead.mass_kg, 5.0 * found.resolved.pack_kg)

    def test_every_kind_of_new_vehicle_has_nothing_over_or_tight(self):
        for kind in VehicleKind:
            made = at_rest(new_design(kind))
            for rule in RULES:
                for finding in rule.findings(made):
                    self.assertNotIn(finding.status, (Status.OVER, Status.TIGHT), (kind, finding.title))

    def test_a_thousand_random_packs(self):
        chance, parts = random.Random(15), STOCK.all(CellPart)
        drives = {}
        for turn in range(1000):
            part = chance.choice(parts)
            series, parallel = part.brick_series * chance.randint(1, 4), part.brick_parallel * chance.randint(1, 6)
            key = (part.id, series, parallel)
            rows = tuple(
                tuple(
                    Brick(
                        chemistry=part.chemistry,
                        series=chance.randint(1, 14),
                        capacity_ah=chance.uniform(0.1, 80.0),
                        ohm=chance.uniform(1e-4, 0.8),
                        charge=chance.random(),
                    )
                    for _ in range(chance.randint(1, 3))
                )
                for _ in range(chance.randint(1, 4))
            )
            joined = Assembly(rows=rows, strings=chance.random() < 0.5)
            flat = [one for row in joined.currents(chance.uniform(-100, 300)) for one in row]
            self.assertTrue(all(map(math.isfinite, [*flat, joined.ohm, joined.capacity_ah, joined.unlike_v(), joined.joining_a()])))
            if turn % 20:
                continue
            ended = run_down(joined, chance.uniform(0.1, 100.0), 2.8, 0.1, steps=30)
            self.assertTrue(math.isfinite(ended.energy_wh) and ended.energy_wh >= 0.0)
            bricks = (BrickChoice(part=part.id, series=series, parallel=parallel, resistance=known(chance.uniform(1e-4, 1.0))),)
            design = changed(PLAIN, variant__pack__part=part.id, variant__pack__series=series, variant__pack__parallel=parallel)
            battery = Battery(
                bricks=bricks if chance.random() < 0.5 else (), school=chance.choice(("", "board", "none")), board="board-10-60"
            )
            drives[key] = packed(changed(design, variant__battery=battery))
            found = drives[key]
            for value in (found.energy_wh, found.usable_wh, found.volts.sag, found.life.years, found.charged.wall_wh, found.per_kwh):
                self.assertTrue(math.isfinite(value), (key, value))
        self.assertGreater(len(drives), 30)


class PackCommandTest(unittest.TestCase):
    def run_command(self, *words):
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            self.assertEqual(cli.main(["pack", *words]), 0)
        return out.getvalue()

    def test_json_has_what_it_promises(self):
        data = json.loads(self.run_command(str(DEMO / "dunlin.json"), "--json"))
        self.assertEqual(
            set(data["volts"]) & {"full", "nominal", "storage", "cut_start", "cut_end", "empty", "sag"},
            {
                "full",
                "nominal",
                "storage",
                "cut_start",
                "cut_end",
                "empty",
                "sag",
            },
        )
        self.assertAlmostEqual(data["volts"]["full"], 42.0)
        self.assertEqual(len(data["groups"]), 10)
        self.assertTrue(data["groups"][6]["outlier"])
        for name in ("energy_wh", "usable_wh", "resistance_ohm", "lasting_a", "burst_a", "mass_kg", "cost"):
            self.assertGreater(data[name], 0.0, name)
        self.assertGreater(data["charge"]["full_s"], data["charge"]["to_80_s"])
        self.assertTrue({"name", "volts", "margin", "status"} <= set(data["rungs"][0]))
        self.assertEqual(data["board"]["name"], "Board 8 to 24 cells, 100 A, set by its link")

    def test_words(self):
        said = self.run_command(str(DEMO / "bittern.json"), "--variant", "B", "--no-rides")
        self.assertIn("full 50.4 V", said)
        self.assertIn("caution", said)
        self.assertEqual(len(packed(replace(BIKE, active="B")).shares), 2)


if __name__ == "__main__":
    unittest.main()
