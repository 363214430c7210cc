"""Why: equations that come from the code give the number again, lead to the fields, and are named as JSON names results."""

import contextlib
import io
import json
import math
import random
import unittest

from tests.logs import STOCK, demo
from wattagon.cli import main
from wattagon.design import paths
from wattagon.design.paths import put
from wattagon.errors import InputError
from wattagon.exchange.units import say
from wattagon.exchange.why.answers import gather, numbers_in, text_of, value_text, why_data, working_of
from wattagon.exchange.why.subjects import SUBJECTS, WITHOUT
from wattagon.study.drive.study import study_drive
from wattagon.study.studies import STUDIES
from wattagon.study.why.words import FIELDS
from wattagon.study.why.working import readable, worked_out
from wattagon.traced import GIVEN, Traced, TracedInt

DEMO = "src/wattagon/stock/demo/dunlin.json"
THIRTY = [
    "motor.kt_dc_nm_per_a",
    "motor.kt_q_nm_per_a",
    "motor.resistance_ohm",
    "ratio",
    "wheel_radius_m",
    "mass_kg",
    "states.full.open_circuit_v",
    "states.full.top_speed_m_s",
    "states.full.top_speed_duty",
    "states.full.standstill_force_n",
    "states.full.wheel_torque_nm",
    "states.full.max_grade",
    "states.full.power_at_top_w",
    "states.nominal.open_circuit_v",
    "states.nominal.top_speed_m_s",
    "states.nominal.standstill_force_n",
    "states.nominal.wheel_torque_nm",
    "states.nominal.max_grade",
    "states.nominal.power_at_top_w",
    "states.low.top_speed_m_s",
    "states.low.power_at_top_w",
    "goals.cruise.reached",
    "goals.cruise.margin",
    "goals.ramp.reached",
    "goals.start.reached",
    "goals.sprint.reached",
    "goals.round.reached",
    "goals.budget.reached",
    "goals.mass.reached",
    "goals.round.margin",
]


def again(one):
    return worked_out(one.equation, {term.symbol: term.value for term in one.terms})


class EquationTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = gather(demo("dunlin"), STOCK)

    def test_thirty_results_of_solve_come_out_of_their_equations_again(self):
        shown = study_drive(demo("dunlin"), STOCK)
        self.assertEqual(len(THIRTY), 30)
        for name in THIRTY:
            with self.subTest(name):
                one = self.found.working(name)
                self.assertTrue(one.equation, "it has an equation")
                self.assertTrue(one.terms)
                self.assertAlmostEqual(again(one), one.value, delta=1e-9 * abs(one.value))
        reached = {one.goal.id: one.reached for one in shown.goals}
        for name in ("cruise", "ramp", "start", "sprint", "round", "budget", "mass"):
            self.assertAlmostEqual(self.found.working(f"goals.{name}.reached").value, reached[name], delta=1e-6 * reached[name])

    def test_no_equation_is_of_the_number_itself(self):
        for name in THIRTY:
            node = self.found.node(name)
            self.assertNotIn(id(node), [id(term.node) for term in self.found.working(name).terms], name)

    def test_every_field_that_it_leads_to_is_there(self):
        design, seen = demo("dunlin"), set()

        def walk(node):
            if not isinstance(node, (Traced, TracedInt)) or id(node) in seen:
                return
            seen.add(id(node))
            if node.op == GIVEN and node.name.startswith(FIELDS):
                value = paths.get(design, node.name)
                told = getattr(value, "value", value)
                if told is not None:  # a default stands for what nobody told
                    self.assertEqual(float(told), float(node), node.name)
            elif node.op == GIVEN and node.name.startswith("stock."):
                self.assertIsNotNone(STOCK.find(node.name.removeprefix("stock.").rsplit(".", 1)[0]), node.name)
            for item in node.args:
                walk(item)

        for name in THIRTY:
            walk(self.found.node(name))
        self.assertGreater(len(seen), 150)

    def test_the_working_is_the_physics_and_not_a_text_beside_it(self):
        one = self.found.working("motor.kt_dc_nm_per_a")
        self.assertEqual(one.equation, "60 / (6.283185307179586 * kv_rpm_per_v)")
        self.assertIn("lossless balance", one.says)
        self.assertEqual([term.source for term in one.terms], ["variants.B.motor.kv_rpm_per_v"])
        radius = self.found.working("wheel_radius_m")
        self.assertEqual(radius.equation, "tyre_diameter * tyre_rolling_share / 2")

    def test_another_value_of_a_field_gives_what_the_study_gives(self):
        one = self.found.working("motor.kt_dc_nm_per_a")
        moved = worked_out(one.equation, {"kv_rpm_per_v": 140.0})
        solved = study_drive(put(demo("dunlin"), "variant.motor.kv_rpm_per_v", 140.0), STOCK)
        self.assertAlmostEqual(moved, solved.resolved.train.motor.torque_constant_nm_per_a, delta=1e-12)

    def test_marks_are_the_weakest_of_what_is_behind(self):
        self.assertEqual(str(self.found.mark(self.found.node("motor.kt_dc_nm_per_a"))), "measured")
        self.assertEqual(str(self.found.mark(self.found.node("states.nominal.top_speed_m_s"))), "assumed")

    def test_what_has_no_equation_says_how_it_came_about(self):
        data = why_data(self.found, "time_to_too_hot_s")
        self.assertIsNone(data["equation"])
        self.assertIn("steps", data["how"])
        self.assertIn("counted, told, or a figure", why_data(self.found, "motor.count")["how"])

    def test_an_unknown_name_is_refused_with_what_is_near(self):
        with self.assertRaises(InputError) as refused:
            self.found.working("states.nominal.topspeed")
        self.assertIn("states.nominal.top_speed_m_s", str(refused.exception))

    def test_careless_capitals_and_blanks_are_understood(self):
        for typed in (" MASS_KG ", "Goals.Cruise.Reached"):
            self.assertEqual(self.found.called(typed), typed.strip().lower())
        self.assertEqual(self.found.called("Motor.drag_nm"), "Motor.drag_nm")
        self.assertEqual(self.found.called("nonsense"), "nonsense")

    def test_goals_are_told_in_their_own_unit(self):
        self.assertEqual(value_text(self.found, 620.0, "goals.budget.target", say), "620 EUR")
        self.assertEqual(value_text(self.found, 4.0, "goals.sprint.reached", say), "4 s")

    def test_text_opens_two_levels(self):
        text = text_of(self.found, "states.nominal.top_speed_m_s", say)
        self.assertIn("Found where the most that the drive gives", text)
        self.assertIn("\n      = duty * bus_v", text)
        self.assertIn("tyre_diameter = 200 mm", text)
        self.assertLess(len(text_of(self.found, "states.nominal.top_speed_m_s", say, deep=1)), len(text))

    def test_readable_keeps_a_power_over_several_words_together(self):
        self.assertEqual(readable("a ** 2 + sqrt(b * 9.80665)", {"a": "volts of it", "b": "mass"}), "(volts of it)² + √(mass × g)")


class EveryStudyTest(unittest.TestCase):
    def test_every_study_takes_part_or_says_why_not(self):
        taking = {one.code for one in SUBJECTS} | {"drive", "controller"}  # `solve` and `settings` print those
        self.assertEqual({one.code for one in STUDIES} - taking, set(WITHOUT))
        self.assertTrue(all(WITHOUT.values()))

    def test_all_equations_of_all_studies_give_their_numbers_again(self):
        for vehicle, least in (("dunlin", 800), ("garganey", 450)):
            found = gather(demo(vehicle), STOCK, [one.code for one in SUBJECTS if one.code != "check"])
            good = 0
            for name in found.results:
                one = found.working(name)
                if one.equation:
                    self.assertAlmostEqual(again(one), one.value, delta=1e-9 * abs(one.value) + 1e-12, msg=f"{vehicle} {name}")
                    good += 1
                self.assertIn(one.how, ("", "given", "steps", "interp", "plain"))
                self.assertEqual(bool(one.equation), one.how == "", name)
            self.assertGreater(good, least, vehicle)

    def test_findings_have_their_margins_worked_out(self):
        found = gather(demo("corncrake"), STOCK, ["check"])
        with_equation = [name for name in found.results if found.working(name).equation]
        self.assertGreater(len(with_equation), 0.4 * len(found.results))
        self.assertTrue(all(name.startswith("check.") for name in found.results))

    def test_the_studies_are_what_they_were_afterwards(self):
        before = study_drive(demo("bittern"), STOCK)
        gather(demo("bittern"), STOCK)
        after = study_drive(demo("bittern"), STOCK)
        self.assertEqual(before.resolved.train, after.resolved.train)
        self.assertIs(type(after.resolved.train.motor.torque_constant_nm_per_a), float)
        self.assertEqual(vars(math)["sqrt"](2.0), math.sqrt(2.0))
        from wattagon.physics import motor

        self.assertIs(motor.math, math)
        self.assertNotIn("float", vars(motor))

    def test_compiled_code_is_left_alone(self):
        import numpy as np

        from wattagon.physics.ride import loop
        from wattagon.study.finder import kernel
        from wattagon.tape import taken_down

        with taken_down():
            for module in (loop, kernel):
                self.assertNotIn("float", vars(module))
                for name, real in (("np", np), ("math", math)):
                    if name in vars(module):
                        self.assertIs(vars(module)[name], real)

    def test_a_refusal_leaves_everything_in_its_place(self):
        from wattagon.physics import motor

        with self.assertRaises(InputError):
            gather(
                put(demo("dunlin"), "variant.pack.parallel", 4), STOCK, moment=lambda _: motor.Motor(kv_rpm_per_v=-1.0, resistance_ohm=1.0)
            )
        self.assertIs(motor.math, math)


class TracedTest(unittest.TestCase):
    def test_random_arithmetic_is_written_down_as_it_was_done(self):
        rng = random.Random(4)
        for _ in range(300):
            leaves = [Traced(rng.uniform(0.2, 9.0), GIVEN, (), f"x{k}") for k in range(4)] + [TracedInt(rng.randint(1, 9), GIVEN, (), "n")]
            value = rng.choice(leaves)
            for _ in range(rng.randint(1, 9)):
                other = rng.choice([*leaves, rng.choice((0.0, 1.0, 2.5, -3.0))])
                act = rng.choice("+-*/^n")
                if act == "n":
                    value = -value
                elif act == "^":
                    value = abs(value) ** 2
                elif act == "/":
                    value = value / (abs(other) + 1.0)
                else:
                    left, right = (value, other) if rng.random() < 0.5 else (other, value)
                    value = left + right if act == "+" else left - right if act == "-" else left * right
            if not isinstance(value, (Traced, TracedInt)):
                continue
            one = working_of(value, "x")
            if one.equation:
                self.assertAlmostEqual(again(one), float(value), delta=1e-9 * (1.0 + abs(float(value))), msg=one.equation)

    def test_it_is_a_float_in_all_that_is_asked_of_one(self):
        import numpy as np

        one = Traced(2.0, GIVEN, (), "x")
        self.assertIsInstance(one, float)
        self.assertEqual(json.dumps({"x": one}), '{"x": 2.0}')
        self.assertEqual(f"{one:.2f}", "2.00")
        self.assertEqual(np.maximum(one, 1.0), 2.0)
        self.assertEqual((np.array([1.0, 2.0]) * one).tolist(), [2.0, 4.0])
        self.assertEqual(np.where(True, one, 0.0), 2.0)

    def test_nothing_but_arithmetic_is_worked_out(self):
        for text in ("__import__('os')", "a.b", "[1]", "lambda: 1", "1 if 1 else 2", "open('x')", "1 +"):
            with self.assertRaises(InputError):
                worked_out(text, {"a": 1.0})


class NamesTest(unittest.TestCase):
    def test_rows_are_named_by_code_id_or_name(self):
        data = {"a": [{"code": "x.y", "v": 1.0}, {"v": 2.0}], "inputs": {"p": 1.0}, "t": True, "n": math.nan}
        self.assertEqual(dict(numbers_in(data, "")), {"a.x.y.v": 1.0, "a.1.v": 2.0})


class CommandTest(unittest.TestCase):
    def run_main(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["why", DEMO, *arguments])
        return code, out.getvalue(), err.getvalue()

    def test_json_has_value_equation_and_terms(self):
        code, out, _ = self.run_main("states.nominal.wheel_torque_nm", "--json")
        data = json.loads(out)
        self.assertEqual(code, 0)
        self.assertEqual(set(data["terms"][0]) >= {"symbol", "value", "from"}, True)
        values = {term["symbol"]: term["value"] for term in data["terms"]}
        self.assertAlmostEqual(worked_out(data["equation"], values), data["value"], delta=1e-9)
        inner = next(term for term in data["terms"] if "working" in term)["working"]
        self.assertTrue(inner["equation"])

    def test_text_and_another_study(self):
        code, out, _ = self.run_main("strength.first.fails_at_wheel_nm")
        self.assertEqual(code, 0)
        self.assertIn("= wheel_nm * factor", out)
        code, out, _ = self.run_main("--of", "pack")
        self.assertIn("pack.usable_wh = 486 Wh", out)

    def test_careless_typing_is_refused_in_a_sentence(self):
        for arguments, words in (
            (("nonsense",), "result is nonsense"),
            (("--of", "paint"), "--of"),
            (("mass_kg", "--deep", "0"), "--deep"),
            (("states.nominal.top_speed_limited_by",), "result is"),
        ):
            code, _, err = self.run_main(*arguments)
            self.assertEqual(code, 2, arguments)
            self.assertIn(words, err)
