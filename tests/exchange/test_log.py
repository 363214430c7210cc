"""Logs of any layout: what columns are taken as, what is found wrong, and that nothing is mended in silence."""

import gzip
import math
import random
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np

from tests.logs import STOCK, demo
from wattagon.design import file
from wattagon.design.tree import LogColumn
from wattagon.errors import FileError, InputError, WattagonError
from wattagon.exchange.log.clock import set_clock
from wattagon.exchange.log.heads import read_head
from wattagon.exchange.log.propose import header_of
from wattagon.exchange.log.read import again, bring, packed, unpacked
from wattagon.exchange.log.table import Cancelled, read_table
from wattagon.exchange.log.timed import looks_timed, read_timed
from wattagon.study.log.expect import expected

EXPECT = expected(demo(), STOCK)


def table(rows: int = 400, heads: str = "time [s],speed [km/h],motor A,pack A,pack V,duty,erpm", step: float = 0.1) -> list[str]:
    """Lines of a ride that agrees with itself: 5 m/s to 7 m/s."""
    lines = [heads]
    for k in range(rows):
        t = k * step
        v = 6.0 + math.sin(0.2 * t)
        shaft = v * EXPECT.per_m
        duty = 0.12 + shaft / (EXPECT.rpm_per_v * 38.0) * 9.549
        motor = 12.0 + 3.0 * math.cos(0.2 * t)
        pack = EXPECT.motors * duty * motor * EXPECT.dc_per_motor_amp
        lines.append(f"{t:.2f},{3.6 * v:.3f},{motor:.3f},{pack:.3f},38.0,{duty:.4f},{shaft * 9.549297 * EXPECT.pole_pairs:.0f}")
    return lines


def raw(lines: list[str], apart: str = ",", mark: str = ".") -> bytes:
    return "\n".join(line.replace(",", apart).replace(".", mark) if apart != "," else line for line in lines).encode()


class HeadTests(unittest.TestCase):
    def test_general_words_and_units_are_read_in_many_ways(self):
        for head, channel, unit in (
            ("Speed (km/h)", "speed", "km/h"),
            ("speed_m_s", "speed", "m/s"),
            ("Geschwindigkeit [km/h]", "speed", "km/h"),
            ("V_bat", "bus_v", ""),
            ("input_voltage", "bus_v", ""),
            ("Pack current [A]", "pack_a", "a"),
            ("phase current", "motor_a", ""),
            ("i_motor_a", "motor_a", "a"),
            ("Duty [%]", "duty", "%"),
            ("ERPM", "erpm", ""),
            ("motor rpm", "motor_rpm", "rpm"),
            ("motorTemp_C", "motor_c", "c"),
            ("controller_c", "controller_c", "c"),
            ("Time [ms]", "time", "ms"),
            ("mAh", "ah", "mah"),
            ("accX", "ax", ""),
            ("nonsense", "", ""),
        ):
            with self.subTest(head=head):
                self.assertEqual(tuple(read_head(head)), (channel, unit))

    def test_an_own_ride_comes_back(self):
        self.assertEqual(read_head("motor current [A]").channel, "motor_a")
        self.assertEqual(read_head("bus voltage [V]").channel, "bus_v")


class TableTests(unittest.TestCase):
    def test_separators_and_decimal_marks(self):
        for apart, mark in ((",", "."), (";", ","), ("\t", "."), ("|", ".")):
            with self.subTest(apart=apart, mark=mark):
                made = bring(raw(table(), apart, mark) if apart != "," else raw(table()), "ride.csv", EXPECT)
                self.assertEqual(made.data.samples, 400)
                self.assertAlmostEqual(float(made.data.column("speed")[0]), 6.0, places=3)

    def test_a_line_of_units_below_the_heads(self):
        lines = table(heads="time,speed,motor current,pack current,pack voltage,duty,erpm")
        lines.insert(1, "ms,mph,A,A,V,-,rpm")
        found = {one.column.channel: one.column.unit for one in bring(raw(lines), "ride.csv", EXPECT).proposed}
        self.assertEqual((found["time"], found["speed"], found["bus_v"]), ("ms", "mph", "v"))

    def test_preamble_comments_and_blank_lines_are_passed_over(self):
        lines = ["# a logger of ours", "", "Made on a Sunday", *table()]
        self.assertEqual(bring(raw(lines), "ride.csv", EXPECT).data.samples, 400)

    def test_clock_times_and_dates(self):
        begin = datetime(2026, 5, 1, 23, 59, 50, tzinfo=UTC)
        for write in (lambda t: t.isoformat(), lambda t: t.strftime("%H:%M:%S.%f")):
            lines = ["when,speed [m/s]"] + [f"{write(begin + timedelta(seconds=0.5 * k))},{5 + 0.01 * k}" for k in range(60)]
            made = bring(raw(lines), "ride.csv", EXPECT).data
            self.assertAlmostEqual(made.seconds, 29.5, places=3)

    def test_cells_that_are_no_numbers_are_counted(self):
        lines = table()
        lines[5] = lines[5].replace("38.0", "oops")
        made = bring(raw(lines), "ride.csv", EXPECT).data
        self.assertTrue(any("pack V" in words and "no number" in words for words in made.told), made.told)
        self.assertTrue(math.isnan(made.column("bus_v")[4]))

    def test_lines_with_more_cells_are_told(self):
        lines = table()
        lines[9] += ",99"
        self.assertTrue(any("more cells" in words for words in bring(raw(lines), "ride.csv", EXPECT).data.told))

    def test_what_is_no_log_gets_a_sentence(self):
        for name, content in (("empty", b"  "), ("bytes", b"\x00\x01" * 40), ("words", b"a\nb\nc\n"), ("one", b"time,speed\n1,2\n")):
            with self.subTest(name=name), self.assertRaises((FileError, InputError)):
                bring(content, f"{name}.csv", EXPECT)

    def test_a_reader_can_be_given_up(self):
        with self.assertRaises(Cancelled):
            read_table(raw(table(3000)), "ride.csv", cancelled=lambda: True)


class ProposalTests(unittest.TestCase):
    def test_a_speed_without_a_unit_takes_the_one_that_turns_agree_with(self):
        lines = table(heads="time,speed,motor A,pack A,pack V,duty,erpm")
        found = next(one for one in bring(raw(lines), "r.csv", EXPECT).proposed if one.column.channel == "speed")
        self.assertEqual((found.column.unit, found.how), ("km/h", "range"))
        self.assertIn("agrees with the motor's turns", found.said)

    def test_maps_either_way_round_and_their_refusals(self):
        lines = table(heads="time [s],x1,motor A,pack A,pack V,duty,erpm")
        for text in ("speed:km/h=x1", "x1=speed:km/h"):
            made = bring(raw(lines), "r.csv", EXPECT, maps=[text]).data
            self.assertAlmostEqual(float(made.column("speed")[0]), 6.0, places=3)
        for text in ("speed=nohead", "speed", "warp=x1", "speed:V=x1"):
            with self.subTest(text=text), self.assertRaises(InputError):
                bring(raw(lines), "r.csv", EXPECT, maps=[text])

    def test_columns_of_a_layout_are_remembered(self):
        lines = table(heads="time [s],x1,motor A,pack A,pack V,duty,erpm")
        known = (LogColumn(head="x1", channel="speed", unit="km/h"),)
        made = bring(raw(lines), "r.csv", EXPECT, known=known)
        self.assertEqual(next(one.how for one in made.proposed if one.column.head == "x1"), "remembered")
        self.assertEqual(header_of(made.table.heads), made.data.log.header)


class FoundWrongTests(unittest.TestCase):
    def told(self, lines: list[str]) -> tuple[str, ...]:
        return bring(raw(lines), "ride.csv", EXPECT).data.told

    def test_a_good_table_has_nothing_to_tell(self):
        made = bring(raw(table()), "ride.csv", EXPECT).data
        self.assertEqual((made.told, made.doubts), ((), ()))

    def test_a_unit_for_another_is_told_and_not_mended(self):
        made = bring(raw(table(heads="time [s],speed [m/s],motor A,pack A,pack V,duty,erpm")), "ride.csv", EXPECT).data
        self.assertTrue(any("km/h where m/s is told" in words for words in made.doubts), made.told)
        self.assertAlmostEqual(float(made.column("speed")[0]), 21.6, places=2)

    def test_phase_amps_for_pack_amps_and_amps_of_one_controller(self):
        lines = [line.split(",") for line in table()]
        copied = [",".join([*row[:3], row[2] if k else row[3], *row[4:]]) for k, row in enumerate(lines)]
        self.assertTrue(any("as large as motor amps" in words for words in self.told(copied)))
        half = [",".join([*row[:3], f"{float(row[3]) / 2:.3f}" if k else row[3], *row[4:]]) for k, row in enumerate(lines)]
        self.assertTrue(any("one controller" in words for words in self.told(half)), self.told(half))

    def test_another_pack_is_told(self):
        high = [line.replace(",38.0,", ",52.0,") for line in table()]
        self.assertTrue(any("full pack of this design" in words for words in self.told(high)))

    def test_gaps_resets_duplicates_and_jumps(self):
        lines = table()
        self.assertTrue(any("gap" in words for words in self.told(lines[:100] + lines[160:])))
        self.assertTrue(any("begins again" in words for words in self.told(lines + lines[1:200])))
        self.assertTrue(any("time of the one before" in words for words in self.told(lines[:50] + lines[49:])))
        late = lines[:200] + [f"{float(line.split(',', 1)[0]) + 900:.2f},{line.split(',', 1)[1]}" for line in lines[200:]]
        self.assertTrue(any("jumps on by 900" in words for words in self.told(late)), self.told(late))

    def test_rows_out_of_order_are_put_in_order_and_told(self):
        time = np.arange(100) * 0.1
        time[[40, 41]] = time[[41, 40]]
        found = set_clock(time, False)
        self.assertTrue(np.all(np.diff(found.time) > 0.0))
        self.assertIn("falls back", found.told[0])

    def test_a_coarse_clock_under_faster_rows_is_spread(self):
        found = set_clock(np.repeat(np.arange(30.0), 5), False)
        self.assertTrue(np.all(np.diff(found.time) > 0.0))
        self.assertAlmostEqual(found.time[-1], 29.8, places=6)

    def test_spikes_are_kept_for_drawing_and_left_out_of_learning(self):
        lines = table()
        cells = lines[200].split(",")
        cells[1] = "140.0"
        lines[200] = ",".join(cells)
        made = bring(raw(lines), "ride.csv", EXPECT).data
        self.assertTrue(any("spike" in words for words in made.told), made.told)
        self.assertAlmostEqual(float(made.column("speed")[199]), 140.0 / 3.6, places=3)
        self.assertTrue(math.isnan(made.clean("speed")[199]))

    def test_a_thousand_mutated_tables_give_a_sentence_or_a_correct_import(self):
        rng = random.Random(4)
        good = bring(raw(table(60)), "ride.csv", EXPECT).data
        silent = 0
        for _ in range(1000):
            mutated = mutate(table(60), rng)
            try:
                made = bring(mutated, "ride.csv", EXPECT).data
            except WattagonError as refusal:
                self.assertTrue(str(refusal))
                continue
            if made.told or "speed" not in made.columns or made.samples < 30:
                continue
            silent += 1
            # nothing was told: then speeds are those of the table, in their unit
            self.assertLess(abs(float(np.nanmedian(made.column("speed"))) - float(np.nanmedian(good.column("speed")))), 0.6, mutated[:300])
        self.assertGreater(silent, 50)


def mutate(lines: list[str], rng: random.Random) -> bytes:
    """A table with one to three things wrong."""
    for _ in range(rng.randint(1, 3)):
        if not lines:
            break
        kind = rng.randrange(12)
        k = rng.randrange(len(lines)) if lines else 0
        if kind == 0 and lines:
            lines = lines[:k] + lines[k + 1 :]
        elif kind == 1 and lines:
            lines[k] = lines[k][: rng.randrange(len(lines[k]) + 1)]
        elif kind == 2:
            lines[0] = lines[0].replace("[km/h]", rng.choice(["[m/s]", "", "[mph]", "[V]", "[kn]"]))
        elif kind == 3 and lines:
            lines[k] = lines[k].replace(",", rng.choice([";", "\t", " "]), rng.randint(1, 4))
        elif kind == 4 and lines:
            at = rng.randrange(len(lines[k]) + 1)
            lines[k] = lines[k][:at] + rng.choice(["\x00", "é", '"', "NaN", "-", "1e400", "--", "1,2"]) + lines[k][at:]
        elif kind == 5:
            rng.shuffle(lines)
        elif kind == 6:
            lines = lines[:k] + lines[k:] * 2
        elif kind == 7:
            lines = [line.replace(".", ",") for line in lines]
        elif kind == 8:
            lines = ["x"] * rng.randint(1, 30) + lines
        elif kind == 9 and lines:
            cells = lines[k].split(",")
            rng.shuffle(cells)
            lines[k] = ",".join(cells)
        elif kind == 10:
            lines[0] = lines[0].replace("time [s]", rng.choice(["time [ms]", "t", "clock", "zeit", "other"]))
        else:
            lines = lines[: rng.randrange(len(lines) + 1)]
    text = "\n".join(lines)
    return text.encode(rng.choice(["utf-8", "latin-1", "utf-16"]), "replace")


class KeepingTests(unittest.TestCase):
    def test_a_file_is_kept_as_it_was_and_read_again(self):
        content = raw(table())
        made = bring(content, "ride.csv", EXPECT)
        member = packed(content)
        self.assertEqual(gzip.decompress(member), content)
        data = again(made.data.log, {made.data.log.member: member}, EXPECT)
        self.assertEqual(data.told, made.data.told)
        np.testing.assert_array_equal(data.column("pack_a"), made.data.column("pack_a"))

    def test_another_file_or_a_damaged_one_is_refused(self):
        content = raw(table())
        log = bring(content, "ride.csv", EXPECT).data.log
        with self.assertRaisesRegex(FileError, "checksum"):
            again(log, {log.member: packed(content + b"\n0,0,0,0,0,0,0")}, EXPECT)
        with self.assertRaisesRegex(FileError, "not in the file"):
            again(log, {}, EXPECT)
        with self.assertRaisesRegex(FileError, "damaged"):
            unpacked(packed(content)[:-9], "ride.csv")


class RoomTests(unittest.TestCase):
    def test_logs_that_are_not_named_any_more_are_not_written_and_too_many_are_refused(self):
        design = demo()
        orphan, other = f"logs/{'0' * 16}.csv.gz", "logs/notes.csv"
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.wattagon"
            file.write(path, file.Document(design=design, members={orphan: b"x", other: b"kept"}))
            self.assertEqual(set(file.read(path).members), {other})
        with self.assertRaisesRegex(FileError, "take another log out"):
            file.check_room({f"{k}.gz": bytes(9_000_000) for k in range(4)})


class TrackTests(unittest.TestCase):
    def gpx(self, times: bool = True) -> bytes:
        begin = datetime(2026, 5, 1, 8, 0, 0, tzinfo=UTC)
        points = []
        for k in range(80):
            stamp = f"<time>{(begin + timedelta(seconds=k)).isoformat().replace('+00:00', 'Z')}</time>" if times else ""
            points.append(f'<trkpt lat="{53 + 5.0 * k / 111194.9:.8f}" lon="8"><ele>{4 + 0.1 * k:.1f}</ele>{stamp}</trkpt>')
        return f'<gpx version="1.1" creator="x"><trk><trkseg>{"".join(points)}</trkseg></trk></gpx>'.encode()

    def test_speed_and_heights_of_a_track(self):
        made = bring(self.gpx(), "t.gpx", EXPECT).data
        self.assertAlmostEqual(float(np.median(made.column("speed"))), 5.0, places=2)
        self.assertAlmostEqual(float(made.column("elevation")[10]), 5.0, places=3)
        self.assertEqual(made.log.kind.value, "track")

    def test_a_track_without_times_is_no_log(self):
        with self.assertRaisesRegex(FileError, "no times"):
            bring(self.gpx(False), "t.gpx", EXPECT)


class StopwatchTests(unittest.TestCase):
    def test_as_it_is_told(self):
        runs = read_timed("0 to 20 km/h in 7 s, three times, up and down")
        self.assertEqual([(one.seconds, one.way) for one in runs], [(7.0, "up")] * 3 + [(7.0, "down")] * 3)
        self.assertAlmostEqual(runs[0].end, 20 / 3.6)
        self.assertEqual([one.seconds for one in read_timed("from 0 to 15 mph in 7.1, 6.9, 7.4 s")], [7.1, 6.9, 7.4])
        self.assertEqual([one.way for one in read_timed("0-20 km/h: 7.1; 7.3; 7.0; 7.4 s, up and down")], ["up", "down", "up", "down"])

    def test_what_is_none_is_refused(self):
        for text in ("", "fast", "0 to 20 in", "20 to 20 km/h in 3 s", "0 to 20 km/h in 0 s", "0 to 20 km/h in 7, 8 s, three times"):
            with self.subTest(text=text), self.assertRaises(InputError):
                read_timed(text)
        self.assertFalse(looks_timed("ride.csv"))
        self.assertTrue(looks_timed("0 to 20 km/h in 7 s"))


if __name__ == "__main__":
    unittest.main()
