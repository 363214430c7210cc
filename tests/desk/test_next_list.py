"""Measure this next, and goals with their doubt, in the real window."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.desk.bands import flip_words
from wattagon.desk.brief.goal_cards import GoalCard


class NextListTest(DeskTestCase):
    runs = frozenset({"bands"})

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "brief")
        self.brief.side.setCurrentIndex(1)
        self.settled()

    def settled(self):
        self.wait_until(lambda: "bands" not in self.session.schedule.stale and bool(self.brief.next.rows))
        self.app.processEvents()

    def test_a_click_goes_to_the_measure_and_measuring_it_makes_another_the_first(self):
        self.assertEqual(self.brief.next.rows[0].path, "vehicle.rolling")
        self.assertIn("rolling resistance, 4", self.brief.next.spoken())
        self.click(self.brief.next, QPointF(60, 50))
        self.assertIs(self.brief.side.currentWidget(), self.brief.measures)
        self.assertEqual(self.brief.measures.path, "vehicle.rolling")
        self.session.try_apply(Edit(label="m", changes=(("vehicle.rolling", Quantity(value=0.03, known=Known.MEASURED)),)))
        self.settled()
        self.assertNotEqual(self.brief.next.rows[0].path, "vehicle.rolling")

    def test_keys_go_down_and_open_what_another_bench_has(self):
        rows = self.brief.next.rows
        at = next(k for k, one in enumerate(rows) if one.bench == "winding")
        self.brief.next.setFocus()
        for _ in range(at):
            QTest.keyClick(self.brief.next, Qt.Key.Key_Down)
        self.assertEqual(self.brief.next.at, at)
        QTest.keyClick(self.brief.next, Qt.Key.Key_Return)
        self.app.processEvents()
        self.assertEqual(self.window.work.current, "winding")

    def test_a_goal_in_doubt_says_how_likely_it_is(self):
        card = self.brief.goals.findChild(GoalCard, "goal-round")
        self.assertRegex(card.likely.text(), r"met: 9\d% likely")
        self.assertRegex(card.toolTip(), r"between 2\d.* and 4\d.* four times of six; met in 9\d%")
        sure = self.brief.goals.findChild(GoalCard, "goal-budget")
        self.assertEqual(sure.likely.text(), "")

    def test_the_map_shades_what_the_edge_may_be_once_that_is_known(self):
        self.bring("Dunlin", "B", "drive")
        view = self.drive.map
        self.wait_until(lambda: not self.session.schedule.stale & {"bands", "steps"})
        self.app.processEvents()
        shaded = view.grab().toImage()
        self.session.schedule.stale.add("bands")
        self.assertNotEqual(view.grab().toImage(), shaded)
        self.session.schedule.stale.discard("bands")
        self.assertEqual(view.grab().toImage(), shaded)

    def test_a_finding_on_a_goal_says_what_would_clear_it(self):
        far = self.session.study.goals
        reached = next(one.reached for one in far if one.goal.id == "round")
        self.session.try_apply(Edit(label="x", changes=(("brief.goals.round.distance", 1.05 * reached),)))
        self.assertEqual(flip_words(self.session, "goal.round"), "", "not while it is worked out")
        self.settled()
        self.assertRegex(
            flip_words(self.session, "goal.round"), r"Met in \d+% of what may be; rolling resistance of 0\.0\d+ would clear it\."
        )
        self.assertEqual(flip_words(self.session, "pack.amps"), "")

    def test_while_it_is_worked_out_nothing_old_is_shown(self):
        self.session.try_apply(Edit(label="x", changes=(("vehicle.wheelbase", 0.8),)))
        self.assertEqual(self.brief.next.rows, ())
        self.assertIn("being worked out", self.brief.next.spoken())
        card = self.brief.goals.findChild(GoalCard, "goal-round")
        self.assertEqual(card.toolTip(), "")
        self.settled()
        self.session.try_apply(Edit(label="none", changes=(("brief.goals", ()),)))
        self.wait_until(lambda: "bands" not in self.session.schedule.stale)
        self.app.processEvents()
        self.assertEqual(self.brief.next.rows, ())
