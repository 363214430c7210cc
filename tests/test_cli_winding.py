"""`wattagon winding` and its sheet, as a person or a script uses them."""

import contextlib
import io
import json
import math
import tempfile
import unittest
import xml.etree.ElementTree as ET
from pathlib import Path

from tests.design.malformed import DEMO
from tests.study.winding.rewound import POD, board
from wattagon.cli import main
from wattagon.design import file

PUNT, DUNLIN = str(DEMO / "garganey.json"), str(DEMO / "dunlin.json")


class WindingCommandTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def run_it(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(("winding", *arguments))
        return code, out.getvalue(), err.getvalue()

    def data(self, *arguments: str):
        code, out, err = self.run_it(*arguments, "--json")
        self.assertEqual(code, 0, err)
        return json.loads(out)

    def test_keys_that_were_promised(self):
        data = self.data(PUNT, "--variant", "B")
        self.assertLessEqual({"kv", "turns", "connection", "resistance_ohm"}, set(data["now"]))
        keys = {"turns", "strands", "wire_mm", "connection", "paths", "kv", "resistance_ohm", "fill", "wire_m", "copper_kg", "lasting_a"}
        for option in data["options"]:
            self.assertLessEqual(keys, set(option))
        self.assertEqual((data["now"]["kv"], data["now"]["turns"], data["now"]["connection"]), (180.0, 7, "wye"))
        self.assertEqual(data["pattern"], "ACcbBAacCBba")
        self.assertAlmostEqual(data["winding_factor"], 0.93301, places=5)
        self.assertEqual(data["halls"]["slots"], [0, 4, 8])
        self.assertAlmostEqual(data["halls"]["spacing_deg"], 120.0)
        for field in ("stator.slots", "stator.poles", "stator.slot_area", "now.strands", "now.wire"):
            self.assertIn(f"variants.B.winding.{field}", data["inputs"])
        self.assertEqual(data["inputs"]["variants.B.winding.stator.slot_area"]["unit"], "m2")

    def test_turns_and_their_companions_make_the_first_option(self):
        path = self.folder / "board.wattagon"
        file.write(path, file.Document(design=board()))
        data = self.data(str(path), "--turns", "20", "--strands", "4", "--wire", "0.5", "--connection", "delta")
        first = data["options"][0]
        self.assertEqual([first[key] for key in ("turns", "strands", "wire_mm", "connection", "paths")], [20, 4, 0.5, "delta", 1])
        self.assertAlmostEqual(first["kv"], 230.36, delta=0.01)
        now = data["now"]
        self.assertAlmostEqual(first["resistance_ohm"] / now["resistance_ohm"], 20 / 14 * 6 / 4 / 3, places=9)
        # 5 % spare in the wire, none in the copper
        metres = first["copper_kg"] / 8960.0 / (math.pi / 4 * 0.5e-3**2)
        self.assertAlmostEqual(first["wire_m"], 1.05 * metres, places=6)
        self.assertAlmostEqual(first["fill"], 2 * 20 * 4 * math.pi / 4 * 0.25 / 80, places=9)
        careless = self.data(str(path), "--turns", "20", "--strands", "4", "--wire", "0,5mm", "--connection", " DELTA ")
        self.assertEqual(careless["options"][0], first)
        for wire in ("0.0005", "0.5 mm", "500 µm", "0,5"):
            self.assertAlmostEqual(self.data(str(path), "--turns", "20", "--wire", wire)["options"][0]["wire_mm"], 0.5, places=9)

    def test_an_asked_kv_is_what_options_are_near_to(self):
        data = self.data(DUNLIN, "--kv", "140rpm/v")
        self.assertEqual((data["wanted"]["kv"], data["wanted"]["by"]), (140.0, "asked"))
        offs = [abs(math.log(option["kv"] / 140.0)) for option in data["options"]]
        self.assertEqual(offs, sorted(offs))
        self.assertEqual({way["code"] for way in data["ways"]}, {"nothing", "termination", "rewind", "reduction"})
        self.assertEqual(sum(option["advised"] for option in data["options"]), 1)
        best = self.data(DUNLIN)
        self.assertEqual(best["wanted"]["by"], "fits best")

    def test_impossible_ones_and_careless_typing_end_with_two_and_a_sentence(self):
        for arguments, words in (
            (("--turns", "90", "--strands", "30", "--wire", "1"), "turns and strands is 90 x 30 of 1 mm; accepted: up to"),
            (("--turns", "0"), "--turns is '?0'?; accepted"),
            (("--turns", "x"), "--turns is 'x'"),
            (("--turns", "2.5"), "--turns"),
            (("--turns", "5", "--paths", "3"), "paths is 3; accepted: 1, 2"),
            (("--connection", "star"), "--connection is '?star'?; accepted: wye or delta"),
            (("--wire", "9"), "--wire is '?9'?; accepted: 0.05 to 5 mm"),
            (("--wire", "nan"), "--wire"),
            (("--kv", "0"), "--kv is '?0'?; accepted: 1 to 20000"),
            (("--kv", "inf"), "--kv"),
            (("--set", "variant.winding.stator.slots=14"), "slots that divide by 3"),
            (("--set", "variant.motor.part=brushed-105x140-80"), "a brushless motor"),
            (("--layers", "1", "--set", "variant.winding.stator.slots=15"), "divide by 6"),
        ):
            code, out, err = self.run_it(DUNLIN, *arguments, "--json")
            self.assertEqual((code, out), (2, ""), arguments)
            self.assertRegex(err, words)
            self.assertEqual(len(err.strip().splitlines()), 1)

    def test_words_for_people(self):
        code, out, _ = self.run_it(PUNT, "--variant", "B")
        self.assertEqual(code, 0)
        for words in ("12N14P", "advised: 12 turns", "rewind ", "reduction ", "after teeth 1-5-9", "caution", "wye: 100 of 100"):
            self.assertIn(words, out)

    def test_a_sheet_at_one_to_one(self):
        svg, pdf = self.folder / "p.svg", self.folder / "p.pdf"
        code, _, err = self.run_it(PUNT, "--variant", "B", "--svg", str(svg), "--pdf", str(pdf))
        self.assertEqual(code, 0, err)
        root = ET.fromstring(svg.read_text(encoding="utf-8"))
        width = root.attrib["width"]
        self.assertTrue(width.endswith("mm"))
        box = [float(one) for one in root.attrib["viewBox"].split()]
        self.assertAlmostEqual(float(width[:-2]), box[2], places=3, msg="a unit of the drawing is a millimetre")
        texts = [one.text for one in root.iter("{http://www.w3.org/2000/svg}text")]
        for tooth, letter in enumerate("ACcbBAacCBba", 1):
            self.assertIn(f"{tooth}{letter}", texts)
        self.assertIn("H3", texts)
        # teeth reach to the measured 46.2 mm over their tips
        reach = 0.0
        for polygon in root.iter("{http://www.w3.org/2000/svg}polygon"):
            if polygon.attrib["fill"] == "#ece7da":
                points = [[float(one) for one in pair.split(",")] for pair in polygon.attrib["points"].split()]
                reach = max(reach, *(math.dist(point, (0.5 * box[2], 0.5 * box[2])) for point in points))
        self.assertAlmostEqual(reach, 23.1, delta=0.05)
        self.assertTrue(pdf.read_bytes().startswith(b"%PDF"))
        code, _, err = self.run_it(PUNT, "--svg", str(self.folder / "no" / "such" / "p.svg"))
        self.assertEqual(code, 2)

    def test_a_file_keeps_all_of_it(self):
        path = self.folder / "pod.wattagon"
        file.write(path, file.Document(design=POD))
        again = file.read(path).design
        self.assertEqual(again.variant().winding, POD.variant().winding)
        self.assertEqual(again, POD)


if __name__ == "__main__":
    unittest.main()
