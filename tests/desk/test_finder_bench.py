"""The finder bench, worked with mouse and keys."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.finder.bench import FinderBench


class FinderBenchTest(DeskTestCase):
    def setUp(self):
        super().setUp()
        self.window.show_bench("finder")
        self.app.processEvents()

    @property
    def bench(self) -> FinderBench:
        bench = self.window.bench("finder")
        assert isinstance(bench, FinderBench)
        return bench

    def search(self):
        self.click(self.bench.go, QPointF(8, 8))
        self.wait_until(lambda: not self.bench.book.running, 120.0)
        self.app.processEvents()

    def test_search_choose_take_and_undo(self):
        self.assertIsNone(self.bench.book.found, "nothing is searched unasked")
        self.assertFalse(self.bench.take.isVisible())
        self.search()
        found = self.bench.book.found
        self.assertGreater(len(found.hits), 5)
        self.bench.scatter.repaint()
        self.click(self.bench.scatter, self.bench.scatter._places[3])
        chosen = self.bench.book.chosen
        self.assertEqual(self.bench.scatter._places[chosen], self.bench.scatter._places[3])
        self.bench.scatter.setFocus()
        QTest.keyClick(self.bench.scatter, Qt.Key.Key_Right)
        self.assertEqual(self.bench.book.chosen, chosen + 1)
        hit = found.hits[chosen + 1]
        cells = {cell.name: cell for cell in self.bench.compare.cells()}
        self.assertEqual(cells["mass"].found, self.session.say(hit.mass_kg, "mass"))
        self.assertEqual(cells["mass"].now, self.session.say(self.session.study.resolved.drive_mass_kg, "mass"))
        before = self.session.design
        self.click(self.bench.take, QPointF(8, 8))
        variant = self.session.design.variant()
        self.assertEqual((variant.id, variant.based_on, variant.motor), ("D", "B", hit.variant.motor))
        self.assertIn("search of 37 billion", variant.note)
        self.assertTrue(all(result.met for result in self.session.study.goals))
        self.assertFalse(self.bench.book.stale, "another variant is not another brief")
        self.session.undo()
        self.assertEqual(self.session.design, before)
        # a changed goal makes it stale, and the goals say what they cost
        self.session.apply(Edit(label="x", changes=(("brief.goals.budget.amount", 300.0),)))
        self.assertTrue(self.bench.book.stale)
        self.assertIn("changed since", self.bench.state.text())
        rows = {name: saving for name, _, _, saving in self.bench.goals.rows()}
        self.assertTrue(any("saves" in saving for saving in rows.values()))

    def test_stop_leaves_everything_as_it_was(self):
        self.click(self.bench.go, QPointF(8, 8))
        self.assertTrue(self.bench.book.running)
        QTest.keyClick(self.bench, Qt.Key.Key_Escape)
        self.assertFalse(self.bench.book.running)
        self.assertIsNone(self.bench.book.found)
        self.assertEqual(self.bench.go.text(), "Search")

    def test_nothing_fits_says_what_to_ease(self):
        self.session.apply(Edit(label="x", changes=(("brief.goals.cruise.speed", 40.0), ("brief.goals.budget.amount", 90.0))))
        self.search()
        self.assertEqual(self.bench.book.found.hits, ())
        self.assertFalse(self.bench.take.isVisible())
        self.assertIn("none fits", self.bench.state.text())
