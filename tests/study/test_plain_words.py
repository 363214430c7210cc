"""Field terms in plain words: whole, filled with the design's own numbers, in the user's units."""

import ast
import re
import unittest
from pathlib import Path

from tests.design.malformed import DEMO
from tests.study.rule_case import BOARD, STOCK
from wattagon.design import file
from wattagon.design.paths import put
from wattagon.exchange.units import say
from wattagon.study.drive.study import study_drive
from wattagon.study.plain.terms import NOT_TOLD, explain, find, names_in, terms, values_of

SOURCE = Path(__file__).resolve().parents[2] / "src" / "wattagon"
FLEET = [file.read(path).design for path in sorted(DEMO.glob("*.json"))]


class TermsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.told = [(design, values_of(study_drive(design, STOCK), say)) for design in FLEET]

    def test_each_is_two_sentences_and_every_spelling_stands_for_one(self):
        spellings = [word.lower() for term in terms() for word in (term.name, *term.also)]
        self.assertEqual(len(spellings), len(set(spellings)))
        for term in terms():
            for sentence in (term.says, term.here):
                self.assertRegex(sentence, r"^[A-Z{].*[^.]\.$", term.name)
                self.assertNotRegex(re.sub(r"\{\w+\}", "", sentence), r"\.\s+[A-Z]", f"{term.name}: one sentence each")
            self.assertLess(len(term.says), 200, term.name)
            self.assertIn(term.on, ("", "wheels", "water"))

    def test_every_number_has_a_name_that_some_design_fills(self):
        known = set().union(*(values for _, values in self.told))
        for term in terms():
            self.assertLessEqual(set(names_in(term.here)), known, term.name)
        used = {name for term in terms() for name in names_in(term.here)}
        self.assertLessEqual({"kv", "sag", "top_duty", "ratio", "wake", "dock"}, used)

    def test_on_every_design_they_are_whole(self):
        for design, values in self.told:
            for term in terms():
                if term.fits(floats=design.vehicle.kind.floats):
                    words = explain(term, values)
                    self.assertNotRegex(words, r"[{}]|\bnan\b|\binf\b|None", term.name)
            self.assertIn(NOT_TOLD, explain(find("kv"), {}))

    def test_the_number_is_the_designs_own_in_the_users_units(self):
        for kv in (150.0, 210.0):
            study = study_drive(put(BOARD, "variant.motor.kv_rpm_per_v", kv), STOCK)
            self.assertIn(f"Yours turns {kv:g} rpm/V", explain(find("kv"), values_of(study, say)))
        study = study_drive(BOARD, STOCK)
        pack = study.resolved.train.pack
        sag = float(pack.burst_ohm) * 30.0 * 2
        self.assertIn(say(sag, "voltage"), explain(find("sag"), values_of(study, say)))
        imperial = values_of(study, lambda value, dimension: say(value, dimension, "imperial"))
        self.assertIn("lbf", explain(find("pull"), imperial))

    def test_words_that_a_first_builder_stumbles_over_are_there(self):
        for word in (
            "kv",
            "duty",
            "electrical speed",
            "sag",
            "wrap",
            "cutback",
            "phase amps",
            "delta",
            "cavitation",
            "regen",
            "10S4P",
            "grip",
            "slip",
        ):
            self.assertIsNotNone(find(word), word)
        self.assertIs(find(" Phase  AMPS "), find("motor amps"))
        self.assertIsNone(find("flux capacitor"))

    def test_each_stands_somewhere_on_the_screens(self):
        texts = " ".join(
            path.read_text(encoding="utf-8").lower() for room in ("desk", "study", "design") for path in (SOURCE / room).rglob("*.py")
        )
        for term in terms():
            spelled = [word for word in (term.name, *term.also) if word.lower() in texts]
            self.assertTrue(spelled, f"{term.name} stands nowhere")


if __name__ == "__main__":
    unittest.main()


# terms of the field that a first builder does not bring along; what stands in a text of the program has to be explained
OF_THE_FIELD = (
    "kv|duty|electrical speed|pole pairs|motor amps|phase amps|pack amps|sag|internal resistance|capacity|cutback|cut-off|cutoff|"
    "balance|pre-charge|fuse|ripple|regeneration|regen|reduction|teeth in mesh|wrap|pitch|jackshaft|freewheel|pull|thrust|grade|"
    "rolling resistance|drag area|grip|headwind|no-load current|wye|delta|winding factor|fill|Hall|cogging|taper|boost|chemistry|"
    "margin|slip|wake|bollard|hump|freeboard|back-EMF|idler|jump|creep|preload|bolt circle|set screw|yield|fatigue|proof|whirl|"
    "transom|skeg|shear pin|star of slots|slot|strand|liner|throttle curve|dead band|ramp|jerk|bus|coast-down|contactor|loop key|"
    "brick|key|D-shaped bore|flange|torque arm|dropout|crimp|lug|gland|cell group|tension|tone|overhung|inductance|phase leads|"
    "insulation|spark|load case|mode|cassette|cog|cadence|anode|bridge"
)


class OnScreenTest(unittest.TestCase):
    def test_every_term_of_the_field_that_the_program_says_is_explained(self):
        said = texts_of("desk") | texts_of("study")
        self.assertGreater(len(said), 3000)
        standing = [word for word in re.split(r"\|", OF_THE_FIELD) if _stands(word, said)]
        self.assertGreater(len(standing), 85)
        for word in standing:
            self.assertIsNotNone(find(word), f"{word}: it stands on a screen without being explained")


def _stands(word, said):
    return any(re.search(rf"(?<![a-z]){re.escape(word.lower())}s?(?![a-z])", text) for text in said)


def texts_of(room):
    """Texts with more than one word in the sources of a room, docstrings left out, in small letters."""
    found = set()
    for path in (SOURCE / room).rglob("*.py"):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        docs = set()
        for node in ast.walk(tree):
            if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef)) and node.body:
                first = node.body[0]
                if isinstance(first, ast.Expr) and isinstance(first.value, ast.Constant):
                    docs.add(id(first.value))
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docs and " " in node.value:
                found.add(node.value.lower())
    return found
