"""Steps that a design asks for, what a maker does about them, and what is told of them."""

import contextlib
import csv
import io
import json
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from icalendar import Calendar

from tests.study.build.test_parts import FIRM, LOOSE, PUNT, TODAY, B, bare, marked, study
from tests.study.rule_case import BIKE, KART, changed
from tests.study.test_strength import zlib_texts
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.paths import apply, put
from wattagon.design.tree import Build, Commissioning, OwnStep, PartState, Signature, StepMark, StepState
from wattagon.design.tree.workshop import JobPlace
from wattagon.errors import InputError
from wattagon.exchange.build_json import parts_csv, steps_data
from wattagon.exchange.build_out import parts_pdf, steps_ics
from wattagon.study.build.mark import add_step, all_back, change_step, leave_out, mark_step, record_rework, split_step
from wattagon.study.build.schedule import along, in_order, mean_of


def done(design, *codes):
    for code in codes:
        design = apply(design, mark_step(design, study(design).task(code), StepState.DONE, TODAY))
    return design


class PlanTest(unittest.TestCase):
    def test_every_demo_vehicle_has_steps_that_wait_for_steps_that_are_there(self):
        for design in (B, bare(BIKE), bare(KART), bare(PUNT)):
            for variant in design.variants:
                found = study(replace(design, active=variant.id))
                names = [task.step.id for task in found.tasks]
                self.assertEqual(len(set(names)), len(names))
                for task in found.tasks:
                    self.assertLessEqual(set(task.after), set(names), task.step.id)
                    self.assertTrue(0.0 <= task.hours[0] <= task.hours[1] <= task.hours[2])
                    StepMark(id=task.step.id)

    def test_only_what_applies_is_asked(self):
        names = {task.step.id for task in study(bare(PUNT)).tasks}
        self.assertTrue({"mount-drive", "seal", "leak-test"} <= names)
        self.assertFalse(any(name.startswith(("mount-loop", "cut-", "print-")) for name in names))
        hub = {task.step.id for task in study(replace(bare(BIKE), active="B")).tasks}
        self.assertFalse(any("loop" in name or "wheels" in name for name in hub))
        kart = {task.step.id for task in study(bare(KART)).tasks}
        self.assertNotIn("pack-weld", kart)  # ready packs

    def test_a_conversion_begins_with_what_is_taken_out(self):
        old = changed(bare(KART), variant__build=Build(takes_out="engine"))
        found = study(old)
        self.assertEqual(found.task("out-old").after, ("out-wiring", "out-holes"))
        self.assertIn("burn", found.task("out-fuel").step.caution)
        self.assertIn("label", found.task("out-wiring").step.title)
        self.assertIn("out-old", found.task("wire-cut").after)
        electric = study(changed(bare(KART), variant__build=Build(takes_out="drive")))
        self.assertFalse(any(task.step.id == "out-fuel" for task in electric.tasks))

    def test_cautions_stand_at_the_step_where_they_matter(self):
        found = study(B)
        for code, word in (
            ("pack-weld", "burn"),
            ("commission-B", "plane of what turns"),
            ("commission-D", "Helmet"),
            ("drill-tap", "Eyes"),
        ):
            self.assertIn(word, found.task(code).step.caution)

    def test_a_measure_that_is_missing_is_a_step_and_goes_when_it_is_taken(self):
        code = "measure-vehicle-hub-bolt-circle"
        self.assertIn(code, study(LOOSE).task("cut-hub-adapter").after)
        self.assertNotIn(code, [task.step.id for task in study(FIRM).tasks])

    def test_print_hours_are_those_of_the_card(self):
        design = bare(BIKE)
        step = study(design).task("print-guard-1").step
        self.assertAlmostEqual(step.hours[1], 0.76, delta=0.05)
        self.assertEqual(step.tool, "printer")


class MarksTest(unittest.TestCase):
    def test_hours_along_the_graph_are_means_and_done_ones_none(self):
        found = study(done(B, "pack-check"))
        after = {task.step.id: task.after for task in found.tasks}
        hours = {task.step.id: 0.0 if task.state is StepState.DONE else mean_of(task.hours) for task in found.tasks}
        for name, span in along(after, hours).items():
            self.assertAlmostEqual(found.task(name).span.earliest, span.earliest)
        self.assertEqual(found.task("pack-rest").span.earliest, 0.0)

    def test_what_can_be_done_today_waits_for_nothing(self):
        found = study(B)
        self.assertTrue(found.can_begin)
        for task in found.can_begin:
            self.assertEqual(task.blocked, ())
        blocked = found.task("pack-leads")
        self.assertIn("pack-weld", blocked.blocked)
        self.assertTrue(any(row.startswith("board-") for row in blocked.blocked))
        here = marked(
            done(B, "pack-check", "pack-rest", "pack-weld"), next(r for r in blocked.blocked if r.startswith("board-")), PartState.ARRIVED
        )
        self.assertEqual(study(here).task("pack-leads").blocked, ())

    def test_doing_brings_the_end_nearer(self):
        before, after = study(B), study(done(B, "pack-check", "pack-rest", "pack-weld"))
        self.assertLess(after.calendar.finish, before.calendar.finish)

    def test_a_delivery_that_was_ordered_counts_from_its_day(self):
        row = next(part.row.id for part in study(B).parts if part.row.kind == "board")
        ordered = put(B, "variant.build", Build(parts=(replace(study(B).part(row).mark, state=PartState.ORDERED, date="2026-11-20"),)))
        days = study(ordered).part(row).arrives(TODAY)
        self.assertEqual(days[1], study(B).part(row).lead_days - 9)
        self.assertIsNone(study(marked(B, row, PartState.ARRIVED)).part(row).arrives(TODAY))

    def test_times_who_days_and_other_ways_are_the_makers_own(self):
        task = study(B).task("cut-motor-plate")
        own = apply(B, change_step(B, task, low=1.0, likely=2.0, high=9.0, by="Ines", not_before="2026-12-24"))
        found = study(own).task("cut-motor-plate")
        self.assertEqual(found.hours, (1.0, 2.0, 9.0))
        self.assertGreaterEqual(found.begin, 25.0)
        self.assertIn("day:2026-12-24", found.blocked)
        with self.assertRaises(InputError):
            apply(B, change_step(B, task, low=5.0, likely=2.0))

    def test_a_tool_that_is_not_there_holds_the_step_up_until_a_way_is_chosen(self):
        shop = replace(
            B.brief.workshop,
            stated=True,
            soldering=True,
            places=(JobPlace(id="harbour", name="the harbour shop", does="lasers plate", days=9),),
        )
        told = put(B, "brief.workshop", shop)
        task = study(told).task("cut-motor-plate")
        self.assertIn("tool:mill", task.blocked)
        self.assertEqual(task.places, ("harbour",))
        by_hand = apply(told, change_step(told, task, way="other"))
        found = study(by_hand).task("cut-motor-plate")
        self.assertNotIn("tool:mill", found.blocked)
        self.assertAlmostEqual(found.hours[1], 4.0 * task.hours[1])
        sent = apply(told, change_step(told, task, way="harbour"))
        self.assertEqual(study(sent).task("cut-motor-plate").hours[1], 9.0)  # days
        self.assertAlmostEqual(study(sent).task("cut-motor-plate").end - study(sent).task("cut-motor-plate").begin, 9.0 * 1.1, delta=1e-6)

    def test_a_split_step_takes_as_long_and_is_done_when_its_pieces_are(self):
        task = study(B).task("mount-wheels")
        design = apply(B, split_step(B, task, ("Left side", "Right side")))
        found = study(design)
        pieces = [one for one in found.tasks if one.step.id.startswith("mount-wheels-part")]
        self.assertEqual([one.step.title for one in pieces], ["Left side", "Right side"])
        self.assertAlmostEqual(sum(mean_of(one.hours) for one in pieces), mean_of(task.hours))
        self.assertEqual(found.task("mount-wheels").hours, (0.0, 0.0, 0.0))
        self.assertTrue({one.step.id for one in pieces} <= set(found.task("mount-wheels").after))
        self.assertAlmostEqual(found.task("mount-loop").span.earliest, study(B).task("mount-loop").span.earliest, 6)
        with self.assertRaises(InputError):
            split_step(B, task, ("alone", " "))

    def test_what_is_left_out_lets_through_what_waited_for_it(self):
        design = apply(B, leave_out(B, study(B).task("drill-tap")))
        found = study(design)
        self.assertNotIn("drill-tap", [task.step.id for task in found.tasks])
        self.assertTrue({"cut-motor-plate", "cut-hub-adapter"} <= set(found.task("mount-motor").after))
        back = apply(design, all_back(design))
        self.assertIn("drill-tap", [task.step.id for task in study(back).tasks])

    def test_an_own_step_stands_where_it_was_put(self):
        design = apply(B, add_step(B, "Paint the deck", (1.0, 2.0, 3.0), ("pack-check",), ("mount-motor",)))
        found = study(design)
        own = next(task for task in found.tasks if task.own)
        self.assertEqual(own.after, ("pack-check",))
        self.assertIn(own.step.id, found.task("mount-motor").after)
        away = apply(design, leave_out(design, own))
        self.assertFalse(any(task.own for task in study(away).tasks))
        with self.assertRaises(InputError):
            add_step(B, "  ", (1.0, 2.0, 3.0))

    def test_own_steps_in_a_ring_are_refused_in_a_sentence(self):
        steps = (OwnStep(id="a", title="A", after=("b",)), OwnStep(id="b", title="B", after=("a",)))
        with self.assertRaisesRegex(InputError, "ring"):
            study(put(B, "variant.build", Build(own_steps=steps)))

    def test_a_second_try_is_kept_and_teaches_the_next_estimate(self):
        design = bare(BIKE)
        first = study(design)
        design = apply(design, record_rework(design, first.task("print-guard-1"), TODAY, "warped off the bed", 2.0, 1.5))
        found = study(design)
        self.assertEqual((found.lost_hours, found.lost_cost), (2.0, 1.5))
        self.assertGreater(found.task("print-guard-2-1of3").hours[1], first.task("print-guard-2-1of3").hours[1])
        self.assertEqual(found.task("pack-weld").hours, first.task("pack-weld").hours)
        self.assertIn("warped", design.history[-1].text)
        self.assertAlmostEqual(found.spent - first.spent, 1.5)
        quick = apply(design, mark_step(design, found.task("print-guard-2-1of3"), StepState.DONE, TODAY, spent=0.3))
        self.assertLess(study(quick).task("print-guard-2-2of3").hours[1], found.task("print-guard-2-2of3").hours[1])

    def test_a_proof_that_held_and_a_stage_that_was_signed_are_done(self):
        signed = put(B, "variant.commissioning", Commissioning(signed=(Signature(stage="A", name="Ines", date="2026-11-01"),)))
        self.assertIs(study(signed).task("commission-A").state, StepState.DONE)
        self.assertIs(study(signed).task("commission-B").state, StepState.OPEN)

    def test_the_order_of_tasks_is_one_in_which_they_can_be_done(self):
        found = study(B)
        after = {task.step.id: task.after for task in found.tasks}
        self.assertEqual([task.step.id for task in found.tasks], in_order(after))


class PaperTest(unittest.TestCase):
    def test_the_calendar_reads_back_with_every_open_step_and_its_caution(self):
        found = study(done(B, "pack-check"))
        events = list(Calendar.from_ical(steps_ics(found)).walk("VEVENT"))
        names = [str(event["uid"]).split("@")[0] for event in events]
        self.assertNotIn("pack-check", names)
        self.assertEqual(names[-1], "finish")
        weld = next(event for event in events if str(event["uid"]).startswith("pack-weld@"))
        self.assertIn("does not burn", str(weld["description"]))
        self.assertLess(weld.decoded("dtstart"), weld.decoded("dtend"))
        self.assertTrue(all(event.decoded("dtstart") >= TODAY for event in events))

    def test_the_table_and_the_page_have_every_row(self):
        design = marked(LOOSE, "driven-pulley-5m-72-wheel", PartState.ORDERED, "=by drawing")
        found = study(design)
        rows = list(csv.DictReader(io.StringIO(parts_csv(found))))
        self.assertEqual([row["id"] for row in rows], [part.row.id for part in found.parts])
        driven = next(row for row in rows if row["id"].startswith("driven-"))
        self.assertEqual((driven["state"], driven["reason"]), ("ordered", "'=by drawing"))
        text = zlib_texts(parts_pdf(found))
        self.assertIn("hub bolt circle", text)

    def test_json_of_steps_says_what_holds_each_up(self):
        data = steps_data(study(B))
        self.assertLess(data["finish"]["p10"], data["finish"]["p90"])
        step = next(one for one in data["steps"] if one["id"] == "pack-leads")
        self.assertIn("pack-weld", step["blocked_by"])
        self.assertAlmostEqual(step["slack"], step["latest"] - step["earliest"], 9)
        self.assertEqual(data["today"], [task.step.id for task in study(B).can_begin])


class TerminalTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path = self.folder / "board.wattagon"
        file.write(self.path, file.Document(design=LOOSE))

    def said(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(arguments)
        return code, out.getvalue(), err.getvalue()

    def test_a_closed_gate_ends_with_2_names_the_measure_and_writes_nothing(self):
        before = self.path.read_bytes()
        code, _, err = self.said("parts", str(self.path), "--mark", "driven-pulley-5m-72-wheel=order")
        self.assertEqual(code, 2)
        self.assertIn("hub_bolt_circle", err)
        self.assertEqual(self.path.read_bytes(), before)

    def test_json_has_every_key_that_was_promised(self):
        for command, (one, *lists) in {
            "parts": (
                {"rows", "budget", "mass"},
                ("rows", {"id", "name", "count", "state", "price", "mass_kg", "gate", "measure_first", "reason"}),
                ("budget", {"spent", "to_spend", "limit"}),
                ("mass", {"added_kg", "front_share"}),
            ),
            "steps": (
                {"steps", "finish", "today"},
                ("steps", {"id", "title", "after", "hours", "earliest", "latest", "slack", "state", "blocked_by"}),
                ("finish", {"p10", "p50", "p90"}),
            ),
            "commission": ({"steps"}, ("steps", {"id", "title", "applies", "low", "high", "unit", "from", "read", "verdict"})),
        }.items():
            data = json.loads(self.said(command, str(self.path), "--json")[1])
            self.assertLessEqual(one, set(data), command)
            for key, wanted in lists:
                for item in data[key] if isinstance(data[key], list) else [data[key]]:
                    self.assertLessEqual(wanted, set(item), f"{command} {key}")
            if command == "parts":
                self.assertEqual({row["gate"] for row in data["rows"]}, {"open", "closed"})
                self.assertTrue(all(bool(row["measure_first"]) == (row["gate"] == "closed") for row in data["rows"] if not row["reason"]))

    def test_with_a_reason_it_is_written_and_told(self):
        code, out, _ = self.said("parts", str(self.path), "--mark", "driven-pulley-5m-72-wheel=ordered", "--reason", "by drawing", "--json")
        self.assertEqual(code, 0)
        row = next(one for one in json.loads(out)["rows"] if one["id"].startswith("driven-"))
        self.assertEqual((row["state"], row["reason"], row["gate"]), ("ordered", "by drawing", "closed"))
        again = file.read(self.path).design
        self.assertEqual(again.variant().build.parts[0].reason, "by drawing")
        self.assertEqual(again.history[-1].kind.value, "order")

    def test_careless_words_are_told(self):
        for told, word in (("motor", "ID=STATE"), ("nothing=ordered", "row is nothing"), ("loop-x=sold", "fitted")):
            code, _, err = self.said("parts", str(self.path), "--mark", told)
            self.assertEqual(code, 2)
            self.assertIn(word, err)
        code, _, err = self.said("parts", str(self.path), "--mark", "motor=ordered", "--set", "variant.motor.count=1")
        self.assertEqual(code, 2)

    def test_another_variant_is_marked_without_making_it_active(self):
        rows = json.loads(self.said("parts", str(self.path), "--variant", "A", "--json")[1])["rows"]
        row = next(one["id"] for one in rows if one["id"].startswith("controller-"))
        self.assertEqual(self.said("parts", str(self.path), "--variant", "A", "--mark", f"{row}=ordered")[0], 0)
        again = file.read(self.path).design
        self.assertEqual(again.active, LOOSE.active)
        self.assertIsNone(again.variant().build)
        self.assertEqual(again.variant("A").build.parts[0].id, row)

    def test_steps_and_their_calendar(self):
        out = self.folder / "steps.ics"
        self.assertEqual(self.said("steps", str(self.path), "--ics", str(out))[0], 0)
        self.assertIn("BEGIN:VEVENT", out.read_text())
        code, text, _ = self.said("steps", str(self.path))
        self.assertEqual(code, 0)
        self.assertIn("could roll on", text)


if __name__ == "__main__":
    unittest.main()
