"""Courses from tracks and tables, good and bad."""

import math
import os
import tempfile
import time
import unittest
from pathlib import Path

from wattagon.design import file
from wattagon.design.paths import put
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.errors import FileError
from wattagon.exchange.track import read_track

HEAD = '<?xml version="1.0"?><gpx version="1.1" creator="made up" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
TAIL = "</trkseg></trk></gpx>"


def gpx(points):
    """Points (north in m, height or None) as a track."""
    rows = []
    for north, height in points:
        ele = "" if height is None else f"<ele>{height}</ele>"
        rows.append(f'<trkpt lat="{54.0 + math.degrees(north / 6371008.8):.8f}" lon="9.0">{ele}</trkpt>')
    return HEAD + "".join(rows) + TAIL


class TrackTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def read(self, name, text, speed=5.0):
        path = self.folder / name
        path.write_text(text, encoding="utf-8")
        return read_track(path, speed_m_s=speed)

    def test_a_steady_hill_keeps_its_length_and_grade(self):
        track = self.read("hill.gpx", gpx([(x, 0.06 * x) for x in range(0, 1001, 10)]))
        legs = track.course.legs
        self.assertAlmostEqual(sum(leg.length for leg in legs), 1000.0, delta=1.0)
        middle = legs[len(legs) // 2]
        self.assertAlmostEqual(middle.grade, 0.06, delta=0.003)
        self.assertEqual(track.notes, ())

    def test_a_spike_is_spread_and_told(self):
        points = [(x, 40.0 if x == 500 else 0.0) for x in range(0, 1001, 10)]
        track = self.read("spike.gpx", gpx(points))
        self.assertLess(max(abs(leg.grade) for leg in track.course.legs), 0.2)
        self.assertTrue(any("jumps" in note for note in track.notes), track.notes)

    def test_missing_heights_and_gaps_are_told(self):
        track = self.read("none.gpx", gpx([(x, None) for x in range(0, 301, 10)]))
        self.assertIn("ridden as flat", track.notes[0])
        self.assertEqual({leg.grade for leg in track.course.legs}, {0.0})
        track = self.read("some.gpx", gpx([(0, 0.0), (100, None), (200, 2.0), (1200, 3.0)]))
        self.assertTrue(any("gap of 1000 m" in note for note in track.notes))
        self.assertTrue(any("1 points without elevation" in note for note in track.notes))

    def test_a_table_with_speeds(self):
        track = self.read("t.csv", "distance_m,elevation_m,speed_m_s\n0,0,4\n500,0,4\n1000,0,8\n")
        self.assertAlmostEqual(track.course.legs[0].speed, 4.0, delta=0.1)
        self.assertGreater(track.course.legs[-1].speed, 7.0)

    def test_bad_files_are_refused_with_the_place(self):
        for name, text, words in (
            ("a.gpx", "<gpx><trk>", "cannot be read as GPX"),
            ("b.gpx", HEAD + TAIL, "0 track points"),
            ("c.csv", "a,b\n1,2\n3,4\n", "distance_m"),
            ("d.csv", "distance_m,elevation_m\n0,0\nx,1\n5,5\n", "row 3"),
            ("e.csv", "distance_m\n0\n100\n50\n", "row 4"),
            ("f.csv", "distance_m\n0\n1\n2\n", "accepted: 10 m to 1000 km"),
            ("g.txt", "", "0 rows"),
            ("h.kml", "", "accepted"),
        ):
            with self.assertRaisesRegex(FileError, words, msg=name):
                self.read(name, text)
        with self.assertRaises(FileError):
            read_track(self.folder / "not-there.gpx", speed_m_s=5.0)


def at(points):
    """(lat, lon) in degrees as a track; flat."""
    return HEAD + "".join(f'<trkpt lat="{lat}" lon="{lon}"><ele>0</ele></trkpt>' for lat, lon in points) + TAIL


def eastwards(lat, lon, count, step_m=10.0):
    """Points on a parallel, a step apart; past the date line they go on from -180."""
    step = math.degrees(step_m / (6371008.8 * math.cos(math.radians(lat))))
    return [(lat, (lon + step * k + 180.0) % 360.0 - 180.0) for k in range(count)]


class LostFixTest(unittest.TestCase):
    """Receivers lose their fix and say so in many ways."""

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.good = eastwards(54.0, 9.0, 101)

    def read(self, points):
        path = self.folder / "t.gpx"
        path.write_text(at(points))
        return read_track(path, speed_m_s=5.0)

    def length(self, track):
        return sum(leg.length for leg in track.course.legs)

    def with_lost(self, lost):
        points = list(self.good)
        points[40:40] = lost
        return self.read(points)

    def test_each_kind_of_lost_fix_is_set_aside_and_told(self):
        for lost, words in (
            ([(0, 0)], "1 point at 0, 0"),
            ([(0, 0)] * 30, "30 points at 0, 0"),
            ([("nan", 9.0)], "1 point without a place"),
            ([(54.0, "inf")], "without a place"),
            ([(97.0, 9.0), (54.0, 181.0)], "2 points without a place"),
            ([(90.0, 0.0), (-90.0, 180.0)], "2 points at a pole"),
            ([(54.0, 9.3)], "1 point far off its neighbours"),
            ([(53.0, 9.0)] * 5, "5 points far off"),
        ):
            with self.subTest(words):
                track = self.with_lost(lost)
                self.assertAlmostEqual(self.length(track), 1000.0, delta=2.0)
                self.assertIn(words, "; ".join(track.notes))

    def test_a_ride_over_the_date_line_is_a_ride(self):
        track = self.read(eastwards(-17.0, 179.996, 101))
        self.assertAlmostEqual(self.length(track), 1000.0, delta=2.0)
        self.assertEqual(track.notes, ())

    def test_a_ride_at_the_equator_and_the_first_meridian_is_a_ride(self):
        self.assertAlmostEqual(self.length(self.read([(0.0, k * 9e-7) for k in range(-50, 51)])), 10.0, delta=0.1)

    def test_a_gap_that_is_no_ride_leaves_the_longest_piece(self):
        track = self.read([*eastwards(54.0, 9.0, 30), *eastwards(40.0, 3.0, 80)])
        self.assertAlmostEqual(self.length(track), 790.0, delta=2.0)
        self.assertIn("the longest piece was taken, 30 points were set aside", "; ".join(track.notes))

    def test_coarse_points_of_a_route_and_its_way_back_stay(self):
        out = eastwards(54.0, 9.0, 12, 900.0)
        track = self.read([*out, *out[-2::-1]])
        self.assertAlmostEqual(self.length(track), 22 * 900.0, delta=30.0)
        self.assertNotIn("far off", "; ".join(track.notes))

    def test_a_long_track_gets_no_more_legs_than_can_be_handled(self):
        rolling = "".join(f'<trkpt lat="{54 + k * 0.01}" lon="9"><ele>{50 * math.sin(k / 3)}</ele></trkpt>' for k in range(500))
        path = self.folder / "long.gpx"
        path.write_text(HEAD + rolling + TAIL)
        track = read_track(path, speed_m_s=5.0)
        self.assertLessEqual(len(track.course.legs), 4000)
        self.assertAlmostEqual(self.length(track), 499 * 1111.95, delta=200)

    def test_too_long_is_refused_and_so_is_what_has_no_two_points_left(self):
        with self.assertRaisesRegex(FileError, "accepted: 10 m to 1000 km"):
            self.read([(k * 0.04, 10.0) for k in range(-600, 600)])
        with self.assertRaisesRegex(FileError, "1 points on the earth"):
            self.read([(54.0, 9.0), ("nan", 9.0), (95.0, 9.0)])

    def test_wild_heights_are_taken_as_unknown(self):
        path = self.folder / "h.gpx"
        path.write_text(gpx([(x, 1e7 if x == 500 else "nan" if x == 600 else 3.0) for x in range(0, 1001, 10)]))
        track = read_track(path, speed_m_s=5.0)
        self.assertEqual({leg.grade for leg in track.course.legs}, {0.0})
        self.assertIn("1 point more than 9000 m high or deep was taken as without elevation", "; ".join(track.notes))

    def test_names_that_no_path_could_hold(self):
        for name in ("Übers Moor – hin & zurück.gpx", "12.gpx", "--.gpx", "n" * 200 + ".gpx", "\u2028.gpx"):
            with self.subTest(name[:12]):
                path = self.folder / name
                path.write_text(at(self.good))
                course = read_track(path, speed_m_s=5.0).course
                design = put(new_design(VehicleKind.BIKE), "brief.courses", (course,))
                self.assertEqual(file.from_json(file.to_json(design)), design)


class HostileTrackTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_each_is_a_sentence_soon(self):
        entity = '<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><gpx>&b;</gpx>'
        cases = {
            "deep.gpx": ("<gpx>" + "<a>" * 200_000, "deep"),
            "entity.gpx": (entity, "declares entities"),
            "many.gpx": (HEAD + '<trkpt lat="1" lon="1"/>' * 100_001 + TAIL, "more than 100000 points"),
            "utf.gpx": (b"\xff\xfe\x00", "cannot be read as GPX"),
            "number.gpx": (HEAD + '<trkpt lat="one" lon="1"/><trkpt lat="1" lon="1"/>' + TAIL, "cannot be read as GPX"),
            "rows.csv": ("distance_m\n" + "1\n" * 100_001, "accepted: up to 100000"),
            "wide.csv": ("x" * 200_000 + "\n1\n2\n", "cannot be read as CSV"),
            "nan.csv": ("distance_m\n0\nnan\n5\n", "row 3"),
            "inf.csv": ("distance_m\n0\n5\ninf\n", "row 4"),
            "far.csv": ("distance_m\n0\n5\n1e12\n", "1000 km"),
        }
        for name, (content, words) in cases.items():
            with self.subTest(name):
                path = self.folder / name
                path.write_bytes(content if isinstance(content, bytes) else content.encode())
                start = time.process_time()
                with self.assertRaisesRegex(FileError, words) as caught:
                    read_track(path, speed_m_s=5.0)
                self.assertLess(time.process_time() - start, 2.0)
                self.assertLess(len(str(caught.exception)), 400)

    def test_pipes_are_not_waited_for(self):
        for name in ("pipe.gpx", "pipe.csv"):
            os.mkfifo(self.folder / name)
            with self.assertRaisesRegex(FileError, "a pipe"):
                read_track(self.folder / name, speed_m_s=5.0)
