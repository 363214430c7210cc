"""Each finding of a winding on both sides of its bound, its cures, and the work that a plan brings."""

import itertools
import unittest
from dataclasses import replace
from pathlib import Path
from types import SimpleNamespace

from tests.study.rule_case import STOCK, SidesCase, case
from tests.study.winding.rewound import NOTHING_DONE, POD, board, mm, planned, whole
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import CoreTest, MotorRead
from wattagon.physics.winding.coil import Connection
from wattagon.study.build.winding_work import wound_rows, wound_steps
from wattagon.study.findings.status import Status
from wattagon.study.winding.enter import told_of
from wattagon.study.winding.guide import joints
from wattagon.study.winding.rules import RULES
from wattagon.study.winding.study import study_winding

TIGHT, OVER, CLEAR = Status.TIGHT, Status.OVER, Status.CLEAR
Q = lambda value: Quantity(value=value, known=Known.MEASURED)


def told(**more):
    """The pod with other facts about its winding."""
    return put(NOTHING_DONE, "variant.winding", replace(told_of(NOTHING_DONE), **more))


def halls(**more):
    return told(halls=replace(told_of(NOTHING_DONE).halls, **more))


class WindingRulesTest(SidesCase):
    def verdicts(self, design, code):
        rule = next(one for one in RULES if one.code == f"winding.{code}")
        found = list(rule.findings(case(design)))
        made = {one.code.removeprefix("winding."): one for one in found}
        return made | ({code: found[0]} if found else {})

    def test_refused(self):
        self.assertEqual(self.verdicts(NOTHING_DONE, "refused"), {})
        finding = self.verdicts(planned(NOTHING_DONE, strands=40), "refused")["refused"]
        self.assertIn("turns and strands is 12 x 40 of 0.5 mm; accepted: up to", finding.title)

    def test_balance(self):
        stator = lambda slots, poles: put(put(board(), "variant.winding.stator.slots", slots), "variant.winding.stator.poles", poles)
        self.sides("balance", stator(12, 14), stator(12, 12))
        self.assertIn("makes no three equal phases", self.verdicts(stator(14, 12), "balance")["balance"].title)
        self.assertIn("factor is 0.25", self.verdicts(stator(12, 22), "balance")["balance"].title)
        single = put(board(), "variant.winding.now.layers", 1)
        self.assertIs(self.status(single, "balance"), CLEAR)
        self.assertIn("every other tooth", self.verdicts(put(single, "variant.winding.stator.slots", 15), "balance")["balance"].title)

    def test_side_pull_and_frequency(self):
        stator = lambda slots, poles: put(put(board(), "variant.winding.stator.slots", slots), "variant.winding.stator.poles", poles)
        self.assertEqual(self.verdicts(stator(12, 14), "side_pull"), {})
        self.assertIs(self.status(stator(15, 14), "side_pull"), TIGHT)
        sheet = lambda design, value: put(design, "variant.winding.stator.lamination", Q(value))
        self.sides(
            "frequency", sheet(board(), 0.2e-3), sheet(board(), 0.5e-3), wanted=(self.status(sheet(board(), 0.2e-3), "frequency"), TIGHT)
        )
        self.assertIs(self.status(NOTHING_DONE, "frequency"), CLEAR)

    def test_fill(self):
        area = lambda value: put(NOTHING_DONE, "variant.winding.stator.slot_area", Q(value * 1e-6))
        # copper of a slot is 2 x 12 x 3 x 0.19635 = 14.14 mm2
        self.assertEqual([self.status(area(one), "fill") for one in (31.6, 31.3, 28.4, 28.2)], [CLEAR, TIGHT, TIGHT, OVER])
        finding = self.verdicts(area(27.0), "fill")["fill"]
        self.assertIn("0.52 of the slot is copper", finding.title)

    def test_wire_that_passes(self):
        gap = lambda value: put(NOTHING_DONE, "variant.winding.stator.opening", mm(value))
        self.sides("wire", gap(1.2), gap(0.60))
        self.assertIs(self.status(gap(1.0), "wire"), TIGHT, "a few strands at a time")
        self.assertIs(self.status(planned(NOTHING_DONE, strands=1, turns=6, wire=mm(1.3)), "wire"), OVER, "stiff")

    def test_density(self):
        thin = planned(NOTHING_DONE, strands=1, wire=mm(0.1))
        self.sides("density", NOTHING_DONE, thin)
        self.assertIn("A/mm² where", self.verdicts(thin, "density")["density"].title)

    def test_ring_current_of_a_delta(self):
        delta = lambda **more: planned(NOTHING_DONE, turns=21, strands=2, connection=Connection.DELTA, **more)
        self.assertEqual(self.verdicts(NOTHING_DONE, "ring"), {}, "a wye has none")
        covers = lambda share: put(delta(), "variant.winding.stator.magnet_cover", Q(share))
        self.sides("ring", covers(2.0 / 3.0), covers(1.0))
        finding = self.verdicts(covers(1.0), "ring")["ring"]
        self.assertIn("round the triangle", finding.title)
        # where three coils of a phase are in step there is no third harmonic at all
        nine = put(put(covers(1.0), "variant.winding.stator.slots", 9), "variant.winding.stator.poles", 12)
        self.assertAlmostEqual(study_winding(nine, STOCK, seek=False, compare=False).ring.amps, 0.0, places=9)

    def test_a_rewind_that_makes_more_heat_than_a_reduction_would(self):
        self.assertEqual(self.verdicts(NOTHING_DONE, "heat"), {}, "the propeller meets fewer goals: nothing to compare")
        self.assertIs(self.status(planned(NOTHING_DONE, strands=1), "heat"), OVER)
        told_board = put(
            board(),
            "variant.winding",
            replace(told_of(board()), kv=Q(150.0)),
        )
        poor = planned(told_board, turns=18, strands=1, wire=mm(0.5))
        rich = planned(told_board, turns=18, strands=6, wire=mm(0.5))
        self.sides("heat", rich, poor)
        self.assertRegex(self.verdicts(poor, "heat")["heat"].title, r"rewound, .* with .*teeth instead of .*, which meets as many goals")

    def test_controller(self):
        self.assertIs(self.status(NOTHING_DONE, "controller"), CLEAR)
        few = planned(NOTHING_DONE, turns=1, strands=10, wire=mm(0.5), connection=Connection.DELTA)
        self.assertIs(self.status(few, "controller"), OVER)
        self.assertIn("uH: below 10 uH", self.verdicts(few, "controller")["controller"].title)
        self.assertIn("electrical rpm, it bears", self.verdicts(few, "controller")["controller"].title)

    def test_insulation(self):
        liner = lambda value: put(NOTHING_DONE, "variant.winding.stator.liner", mm(value))
        self.assertEqual([self.status(liner(one), "insulation") for one in (0.25, 0.15, 0.05)], [CLEAR, TIGHT, OVER])
        tests = lambda value: told(tests=(CoreTest(phase="B", when="after", megohm=value),))
        self.sides("insulation", tests(12.0), tests(8.0))
        self.assertIn("8 MΩ of phase B after winding", self.verdicts(tests(8.0), "insulation")["insulation"].title)
        order = [job.tooth for job in whole().guide.jobs]
        wound = told(done=tuple(order[:4]))
        self.assertIs(self.status(wound, "insulation"), Status.NOT_CHECKED)
        self.assertIn("A after winding not tested", self.verdicts(wound, "insulation")["insulation"].title)

    def test_air_gap(self):
        cover = lambda value: told(cover=mm(value))
        self.assertEqual([self.status(cover(one), "gap") for one in (0.3, 0.4, 0.5)], [CLEAR, TIGHT, OVER])
        self.assertEqual(self.verdicts(NOTHING_DONE, "gap"), {})
        all_done = told(done=tuple(job.tooth for job in whole().guide.jobs))
        self.assertIs(self.status(all_done, "gap"), Status.NOT_CHECKED)

    def test_sensors(self):
        self.sides("halls", halls(openings=(0, 4, 8)), halls(openings=(0, 4, 7)))
        degree = lambda off: halls(openings=(0, 4, 8), offsets=(0.0, off, 0.0))
        self.sides("halls", degree(0.5), degree(0.75))  # 3.5 and 5.25 electrical degrees
        self.assertEqual(self.verdicts(halls(openings=()), "halls"), {})
        wrong = halls(openings=(0, 1, 5))
        for edit in self.verdicts(wrong, "halls")["halls"].candidates():
            self.assertIs(self.status(apply(wrong, edit), "halls"), CLEAR)
        self.sides("codes", halls(codes="101 100 110 010 011 001"), halls(codes="101 100 111 010 011 001"))
        self.assertEqual(self.verdicts(halls(codes=""), "codes"), {})

    def test_angle_of_a_controller_that_does_not_learn(self):
        at = lambda opening: halls(openings=tuple((opening + k) % 12 for k in (0, 4, 8)), learns="no")
        statuses = [self.status(at(opening), "angle") for opening in range(12)]
        self.assertIn(CLEAR, statuses)
        self.assertIn(OVER, statuses)
        self.assertEqual(self.verdicts(halls(learns="yes"), "angle"), {})

    def test_read(self):
        read = lambda kv: told(after=MotorRead(rpm=Q(1500.0), v_ab=Q(1500.0 / kv / 2**0.5)))
        self.assertEqual([self.status(read(one), "read") for one in (105.0, 109.5, 114.0)], [CLEAR, TIGHT, OVER])
        finding = self.verdicts(read(181.9), "read")["read"]
        self.assertIn("joined in delta, not in wye", finding.because)

    def test_every_rule_was_on_both_sides(self):
        mine = {name.removeprefix("test_") for name in dir(self) if name.startswith("test_")}
        self.assertGreater(len(mine), 12)
        source = Path(__file__).read_text(encoding="utf-8")
        for rule in RULES:
            self.assertIn(f'"{rule.code.removeprefix("winding.")}"', source, rule.code)


class WorkTest(unittest.TestCase):
    def test_the_guide_leads_through_all_coils_and_ticks_are_kept(self):
        guide = whole().guide
        self.assertEqual(len(guide.jobs), 12)
        self.assertEqual((guide.at, guide.turns_on, len(guide.done)), (6, 5, 6))
        self.assertIn("Coil 7 of 12, tooth 4", guide.says())
        starts, ends = [job for job in guide.jobs if job.starts], [job for job in guide.jobs if job.ends]
        self.assertEqual([(len(starts), len(ends))], [(3, 3)])
        self.assertTrue(all(job.crossing == 0 for job in starts))
        for before, job in itertools.pairwise(guide.jobs):
            if not job.starts:
                self.assertEqual((before.tooth + job.crossing) % 12, job.tooth)
        stale = study_winding(told(done=(0, 11, 13)), STOCK, seek=False, compare=False)
        self.assertEqual(stale.guide.done, (0, 11), "a tooth that is not there is not wound")

    def test_joints(self):
        wye = {one.name: one.ends for one in joints(Connection.WYE, 1)}
        self.assertEqual(wye["star point"], ("A end", "B end", "C end"))
        delta = {one.name: set(one.ends) for one in joints(Connection.DELTA, 1)}
        self.assertEqual(delta, {"lead A": {"C end", "A start"}, "lead B": {"A end", "B start"}, "lead C": {"B end", "C start"}})
        for connection in Connection:
            for paths in (1, 2):
                ends = [end for one in joints(connection, paths) for end in one.ends]
                self.assertEqual(len(ends), 6 * paths)
                self.assertEqual(len(set(ends)), 6 * paths)

    def test_rows_and_steps_of_the_build(self):
        found = whole()
        gathered = SimpleNamespace(winding=found, design=POD)
        of = lambda design: SimpleNamespace(winding=study_winding(design, STOCK, seek=False, compare=False), design=design)
        rows = list(wound_rows(gathered))
        names = [row.id for row in rows]
        self.assertEqual(names[0], f"wire-{found.chosen.reel.id}")
        self.assertLessEqual({"winding-resin", "winding-liner", "winding-sensor"}, set(names))
        self.assertGreaterEqual(rows[0].count * found.chosen.reel.length_m, found.chosen.wire_m)
        steps = list(wound_steps(gathered, rows, ()))
        order = [step.id for step in steps]
        self.assertEqual(order[:3], ["wind-note", "wind-strip", "wind-line"])
        self.assertLess(order.index("wind-measure"), order.index("wind-resin"))
        seen = set()
        for step in steps:
            self.assertLessEqual(set(step.after), seen, step.id)
            seen.add(step.id)
        self.assertTrue(next(step for step in steps if step.id == "wind-measure").caution)
        self.assertIn("wind-soak", order, "its motor is of the submerged kind")
        dry = type(
            "Found", (), {"winding": study_winding(planned(board(), turns=20), STOCK, seek=False, compare=False), "design": board()}
        )()
        dry_steps = [step.id for step in wound_steps(dry, list(wound_rows(dry)), ())]
        self.assertNotIn("wind-soak", dry_steps)
        self.assertNotIn("wind-sensors", dry_steps)
        none = of(board())
        self.assertEqual((list(wound_rows(none)), list(wound_steps(none, (), ()))), ([], []))


if __name__ == "__main__":
    unittest.main()
