"""In plain words, in the real window: those on the screen first, found by typing and from the palette, with this design's number."""

from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.palette import Palette
from wattagon.desk.plain.window import on_screen


class PlainWordsTest(DeskTestCase):
    runs = frozenset()

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")

    def open(self):
        self.window.show_words()
        view = self.window.words_window
        self.addCleanup(view.close)
        return view

    def names(self, view):
        return [view.list.item(k).text() for k in range(view.list.count())]

    def test_those_on_the_screen_stand_first(self):
        view = self.open()
        first = self.names(view)[:13]
        self.assertIn("duty", first)
        self.assertIn("pull", first)
        self.assertNotIn("winding factor", first)
        self.assertNotIn("freeboard", self.names(view), "a board has none")

    def test_typing_finds_other_spellings_and_the_number_follows_the_design(self):
        view = self.open()
        QTest.keyClicks(view.search, "phase amps")
        self.assertEqual(self.names(view), ["motor amps"])
        view.choose("kv")
        self.assertIn("Yours turns 167 rpm/V", view.says.text())
        self.session.try_apply(Edit(label="kv", changes=(("variant.motor.kv_rpm_per_v", 140.0),)))
        self.app.processEvents()
        self.assertIn("Yours turns 140 rpm/V", view.says.text())
        QTest.keyClicks(view.search, "zzz")
        self.assertIn("no such word", view.says.text())

    def test_from_the_palette(self):
        def choose(palette):
            self.assertIsInstance(palette, Palette)
            QTest.keyClicks(palette.search, "what is sag")
            QTest.keyClick(palette.search, Qt.Key.Key_Return)
            return True

        with mock.patch("wattagon.desk.help_actions.ask", choose):
            self.window.show_palette()
        view = self.window.words_window
        self.addCleanup(view.close)
        self.assertEqual(view.term.name, "sag")

    def test_words_in_words(self):
        self.assertEqual(on_screen(["Hall sensors", "pack amps 30 A", "cutbacks"]), {"Hall sensors", "pack amps", "cutback"})
        self.assertEqual(on_screen(["ratios of gratis"]), {"ratio"})
