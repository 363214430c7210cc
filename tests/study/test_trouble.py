"""Trouble: its tables hold together, Bayes by hand, evidence of the design, the next test, every fault of the stand found."""

import contextlib
import datetime
import io
import json
import math
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.study.rule_case import BIKE, BOARD, KART, STOCK, case
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.paths import apply, put
from wattagon.design.tree import BuildPart, Control, Entry, EntryKind, GoalKind, Incident, ReductionKind
from wattagon.errors import InputError
from wattagon.standins.answers import ANSWERS, answer_of, seen_on
from wattagon.standins.faults import FAULTS
from wattagon.standins.stand import Stand
from wattagon.study.commission.rules import commissioned
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.status import Status
from wattagon.study.layout.orders import motor_rpm, train_orders
from wattagon.study.layout.study import study_layout
from wattagon.study.trouble.causes import causes
from wattagon.study.trouble.deciding import tests as deciding
from wattagon.study.trouble.engine import Told, cost_minutes, gain_bits, next_test, ranked
from wattagon.study.trouble.study import Looked, answer, ask, close, explained, study_trouble, symptoms_of, taken_as_variant
from wattagon.study.trouble.symptoms import SYMPTOMS

TODAY = datetime.date(2026, 11, 29)
PUNT = file.read(DEMO / "garganey.json").design


def looked(design, findings=(), *, commission=None, layout=None):
    return Looked(
        design=design, drive=study_drive(design, STOCK), layout=layout, findings=tuple(findings), commission=commission, today=TODAY
    )


def found(code, status=Status.OVER, title="told"):
    return Finding(code=code, status=status, bench="layout", link="reduction", title=title, because="")


class TablesTest(unittest.TestCase):
    def test_every_name_in_them_is_one(self):
        from wattagon.study.commission.item import STAGES
        from wattagon.study.studies import STUDIES, loaded

        codes = {rule.code for study in STUDIES if study.rules for rule in loaded(study.rules)}
        steps = {one.item.id for design in (BOARD, BIKE, PUNT) for one in commissioned(case(design)).steps}
        self.assertEqual(len(STAGES), 4)
        for cause in causes().values():
            self.assertLessEqual(set(cause.symptoms), set(SYMPTOMS), cause.code)
            self.assertLessEqual(set(cause.steps), steps, cause.code)
            self.assertTrue(cause.cure and cause.name, cause.code)
            for head in cause.findings:
                if head.startswith("goal:"):
                    self.assertIn(head.removeprefix("goal:"), list(GoalKind))
                    continue
                alike = any(code.startswith(head.rstrip(".")) or head.startswith(f"{code}.") for code in codes)
                self.assertTrue(alike, f"{cause.code}: {head}")
        for test in deciding().values():
            self.assertLessEqual(set(test.tells), set(causes()), test.code)
            self.assertLessEqual(set(test.tells.values()), set(test.answers), test.code)
            self.assertTrue(0.5 < test.sure < 1.0)
            self.assertGreaterEqual(len(test.answers), 2)
            if test.danger:
                self.assertTrue(test.caution, test.code)

    def test_every_cause_can_be_told_and_every_symptom_has_several(self):
        told = {cause for test in deciding().values() for cause in test.tells}
        self.assertEqual(set(causes()) - told, set())
        for symptom in SYMPTOMS:
            self.assertTrue(any(symptom in cause.symptoms for cause in causes().values()), symptom)

    def test_every_fault_of_the_stand_is_a_cause_and_every_test_of_the_stand_can_be_answered(self):
        self.assertEqual(set(explained(dict(FAULTS))), set(FAULTS))
        self.assertEqual({test.code for test in deciding().values() if test.stand}, set(ANSWERS))

    def test_answers_are_shares_of_one(self):
        for test in deciding().values():
            for cause in causes():
                self.assertAlmostEqual(sum(test.likely(cause, one) for one in test.answers), 1.0)


class BayesTest(unittest.TestCase):
    def told(self, **weights):
        return [Told(causes()[code], weight, ()) for code, weight in weights.items()]

    def test_weights_by_hand(self):
        """Slack 4, few teeth 2; the tone is low: 0.92 against 0.08 of a test that is right 92 times in a hundred."""
        test = deciding()["pluck_span"]
        made = ranked(self.told(belt_slack=4.0, few_teeth=2.0), [("pluck_span", "low")])
        wanted = 4.0 * test.sure / (4.0 * test.sure + 2.0 * (1.0 - test.sure))
        self.assertEqual(made[0].cause.code, "belt_slack")
        self.assertAlmostEqual(made[0].weight, wanted)
        self.assertAlmostEqual(sum(one.weight for one in made), 1.0)

    def test_a_test_that_splits_in_two_alike_halves_gains_nearly_a_bit(self):
        made = ranked(self.told(belt_slack=1.0, few_teeth=1.0), [])
        test = deciding()["pluck_span"]
        sure = test.sure
        entropy = -sure * math.log2(sure) - (1 - sure) * math.log2(1 - sure)
        self.assertAlmostEqual(gain_bits(test, made), 1.0 - entropy)
        self.assertAlmostEqual(gain_bits(deciding()["polarity"], made), 0.0)

    def test_the_next_test_tells_most_for_its_minutes_and_danger(self):
        made = ranked(self.told(belt_slack=2.0, few_teeth=2.0, mount_bends=1.0, worn_teeth=1.0), [])
        best = next_test(made, [])
        worth = gain_bits(best, made) / cost_minutes(best)
        for test in deciding().values():
            self.assertLessEqual(gain_bits(test, made) / cost_minutes(test), worth + 1e-12)
        self.assertNotEqual(next_test(made, [best.code]).code, best.code)

    def test_danger_costs(self):
        costs = [cost_minutes(next(one for one in deciding().values() if one.danger == danger)) for danger in (0, 1, 2)]
        self.assertLess(costs[0] - 20.0, costs[1])
        self.assertGreater(
            cost_minutes(replace_danger(deciding()["hand_codes"], 2)), cost_minutes(replace_danger(deciding()["hand_codes"], 0))
        )

    def test_where_nothing_tells_more_there_is_no_test(self):
        self.assertIsNone(next_test(ranked(self.told(wrong_poles=1.0), []), []))

    def test_a_wrong_answer_is_told(self):
        for given, word in (([("nothing", "x")], "test"), ([("detect", "x")], "answer of detect")):
            with self.assertRaisesRegex(InputError, word):
                ranked(self.told(belt_slack=1.0), given)


def replace_danger(test, danger):
    return test._replace(danger=danger)


class DesignTest(unittest.TestCase):
    """What a design says of itself moves its causes."""

    def weight(self, study, code):
        return next((one.weight for one in study.causes if one.cause.code == code), 0.0)

    def test_a_finding_that_is_over_brings_its_cause_nearer_and_is_said(self):
        plain = study_trouble(looked(BOARD), "belt_skips")
        few = study_trouble(looked(BOARD, [found("layout.mesh.0", title="4 teeth of the belt in mesh")]), "belt_skips")
        fine = study_trouble(looked(BOARD, [found("layout.mesh.0", Status.CLEAR)]), "belt_skips")
        weights = [self.weight(one, "few_teeth") for one in (fine, plain, few)]
        self.assertLess(weights[0], weights[1])
        self.assertLess(weights[1], weights[2])
        one = next(one for one in few.causes if one.cause.code == "few_teeth")
        self.assertIn("4 teeth", one.evidence[0].words)

    def test_a_missed_goal_speaks_for_causes_of_its_kind_alone(self):
        climb = next(goal.id for goal in BOARD.brief.goals if goal.kind is GoalKind.CLIMB)
        budget = next(goal.id for goal in BOARD.brief.goals if goal.kind is GoalKind.BUDGET)
        plain, missed, dear = (
            self.weight(study_trouble(looked(BOARD, told), "too_hot"), "gear_long")
            for told in ((), [found(f"goal.{climb}")], [found(f"goal.{budget}")])
        )
        self.assertGreater(missed, plain)
        self.assertEqual(dear, plain)

    def test_what_is_not_checked_says_nothing(self):
        plain = study_trouble(looked(BOARD), "belt_skips")
        unknown = study_trouble(looked(BOARD, [found("layout.mesh.0", Status.NOT_CHECKED)]), "belt_skips")
        self.assertEqual([one.weight for one in plain.causes], [one.weight for one in unknown.causes])

    def test_commissioning_speaks(self):
        done = commissioned(case(BIKE))
        told = study_trouble(looked(BIKE, commission=done), "belt_skips")
        slack = next(one for one in told.causes if one.cause.code == "belt_slack")
        self.assertTrue(any("D1" in each.words and each.factor < 1.0 for each in slack.evidence))

    def test_an_incident_makes_what_it_stressed_a_cause_until_it_is_cleared(self):
        jam = Entry(id="jam", date="2026-11-01", kind=EntryKind.INCIDENT, incident=Incident.JAM)
        hit = replace(BOARD, history=(jam,))
        clear = Entry(id="test", date="2026-11-02", kind=EntryKind.PROOF, on=(BuildPart.REDUCTION,), clears=("jam",))
        before = self.weight(study_trouble(looked(replace(BOARD, history=())), "turns_alone"), "grub_slips")
        after = study_trouble(looked(hit), "turns_alone")
        said = next(one for one in after.causes if one.cause.code == "grub_slips").evidence
        self.assertTrue(any("suspect" in each.words for each in said))
        cleared = study_trouble(looked(replace(BOARD, history=(jam, clear))), "turns_alone")
        self.assertAlmostEqual(self.weight(cleared, "grub_slips"), before)

    def test_what_was_changed_yesterday_is_suspected_and_a_month_ago_is_not(self):
        entry = lambda day: Entry(id="x", date=day, kind=EntryKind.CHANGE, text="new pack lead", on=(BuildPart.WIRING,))
        lately = study_trouble(looked(replace(BOARD, history=(entry("2026-11-28"),))), "drops_out")
        long_ago = study_trouble(looked(replace(BOARD, history=(entry("2026-10-20"),))), "drops_out")
        self.assertGreater(self.weight(lately, "loose_connector"), self.weight(long_ago, "loose_connector"))
        words = [each.words for one in lately.causes if one.cause.code == "loose_connector" for each in one.evidence]
        self.assertTrue(any("changed yesterday: new pack lead" in text for text in words))

    def test_only_causes_that_the_design_can_have(self):
        codes = lambda design, symptom: {one.cause.code for one in study_trouble(looked(design), symptom).causes}
        self.assertNotIn("sensors_swapped", codes(BOARD, "stutters"))
        self.assertIn("sensors_swapped", codes(put(BOARD, "variant.control", Control(sensor="hall")), "stutters"))
        self.assertNotIn("shear_pin", codes(BOARD, "turns_alone"))
        self.assertIn("shear_pin", codes(PUNT, "turns_alone"))
        self.assertIn("unlike_settings", codes(BOARD, "one_pulls"))
        self.assertNotIn("unlike_settings", codes(KART, "one_pulls"))
        self.assertTrue(any(stage.kind is ReductionKind.CHAIN for stage in KART.variant().stages))
        self.assertIn("mesh_noise", codes(KART, "vibration"))
        self.assertNotIn("mesh_noise", codes(BOARD, "vibration"))

    def test_a_test_on_the_water_is_not_asked_on_land(self):
        for design in (BOARD, BIKE, KART, PUNT):
            floats = design.vehicle.kind.floats
            for symptom in symptoms_of(design):
                study, given = looked(design), []
                for _ in range(6):
                    one = study_trouble(study, symptom.code, given)
                    if one.next is None:
                        break
                    self.assertIn(one.next.on, ("", "water" if floats else "wheels"))
                    given.append((one.next.code, one.next.usual))

    def test_an_unknown_symptom_is_refused_with_those_that_there_are(self):
        with self.assertRaisesRegex(InputError, "belt_skips"):
            study_trouble(looked(BOARD), "itches")
        with self.assertRaises(InputError):
            study_trouble(looked(BOARD), "slow_afloat")
        self.assertIn("slow_afloat", {one.code for one in symptoms_of(PUNT)})

    def test_a_cause_is_found_when_its_tests_say_so(self):
        asked = {"belt_skips": "belt_slack", "dead": "fuse_open", "rubs": "does_not_clear", "charges_badly": "wrong_charger"}
        for symptom, wanted in asked.items():
            given = []
            for _ in range(6):
                one = study_trouble(looked(BOARD), symptom, given)
                if one.found is not None or one.next is None:
                    break
                given.append((one.next.code, one.next.tells.get(wanted, one.next.usual)))
            self.assertEqual(study_trouble(looked(BOARD), symptom, given).causes[0].cause.code, wanted, (symptom, given))

    def test_what_would_come_of_an_answer(self):
        one = study_trouble(looked(BOARD), "belt_skips")
        for code in one.next.answers:
            self.assertEqual(
                [each.weight for each in one.would(one.next, code)],
                [each.weight for each in study_trouble(looked(BOARD), "belt_skips", [(one.next.code, code)]).causes],
            )


class TrainTest(unittest.TestCase):
    def test_orders_are_those_of_the_gears(self):
        drive = study_drive(BIKE, STOCK)
        layout = study_layout(BIKE, STOCK, drive, gaps=False)
        speed = 20.0 / 3.6
        orders = {one.words: one.hertz for one in train_orders(drive, layout, speed)}
        wheel = speed / float(drive.resolved.road.wheel_radius_m) / math.tau
        self.assertAlmostEqual(orders["wheel, once a turn"], wheel, delta=0.001 * wheel)
        first, second = BIKE.variant().stages
        shaft = wheel * second.driven_teeth / second.driver_teeth
        motor = shaft * first.driven_teeth / first.driver_teeth
        self.assertAlmostEqual(orders["jackshaft 1, once a turn"], shaft, delta=0.001 * shaft)
        self.assertAlmostEqual(orders["motor, once a turn"], motor, delta=0.001 * motor)
        self.assertAlmostEqual(orders["stage 1, each tooth"], motor * first.driver_teeth, delta=0.001 * motor * first.driver_teeth)
        self.assertAlmostEqual(motor_rpm(drive, speed), 60.0 * motor, delta=0.06 * motor)
        self.assertEqual(list(orders.values()), sorted(orders.values()))

    def test_a_span_that_rings_there_comes_near(self):
        drive = study_drive(BIKE, STOCK)
        layout = study_layout(BIKE, STOCK, drive)
        ring = next(one for one in layout.rings if "span" in one.what and one.speed_m_s > 0.0)
        at = study_trouble(looked(BIKE, layout=layout), "vibration", (), ring.speed_m_s)
        away = study_trouble(looked(BIKE, layout=layout), "vibration", (), 0.2 * ring.speed_m_s)
        weight = lambda study: next(one.weight for one in study.causes if one.cause.code == "span_rings")
        self.assertGreater(weight(at), weight(away))
        self.assertTrue(at.orders)


class EditsTest(unittest.TestCase):
    def test_an_inquiry_is_kept_answered_taken_back_and_closed(self):
        design = apply(BOARD, ask(BOARD, "belt_skips", TODAY))
        design = apply(design, answer(design, "pluck_span", "low"))
        self.assertEqual(design.variant().inquiry.answers[0].answer, "low")
        back = apply(design, answer(design, "pluck_span", ""))
        self.assertEqual(back.variant().inquiry.answers, ())
        study = study_trouble(looked(design), "belt_skips", [("pluck_span", "low")])
        done = apply(design, close(study, "belt_slack", "tension set to 260 Hz", TODAY))
        self.assertIsNone(done.variant().inquiry)
        self.assertIn("260 Hz", done.history[-1].text)
        self.assertIn("pluck", done.history[-1].text.lower())
        self.assertEqual(done.history[-1].on, (BuildPart.REDUCTION,))

    def test_a_cure_is_taken_as_a_variant(self):
        from wattagon.design.paths import Edit

        edit = Edit(label="14 teeth", changes=(("variant.stages.0.driver_teeth", 14),))
        made = apply(BOARD, taken_as_variant(BOARD, edit))
        self.assertEqual(len(made.variants), len(BOARD.variants) + 1)
        self.assertEqual(made.variant().stages[0].driver_teeth, 14)
        self.assertEqual(made.variant().based_on, BOARD.variant().id)
        self.assertEqual(BOARD.variant().stages, made.variant(BOARD.variant().id).stages)

    def test_a_design_change_of_a_finding_is_offered(self):
        from wattagon.study.findings.all import check

        checked = check(BIKE, STOCK)
        study = study_trouble(looked(BIKE, checked), "belt_skips")
        few = next(one for one in study.causes if one.cause.code == "few_teeth")
        self.assertTrue(study.cures(few.cause))


class StandTest(unittest.TestCase):
    """Each fault that a stand can have is named first within four answers, whichever of its symptoms is seen."""

    def walk(self, design, fault, cause, sound, drive):
        seen = seen_on(Stand(design, STOCK, fault=fault, drive=drive))
        tried = 0
        for symptom in cause.symptoms:
            if symptom not in {one.code for one in symptoms_of(design)}:
                continue
            told = study_trouble(looked(design), symptom).told
            if not any(one.cause.code == cause.code for one in told):
                continue
            given = []
            for _ in range(4):
                made = ranked(told, given)
                test = next_test(made, [code for code, _ in given], lambda one: one.stand)
                if test is None or (made[0].cause.code == cause.code and made[0].weight > 0.6):
                    break
                given.append((test.code, answer_of(test.code, seen, sound)))
            made = ranked(told, given)
            self.assertEqual(made[0].cause.code, cause.code, f"{design.vehicle.name} {fault} {symptom} {given}")
            tried += 1
        return tried

    def all_of(self, design, faults=tuple(FAULTS)):
        drive = study_drive(design, STOCK)
        sound = seen_on(Stand(design, STOCK, drive=drive))
        return {
            fault: self.walk(design, fault, cause, sound, drive) for fault in faults for cause in causes().values() if cause.fault == fault
        }

    def test_on_a_board_with_sensors(self):
        tried = self.all_of(put(BOARD, "variant.control", Control(sensor="hall")))
        self.assertTrue(all(count >= 1 for count in tried.values()), tried)

    def test_on_a_bike_with_a_hub_motor(self):
        hub = replace(BIKE, active="B")
        few = ("loose_connector", "hot_connector", "sensors_swapped", "loose_motor")  # whose readings are the smallest there
        tried = self.all_of(put(hub, "variant.control", Control(sensor="hall")), few)
        self.assertTrue(all(count >= 1 for count in tried.values()), tried)

    def test_a_sound_stand_answers_as_usual(self):
        design = put(BOARD, "variant.control", Control(sensor="hall"))
        sound, other = (seen_on(Stand(design, STOCK, seed=seed)) for seed in (1, 5))
        for code in ANSWERS:
            self.assertEqual(answer_of(code, other, sound), deciding()[code].usual, code)
        with self.assertRaises(InputError):
            answer_of("lid_off", other, sound)

    def test_a_motor_with_much_torque_for_its_inertia_does_not_swing_from_step_to_step(self):
        hub = replace(BIKE, active="B")
        stand = Stand(hub, STOCK)
        stand.connect()
        found = stand.detect()
        self.assertAlmostEqual(found.flux_v_s, stand.forecast()["flux_v_s"], delta=0.05 * stand.forecast()["flux_v_s"])


class TerminalTest(unittest.TestCase):
    def said(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(("trouble", str(DEMO / "bittern.json"), *arguments))
        return code, out.getvalue(), err.getvalue()

    def test_json(self):
        code, out, _ = self.said("--symptom", "dead", "--answer", "look_fuse=open", "--json")
        data = json.loads(out)
        self.assertEqual(code, 0)
        self.assertAlmostEqual(sum(one["weight"] for one in data["causes"]), 1.0)
        self.assertEqual(data["causes"][0]["name"], "fuse_open")
        self.assertTrue(data["next_test"]["how"])
        self.assertIsInstance(data["causes"][0]["evidence"], list)

    def test_words_and_refusals(self):
        code, out, _ = self.said()
        self.assertEqual(code, 0)
        self.assertIn("belt_skips", out)
        code, out, _ = self.said("--symptom", "Belt skips")
        self.assertIn("next:", out)
        for arguments, word in (
            (("--symptom", "itches"), "accepted: backwards, belt_skips"),
            (("--symptom", "belt_skips", "--answer", "pluck_span"), "TEST=ANSWER"),
            (("--symptom", "belt_skips", "--answer", "pluck_span=loud"), "as_set, low"),
        ):
            code, _, err = self.said(*arguments)
            self.assertEqual(code, 2)
            self.assertIn(word, err)


if __name__ == "__main__":
    unittest.main()
