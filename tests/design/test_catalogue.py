"""The stock catalogue: enough of everything, physically consistent, bad rows reported and skipped."""

import math
import os
import tempfile
import unittest
from pathlib import Path

import numpy as np

from wattagon.design import catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, ProfilePart, WheelPart
from wattagon.design.parts.families import loops, toothed
from wattagon.errors import PathError
from wattagon.physics.pack import CHEMISTRIES

HEADER = "id,name,voltage_max_v,motor_current_continuous_a,motor_current_burst_a,brushed,mass_kg,price"

PLAIN_WORDS = """
a abs ah air aluminium and as at balance barrow be belt between bevel bike birch blade block board body bolted brake brushed
bullet bush bushes by cargo cartridge case cassette cast cell cells chain charge charger clad class coil comes contactor contacts
controller curvilinear cycle drawn dry economiser ends energy face filled flat for freewheel gear glass half hardened has hub
idler in inrunner iron it its kart label laminate large lead link long lug machined maple middle mm motor moulded no normalised
nylon of on one or outrunner own pack pawls plain plastic plywood pouch power printed propeller pulley pump ratchet ready resistor
ring roller sanded scooter sealed sensored set shaft silicone slow smooth socket soft sprocket stainless steel strip structural
submerged tail teeth the thick three tinned to tool tube two tyre urethane v w water wheel wide winding wire with without wound x
"""


class CatalogueTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()

    def test_no_shipped_row_is_bad(self):
        self.assertEqual(self.stock.bad_rows, ())

    def test_there_is_enough_of_everything(self):
        self.assertGreaterEqual(len(self.stock.all(MotorPart)), 40)
        self.assertGreaterEqual(len(self.stock.all(ControllerPart)), 14)
        self.assertGreaterEqual(len(self.stock.all(CellPart)), 20)
        self.assertGreaterEqual(len(self.stock.all(WheelPart)), 15)
        families = {motor.family for motor in self.stock.all(MotorPart)}
        self.assertEqual(families, {"outrunner", "sensored", "submerged", "inrunner", "hub", "brushed"})
        self.assertEqual({cell.chemistry for cell in self.stock.all(CellPart)}, set(CHEMISTRIES))
        cans = [motor.can_mm for motor in self.stock.all(MotorPart) if motor.family == "outrunner"]
        self.assertEqual((min(cans), max(cans)), (28, 120))
        for profile in self.stock.rows(ProfilePart):
            self.assertTrue(toothed(self.stock, profile, "driver"), profile)
            self.assertTrue(loops(self.stock, profile), profile)

    def test_equal_frames_share_one_figure_of_merit(self):
        frames = {}
        for motor in self.stock.all(MotorPart):
            merit = (60 / (2 * math.pi * motor.kv_rpm_per_v)) ** 2 / motor.resistance_ohm
            frames.setdefault((motor.family, motor.can_mm, motor.length_mm), []).append(merit)
        for frame, merits in frames.items():
            self.assertLess(max(merits) / min(merits), 1.15, frame)

    def test_outrunners_grow_with_their_size(self):
        motors = [m for m in self.stock.all(MotorPart) if m.family == "outrunner"]
        volume = np.array([m.can_mm**2 * m.length_mm for m in motors])
        mass = np.array([m.mass_kg for m in motors])
        merit = np.array([(9.549 / m.kv_rpm_per_v) ** 2 / m.resistance_ohm for m in motors])
        self.assertGreater(np.corrcoef(volume, mass)[0, 1], 0.99)
        # K^2/R grows faster than the volume does: about its 5/3rd power for like shapes
        slope = np.polyfit(np.log(volume), np.log(merit), 1)[0]
        self.assertTrue(1.2 < slope < 1.9, slope)

    def test_ratings_agree_with_each_other(self):
        for motor in self.stock.all(MotorPart):
            if motor.current_peak_a and motor.current_continuous_a:
                self.assertGreater(motor.current_peak_a, motor.current_continuous_a, motor.id)
            self.assertEqual(motor.pole_pairs == 0, motor.family == "brushed", motor.id)
        for cell in self.stock.all(CellPart):
            if cell.continuous_a and cell.burst_a:
                self.assertGreaterEqual(cell.burst_a, cell.continuous_a, cell.id)

    def test_own_rows_are_added_win_over_shipped_ones_and_bad_ones_are_told_by_line(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / "controllers.csv").write_text(
                f"# mine\n{HEADER}\nmine-1,My box,60,40,80,,0.1,30\nctrl-60v-50,Better,61,50,100,,0.1,30\n"
                "mine-2,No volts,sixty,40,80,,0.1,30\nmine-3,Too heavy,60,40,80,,5000,30\nbad id!,x,60,40,80,,0.1,3\n"
            )
            stock = catalogue.load(folder)
            self.assertEqual(stock.get(ControllerPart, "mine-1").source, "own")
            self.assertEqual(stock.get(ControllerPart, "ctrl-60v-50").voltage_max_v, 61)
            self.assertIsNone(stock.get(ControllerPart, "mine-1").erpm_max)
            self.assertEqual([row.line for row in stock.bad_rows], [5, 6, 7])
            self.assertIn("voltage_max_v is 'sixty'", str(stock.bad_rows[0]))
            before = catalogue.stamp_of(folder)
            os.utime(folder / "controllers.csv", (1, 1))
            self.assertNotEqual(catalogue.stamp_of(folder), before)

    def test_an_unknown_part_names_near_ones(self):
        with self.assertRaisesRegex(PathError, "near: ctrl-60v-50"):
            self.stock.get(ControllerPart, "ctrl-60v-5O")

    def test_nothing_in_stock_is_a_real_name(self):
        words = {
            word.lower() for rows in self.stock.parts.values() for part in rows.values() for word in part.name.split() if word.isalpha()
        }
        self.assertEqual(words - set(PLAIN_WORDS.split()), set())  # a new word is read by somebody before it is added
