"""Looking ahead: what is at hand is what would be worked out, and is dropped when it no longer holds."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import apply
from wattagon.study.drive.study import study_drive


class LookAheadTest(DeskTestCase):
    def in_hand(self, code):
        levers = self.drive.levers
        levers.setFocus()
        while levers.focused != self.lever(code):
            QTest.keyClick(levers, Qt.Key.Key_Right)
        self.settle()
        return next(lever for lever in self.session.levers if lever.code == code)

    def test_the_steps_of_the_lever_in_hand_are_at_hand_and_right(self):
        lever = self.in_hand("driver_teeth_0")
        after = apply(self.session.design, lever.up)
        ready = self.session.ahead.known(after)
        self.assertIsNotNone(ready)
        QTest.keyClick(self.drive.levers, Qt.Key.Key_Up)
        self.assertIs(self.session.study, ready.study)
        fresh = study_drive(after, self.session.stock)
        self.assertEqual([g.reached for g in self.session.study.goals], [g.reached for g in fresh.goals])

    def test_undo_finds_the_last_study_again(self):
        self.in_hand("series")
        before = self.session.study
        QTest.keyClick(self.drive.levers, Qt.Key.Key_Up)
        self.assertIsNot(self.session.study, before)
        self.session.undo()
        self.assertIs(self.session.study, before)

    def test_other_units_reword_what_was_kept(self):
        lever = self.in_hand("motor_current")
        self.session.set_looks(unit_set="imperial")
        self.assertIsNone(self.session.ahead.known(apply(self.session.design, lever.up)))
