"""Courses from tracks and tables, good and bad."""

import math
import tempfile
import unittest
from pathlib import Path

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
            ("a.gpx", "<gpx><trk>", "cannot be read as GPX"), ("b.gpx", HEAD + TAIL, "0 track points"), ("c.csv", "a,b\n1,2\n3,4\n", "distance_m"),
            ("d.csv", "distance_m,elevation_m\n0,0\nx,1\n5,5\n", "row 3"), ("e.csv", "distance_m\n0\n100\n50\n", "row 4"), ("f.csv", "distance_m\n0\n1\n2\n", "10 m or more"),
            ("g.txt", "", "0 rows"), ("h.kml", "", "accepted"),
        ):  # fmt: skip
            with self.assertRaisesRegex(FileError, words, msg=name):
                self.read(name, text)
        with self.assertRaises(FileError):
            read_track(self.folder / "not-there.gpx", speed_m_s=5.0)
