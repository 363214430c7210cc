"""The stand: steady readings against the core, detection, faults by their own readings, steps, protocol, a client on a terminal."""

import math
import os
import random
import select
import subprocess
import sys
import termios
import time
import tty
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.errors import InputError
from wattagon.physics.motor import Q_AXIS_FACTOR
from wattagon.standins.faults import FAULTS
from wattagon.standins.probe import FORWARD, made_ready, order_of, probe
from wattagon.standins.protocol import answer, rows_csv
from wattagon.standins.stand import LIMITS, READINGS, Stand, no_load
from wattagon.standins.steps import STEPS

STOCK = catalogue.load()
BOARD, KART, PUNT = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "garganey"))


def ready(design=BOARD, **more):
    stand = Stand(design, STOCK, **more)
    made_ready(stand)
    return stand


class PhysicsTest(unittest.TestCase):
    def test_steady_readings_agree_with_the_core(self):
        """Under a load, at several: bus volts, pack amps and duty for the current and speed that the stand has."""
        for design in (BOARD, KART, PUNT):
            stand = ready(design)
            motor = stand.resolved.train.motor
            stand.write("duty_mode", 1.0)
            for share, load in ((0.5, 0.0), (0.8, 0.1), (1.0, 0.25)):
                stand.machine.load_nm = load * float(motor.torque_constant_nm_per_a) * stand.full["motor_a"]
                stand.push(share)
                stand.run(6.0)
                now, m = stand.true(), stand.machine
                train = m.train
                ohm = m.pack_ohm + m.contact_ohm
                one = replace(train, count=1.0, motor=replace(train.motor, inductance_h=0.0).at(winding_c=m.winding_c))
                volts, pack_a, duty, _ = one.bus(m.current, m.omega, m.emf, ohm)
                for name, value, wanted in (("bus_v", now["bus_v"], volts), ("pack_a", now["pack_a"], pack_a), ("duty", now["duty"], duty)):
                    self.assertAlmostEqual(value / float(wanted), 1.0, delta=0.01, msg=(design.vehicle.name, share, name))
                torque = float(train.motor.torque_constant_nm_per_a) * m.current
                self.assertAlmostEqual(torque / (float(train.motor.drag_nm(m.omega)) + m.load_nm), 1.0, delta=0.01)

    def test_no_load_is_as_forecast(self):
        stand = ready()
        stand.write("duty_mode", 1.0)
        for share in (0.3, 0.6, 1.0):
            stand.push(share)
            stand.run(4.0)
            now = stand.true()
            rpm, amps = no_load(stand, now["duty"])
            self.assertAlmostEqual(now["rpm"] / rpm, 1.0, delta=0.01)
            self.assertAlmostEqual(now["motor_a"] / amps, 1.0, delta=0.01)

    def test_limits_hold(self):
        stand = ready()
        stand.machine.load_nm = 50.0  # a held shaft
        stand.push(1.0)
        stand.run(1.5)
        self.assertAlmostEqual(stand.true()["motor_a"], 65.0, delta=0.7)
        stand.machine.load_nm = 1.5
        stand.write("pack_a", 8.0)
        stand.run(3.0)
        self.assertLess(stand.true()["pack_a"], 8.5)
        for _ in range(300):
            stand.run(0.001)
            self.assertLessEqual(abs(stand.machine.current), 65.0 * Q_AXIS_FACTOR * 1.02)

    def test_energy_is_kept(self):
        """What the pack gives goes into windings, bridge, iron and the rotor."""
        stand = ready()
        stand.push(1.0)
        m = stand.machine
        given = lost = 0.0
        for _ in range(600):
            stand.run(0.001)
            given += m.volts * m.pack_a * 1e-3
            lost += (m.ohm * m.current**2 + m.drag_nm() * abs(m.omega)) * 1e-3
            lost += (float(m.controller.idle_w) + float(m.controller.switching_v_per_v) * m.volts * abs(m.current)) * 1e-3
        kinetic = 0.5 * m.inertia * m.omega**2
        self.assertAlmostEqual((lost + kinetic) / given, 1.0, delta=0.03)

    def test_detection_recovers_the_motor(self):
        for design in (BOARD, KART, PUNT):
            for seed in range(4):
                stand = Stand(design, STOCK, seed=seed)
                stand.connect()
                found, wanted = stand.detect(), stand.forecast()
                for name in ("resistance_ohm", "inductance_h", "flux_v_s"):
                    self.assertAlmostEqual(getattr(found, name) / wanted[name], 1.0, delta=0.02, msg=(design.vehicle.name, name))
                self.assertEqual(order_of(found.codes), 1.0)

    def test_detection_is_refused_where_it_cannot_be(self):
        with self.assertRaisesRegex(InputError, "connect first"):
            Stand(BOARD, STOCK).detect()
        stand = ready()
        with self.assertRaisesRegex(InputError, "armed"):
            stand.detect()
        low = Stand(BOARD, STOCK, charge=0.0)
        low.connect()
        with self.assertRaisesRegex(InputError, "a pack above"):
            low.detect()
        held = Stand(BOARD, STOCK, fault="blocked")
        held.connect()
        with self.assertRaisesRegex(InputError, "free"):
            held.detect()


class FaultTest(unittest.TestCase):
    def test_every_fault_is_told_by_its_own_reading(self):
        """The deciding reading is at least five times its noise from the healthy one."""
        healthy = probe(Stand(BOARD, STOCK, seed=3))
        for code, fault in FAULTS.items():
            with self.subTest(code):
                found = probe(Stand(BOARD, STOCK, fault=code, seed=11))
                value, noise = found[fault.reading]
                sound, usual = healthy[fault.reading]
                self.assertGreater(abs(value - sound), 5.0 * max(noise, usual, 1e-9), (fault.reading, value, sound))
                self.assertTrue(fault.words)

    def test_a_sound_stand_shows_none(self):
        first, again = probe(Stand(KART, STOCK, seed=1)), probe(Stand(KART, STOCK, seed=2))
        for name, (value, noise) in first.items():
            self.assertLess(abs(value - again[name][0]), 5.0 * max(noise, 1e-3 * abs(value), 1e-9), name)

    def test_an_unknown_fault_is_refused_with_the_names(self):
        with self.assertRaisesRegex(InputError, "phases_swapped.*shorted_turn"):
            Stand(BOARD, STOCK, fault="gremlin")


class StepsTest(unittest.TestCase):
    def test_a_sound_stand_passes_every_step(self):
        for design in (BOARD, KART):
            stand = Stand(design, STOCK)
            stand.connect()
            for step in STEPS:
                result = step.do(stand)
                self.assertTrue(result.passed, (design.vehicle.name, step.code, result.words))

    def test_faults_stop_the_steps_that_are_there_to_find_them(self):
        wanted = {
            "phases_swapped": "B5",
            "sensors_swapped": "B4",
            "sensor_dead": "B4",
            "wrong_poles": "B6",
            "loose_motor": "B3",
            "throttle_reversed": "B7",
            "weak_magnets": "B3",
            "delta": "B3",
            "shorted_turn": "B6",
        }
        for fault, code in wanted.items():
            stand = Stand(BOARD, STOCK, fault=fault, seed=4)
            stand.connect()
            step = next(step for step in STEPS if step.code == code)
            try:
                self.assertFalse(step.do(stand).passed, (fault, code))
            except InputError:
                self.fail((fault, code))
        blocked = Stand(BOARD, STOCK, fault="blocked")
        blocked.connect()
        with self.assertRaises(InputError):
            next(step for step in STEPS if step.code == "B3").do(blocked)


class ProtocolTest(unittest.TestCase):
    def test_each_command_gets_one_line(self):
        stand = Stand(BOARD, STOCK)
        say = lambda line: answer(stand, line)
        self.assertTrue(say("read").startswith("error connect"))
        self.assertTrue(say("connect").startswith("ok"))
        shown = dict(part.split("=") for part in say("read").removeprefix("ok ").split("; "))
        self.assertEqual(set(shown), set(READINGS))
        self.assertEqual(shown["pack_v"].split()[1], "V")
        self.assertEqual(say("write pack_a 12"), "ok pack_a=12 A")
        self.assertIn("pack_a=12 A", say("settings"))
        for wrong in (
            "write pack_a -3",
            "write pack_a",
            "write nothing 1",
            "write pack_a nan",
            "write pack_a 1e999",
            "drive 2",
            "drive",
            "x",
            "",
        ):
            self.assertTrue(say(wrong).startswith("error"), wrong)
        self.assertIn("pack_a=12 A", say("settings"))
        self.assertTrue(say("detect").startswith("ok resistance="))
        self.assertTrue(say("arm").startswith("error arm"))
        say("wait 0.6")
        self.assertEqual([say(x) for x in ("arm", "drive 0.5")], ["ok armed", "ok lever=0.5 share"])
        say("log on")
        say("wait 1")
        self.assertIn("rows=50", say("log"))
        self.assertEqual(len(rows_csv(stand).splitlines()), 51)

    def test_ten_thousand_random_lines_do_no_harm(self):
        chance = random.Random(5)
        stand = Stand(BOARD, STOCK)
        stand.connect()
        words = [
            "connect",
            "read",
            "settings",
            "write",
            "detect",
            "arm",
            "drive",
            "brake",
            "log",
            "wait",
            "hand",
            "pull",
            "plug",
            "radio",
            "lanyard",
        ]
        more = [*LIMITS, "0.5", "-1", "1e9", "nan", "on", "off", "in", "out", "throttle", "ä", "\x00", "'; --", "9" * 500, "=", ""]
        kept = dict(stand.settings)
        for k in range(10000):
            line = " ".join(chance.choice(words if n == 0 and chance.random() < 0.9 else more) for n in range(chance.randint(0, 4)))
            if "wait" in line or line.startswith("detect"):
                line = line.replace("wait", "wait 0.01") if k % 40 == 0 else "read"
            if chance.random() < 0.2:
                line = "".join(chr(chance.randint(0, 0x2FF)) for _ in range(chance.randint(0, 60)))
            said = answer(stand, line)
            self.assertTrue(said.startswith(("ok", "error")), line)
            self.assertNotIn("\n", said)
        for key, (_, low, high) in LIMITS.items():
            self.assertTrue(low <= stand.settings[key] <= high, key)
        self.assertEqual(set(stand.settings), set(kept))
        self.assertTrue(all(math.isfinite(value) for value in stand.true().values()))

    def client(self, *more):
        """Somebody at the other end of a pseudo-terminal: ask a line, get a line."""
        process = subprocess.Popen(
            [sys.executable, "-m", "wattagon.cli", "standin", str(DEMO / "dunlin.json"), "--pty", *more], stdout=subprocess.PIPE, text=True
        )
        self.addCleanup(process.wait)
        self.addCleanup(process.stdout.close)
        self.addCleanup(process.kill)
        path = process.stdout.readline().split()
        self.assertEqual(path[0], "device")
        line = os.open(path[1], os.O_RDWR | os.O_NOCTTY)
        self.addCleanup(os.close, line)
        tty.setraw(line)
        termios.tcflush(line, termios.TCIOFLUSH)

        def ask(*lines):
            for words in lines:
                os.write(line, f"{words}\n".encode())
                said, end = b"", time.monotonic() + 60.0
                while not said.endswith(b"\n") and time.monotonic() < end:
                    if select.select([line], [], [], 0.2)[0]:
                        said += os.read(line, 4096)
            return said.decode().strip()

        return ask

    def test_a_client_goes_through_the_steps_over_a_terminal(self):
        ask = self.client()
        number = lambda name, said=None: float((said or ask("read")).split(f"{name}=")[1].split()[0])
        self.assertTrue(ask("connect").startswith("ok"))
        ask("wait 4")
        self.assertLess(number("pack_a"), 0.2)  # B1
        self.assertEqual(ask("write motor_a 13"), "ok motor_a=13 A")  # B2
        self.assertIn("motor_a=13 A", ask("settings"))
        for _ in range(3):
            self.assertAlmostEqual(number("resistance", ask("detect")), 0.0678, delta=0.0678 * 0.15)  # B3
        self.assertEqual(len(ask("hand").split("codes=")[1].split()[0]), 6)  # B4
        self.assertEqual(ask("write duty_mode 1", "wait 0.6", "arm"), "ok armed")
        ask("drive 0.15", "wait 2")
        self.assertGreater(number("rpm"), 50.0)  # B5
        for share in (0.25, 0.5, 0.75, 1.0):  # B6
            ask(f"drive {share}", "wait 3")
            said = ask("read")
            wanted = 167.0 * number("duty", said) * number("bus_v", said)
            self.assertAlmostEqual(number("told_rpm", said) / wanted, 1.0, delta=0.05)
        ask("drive 0", "wait 0.8")
        self.assertAlmostEqual(number("command"), 0.0, delta=0.03)  # B7
        ask("drive 0.5", "wait 0.8")
        self.assertGreater(number("command"), 0.1)
        self.assertTrue(ask("disarm", "wait 0.6", "arm").startswith("error arm"), "C1: the lever is still pushed")
        self.assertEqual(ask("drive 0", "wait 0.7", "arm"), "ok armed")
        ask("drive 0.5", "wait 1", "radio off", "wait 0.6")
        self.assertEqual(number("command"), 0.0)  # C2
        ask("radio on", "wait 0.4")
        self.assertEqual(number("command"), 0.0)
        for lead in ("throttle", "signal", "supply", "ground"):  # C3
            ask("drive 0", "wait 0.8", "drive 1", "wait 1", f"pull {lead}", "wait 0.2")
            self.assertLess(number("command"), 1e-3, lead)
            ask(f"plug {lead}")
        ask("drive 0", "wait 0.8", "drive 0.6", "wait 1", "pull sensors", "wait 0.3")
        self.assertGreater(number("rpm"), 50.0)  # C4
        ask("plug sensors", "brake 0.8", "wait 0.8")
        self.assertLess(number("command"), 0.0)  # C6
        ask("brake 0", "wait 0.8", "drive 0.6", "wait 1")
        before = number("command")
        volts = number("pack_v")
        ask(f"write cut_start_v {volts + 2.0:.2f}", f"write cut_end_v {volts + 1.0:.2f}", "wait 2")
        self.assertLess(number("pack_a"), 0.3)  # C7
        self.assertGreater(before, 0.1)
        ask("lanyard out", "wait 0.1")
        said = ask("read")
        self.assertEqual((number("command", said), number("armed", said)), (0.0, 0.0))  # C5
        self.assertTrue(ask("nonsense").startswith("error"))

    def test_a_client_brakes_into_a_full_pack(self):
        ask = self.client("--charge", "full")
        number = lambda name: float(ask("read").split(f"{name}=")[1].split()[0])
        ask("connect", "write duty_mode 1", "wait 0.6", "arm", "drive 1", "wait 3", "drive 0", "brake 1")
        for _ in range(10):
            ask("wait 0.1")
            self.assertLessEqual(number("bus_v"), 42.2)  # C8, with the meter's noise
        self.assertGreater(number("pack_a"), -0.5)


class OrderTest(unittest.TestCase):
    def test_rings_of_codes(self):
        self.assertEqual(order_of(FORWARD), 1.0)
        self.assertEqual(order_of(FORWARD[::-1]), -1.0)
        self.assertEqual(order_of((1, 3, 2, 6, 4)), 0.0)
        self.assertEqual(order_of((1, 2, 3, 4, 5, 6)), 0.0)
        self.assertTrue(np.isfinite(order_of(())))


if __name__ == "__main__":
    unittest.main()
