"""That a finding may turn, in the panel: worked out in a process of its own while the hand rests."""

from unittest import mock

from PySide6.QtCore import QProcess

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.bands import flip_words
from wattagon.desk.turns import CODE, REST_MS, TurnWatch
from wattagon.study.bands.turn import Turn
from wattagon.study.findings.status import Status


def turn(code, margin, value):
    return Turn(
        code=code,
        margin=margin,
        low=margin - 0.2,
        high=margin + 0.2,
        path="vehicle.deck_height",
        name="deck to ground",
        value=value,
        dimension="length",
        unit="m",
        exact=True,
    )


class TurnsInThePanelTest(DeskTestCase):
    runs = frozenset()

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")
        self.all_settled()
        self.list = self.window.findings.list

    def take(self, *turns):
        self.session.schedule.stale.discard(CODE)
        self.session.schedule.take(CODE, {one.code: one for one in turns})
        self.app.processEvents()

    def test_a_tight_one_says_what_would_turn_it_in_the_user_units(self):
        one = next(f for f in self.session.findings if f.status is Status.TIGHT and not f.code.startswith("goal."))
        before = self.list.height()
        self.take(turn(one.code, 0.02, 0.1331))
        self.assertIn(f"{one.title} Deck to ground of 133.1 mm alone would put it past its limit.", self.list.spoken())
        self.assertGreater(self.list.height(), before, "it stands in its card")
        self.take(turn(one.code, -0.02, 0.1331))
        self.assertIn("133.1 mm alone would clear it", self.list.spoken())
        self.session.set_looks(unit_set="imperial")
        self.app.processEvents()
        self.assertIn("5.24 in", self.list.spoken())

    def test_how_many_of_the_clear_ones_may_turn_stands_where_they_are_folded(self):
        clear = [f.code for f in self.session.findings if f.status is Status.CLEAR and not f.code.startswith("goal.")]
        self.list.act(next(hit for hit in self.list.places if hit.what == "clear"))
        self.assertFalse(self.list.unfolded(Status.CLEAR))
        folded = self.list.grab().toImage()
        self.take(turn(clear[0], 0.1, 0.13), turn(clear[1], 0.1, 0.13))
        self.assertIn("2 of the clear may turn", self.list.spoken())
        self.assertNotEqual(self.list.grab().toImage(), folded)
        self.list.act(next(hit for hit in self.list.places if hit.what == "clear"))
        self.assertTrue(self.list.unfolded(Status.CLEAR))

    def test_an_edit_takes_the_words_away_until_they_are_worked_out_again(self):
        watch = TurnWatch(self.session)
        self.addCleanup(watch.stop)
        self.assertFalse(watch.busy, "it is held with the bands")
        one = self.session.findings[0]
        self.take(turn(one.code, 0.02, 0.13))
        self.assertTrue(flip_words(self.session, one.code))
        self.session.try_apply(Edit(label="x", changes=(("vehicle.wheelbase", 0.81),)))
        self.assertEqual(flip_words(self.session, one.code), "")


class TurnWatchTest(DeskTestCase):
    runs = frozenset({"bands"})

    def setUp(self):
        super().setUp()
        # beside other tests it would wait for its turn for minutes
        self.enterContext(mock.patch("wattagon.desk.turns.NICE", 0))

    def test_it_is_worked_out_beside_the_window_and_given_up_when_something_changes(self):
        self.bring("Dunlin", "B", "drive")
        self.all_settled()
        watch = TurnWatch(self.session)
        self.addCleanup(watch.stop)
        self.assertTrue(watch.busy)
        running = lambda: watch.process.state() == QProcess.ProcessState.Running
        self.wait_until(running)
        self.session.try_apply(Edit(label="x", changes=(("vehicle.wheelbase", self.session.design.vehicle.wheelbase.value + 0.001),)))
        self.wait_until(lambda: not running())
        self.assertIn(CODE, self.session.schedule.stale)
        self.wait_until(lambda: CODE not in self.session.schedule.stale, timeout_s=400)
        found = self.session.schedule.results[CODE]
        self.assertIn("brake.grip", found)
        self.assertRegex(flip_words(self.session, "brake.grip"), r"^ Grip of 0\.4\d+ alone would put it past its limit\.$")
        self.assertFalse(watch.busy)

    def test_closing_ends_it(self):
        self.bring("Dunlin", "B", "drive")
        watch = TurnWatch(self.session)
        self.wait_until(lambda: watch.process.state() == QProcess.ProcessState.Running)
        self.session.closing.emit()
        self.assertFalse(watch.busy)
        self.assertGreater(REST_MS, 2000, "a hand that rests for a moment does not start it")
