"""The finder bench, worked with mouse and keys."""

import math
from dataclasses import replace
from unittest import mock

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.finder.bench import FinderBench
from wattagon.desk.finder.book import LIMIT
from wattagon.desk.finder.sure import paint_band
from wattagon.study.finder.search import find_drives
from wattagon.study.finder.wishes import Wishes
from wattagon.study.findings.status import Status


class FinderBenchTest(DeskTestCase):
    once = None  # what a smaller search for Dunlin finds, for all tests that only look at it
    few = Wishes(
        schools=("belt",),
        use=tuple(f"outrunner-{frame}" for frame in ("50x65-230", "63x54-260", "63x64-190", "63x74-190", "63x74-170", "80x85-170")),
    )

    def setUp(self):
        self.enterContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 30_000))
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
        self.wait_until(lambda: not self.bench.book.running)
        self.app.processEvents()
        self.bench.scatter.repaint()

    def found(self):
        """Show what a search finds; it is made once."""
        book, own = self.bench.book, type(self)
        book.ask(self.few)
        if own.once is None:
            own.once = find_drives(self.session.design, self.session.stock, wishes=self.few, objectives=book.axes, limit=LIMIT)
        book.show(own.once)
        self.app.processEvents()
        self.bench.scatter.repaint()

    def detail(self):
        self.wait_until(lambda: self.bench.book.detail is not None)
        self.app.processEvents()

    def press(self, k, modifiers=Qt.KeyboardModifier.NoModifier):
        """A press on a find of the picture."""
        self.bench.scatter.repaint()
        place = self.bench.scatter.places[k].toPoint()
        QTest.mouseClick(self.bench.scatter, Qt.MouseButton.LeftButton, modifiers, place)
        self.app.processEvents()
        return self.bench.scatter.nearest(QPointF(place))

    def test_search_choose_take_and_undo(self):
        self.assertIsNone(self.bench.book.found, "nothing is searched unasked")
        self.assertFalse(self.bench.take.isVisible())
        self.search()
        found = self.bench.book.found
        self.assertGreater(len(found.hits), 20)
        places = self.bench.scatter.places
        alone = lambda k: min((places[k] - other).manhattanLength() for j, other in places.items() if j != k) > 12.0
        got = self.press(next(k for k in sorted(places) if k >= 0 and alone(k)))
        self.assertEqual(self.bench.book.chosen, got)
        self.bench.scatter.setFocus()
        QTest.keyClick(self.bench.scatter, Qt.Key.Key_Right)
        order = sorted(self.bench.scatter.places)
        self.assertEqual(self.bench.book.chosen, order[order.index(got) + 1])
        hit = self.bench.book.hit
        cells = {cell.name: cell for cell in self.bench.compare.cells()}
        self.assertEqual(cells["mass"].found, self.session.say(hit.mass_kg, "mass"))
        self.assertEqual(cells["mass"].now, self.session.say(self.session.study.resolved.drive_mass_kg, "mass"))
        before = self.session.design
        self.click(self.bench.take, QPointF(8, 8))
        variant = self.session.design.variant()
        self.assertEqual((variant.id, variant.based_on, variant.motor, variant.stages), ("D", "B", hit.variant.motor, hit.variant.stages))
        self.assertIn("search of 66 trillion", variant.note)
        self.assertTrue(all(result.met for result in self.session.study.goals))
        self.assertEqual((variant.layout.motor, variant.layout.stages), (None, ()), "another drive stands elsewhere")
        self.assertTrue(variant.layout.obstacles, "the vehicle keeps its frame")
        self.assertFalse(self.bench.book.stale, "another variant is not another brief")
        self.session.undo()
        self.assertEqual(self.session.design, before)
        # a changed goal makes it stale, and the goals say what they cost
        self.session.apply(Edit(label="x", changes=(("brief.goals.budget.amount", 300.0),)))
        self.assertTrue(self.bench.book.stale)
        self.assertIn("search again", self.bench.state.text())
        rows = {name: saving for name, _, _, saving in self.bench.goals.rows()}
        self.assertTrue(any("saves" in saving for saving in rows.values()))

    def test_findings_freedom_and_the_near_equal_ones_of_the_chosen(self):
        self.found()
        self.detail()
        codes = {finding.code for finding in self.bench.book.detail.findings}
        told = {"layout.loop.0", "layout.cans"} <= codes
        self.assertTrue(told or not self.bench.book.hit.variant.stages, "whether it can be built is told")
        found, panel = self.bench.book.found, self.window.findings
        self.assertEqual(panel.head.text(), "Findings: chosen")
        self.assertNotIn(Status.OVER, {finding.status for finding in panel.list.findings}, "a hit passes every rating and goal")
        self.assertNotEqual(list(panel.list.findings), list(self.session.findings))
        self.click(self.bench.views[1], QPointF(8, 8))
        self.bench.freedom.repaint()
        places = {place.name: place for place in self.bench.freedom.places()}
        self.assertTrue({"Motor", "In series", "Controller"} <= set(places))
        for place in places.values():
            self.assertEqual(sum(step.present for step in place.steps), 1, place.name)
            self.assertTrue(all(step.keeps for step in place.steps if step.present))
        area, _, step = next(tick for tick in self.bench.freedom.ticks if not tick[2].keeps)
        self.assertIn("fails", self.bench.freedom.words(step))
        self.assertTrue(self.bench.freedom.rect().contains(area.center().toPoint()))
        row = self.bench.book.row_of(self.bench.book.chosen)
        self.assertGreater(len(row), 1)
        self.click(self.bench.on, QPointF(4, 8))
        self.assertEqual(self.bench.book.chosen, row[1])
        self.assertIn(f"2 of {len(row)}", self.bench.which.text())
        self.window.show_bench("drive")
        self.app.processEvents()
        self.assertEqual(panel.head.text(), "Findings")
        self.assertEqual(list(panel.list.findings), list(self.session.findings))
        self.assertEqual(len(found.hits), len(self.bench.book.found.hits))

    def test_several_are_compared_on_one_map_and_in_a_table(self):
        self.found()
        self.assertFalse(self.bench.pulls.isVisible())
        front = sorted(self.bench.scatter.places)[: self.bench.book.found.front]
        first = self.press(front[0], Qt.KeyboardModifier.ControlModifier)
        self.assertFalse(self.bench.pulls.isVisible())
        self.press(front[-1])
        self.bench.scatter.setFocus()
        QTest.keyClick(self.bench.scatter, Qt.Key.Key_Space)
        self.app.processEvents()
        self.assertEqual(self.bench.book.marked, [first, self.bench.book.chosen])
        self.assertTrue(self.bench.pulls.isVisible())
        self.assertTrue(self.bench.differences.isVisible())
        lines = {line.name: line for line in self.bench.differences.lines()}
        hits = [self.bench.book.points[k] for k in self.bench.book.marked]
        self.assertEqual(lines["cost"].texts, tuple(self.session.say(round(hit.cost), "money") for hit in hits))
        self.assertEqual(lines["cost"].best, min((0, 1), key=lambda k: hits[k].cost))
        for line in lines.values():
            self.assertGreater(len(set(line.texts)), 1, f"{line.name} differs")
        pull = self.bench.book.pull(first)
        self.assertGreater(float(pull.force_n[0]), 50.0)
        QTest.keyClick(self.bench.scatter, Qt.Key.Key_Space)
        self.app.processEvents()
        self.assertFalse(self.bench.pulls.isVisible())

    def test_hover_tells_the_drive_with_its_edge(self):
        self.found()
        place = self.bench.scatter.places[2]
        QTest.mouseMove(self.bench.scatter, place.toPoint())
        self.app.processEvents()
        card = self.bench.scatter.card
        self.assertTrue(card.isVisible())
        words = " ".join(text for text, _ in ((" ".join(lines), bold) for lines, bold in card.lines()))
        hit = self.bench.book.points[self.bench.scatter.nearest(QPointF(place.toPoint()))]
        self.assertIn(self.session.say(round(hit.cost), "money"), words)
        self.assertTrue(self.bench.scatter.rect().contains(card.geometry()))
        QTest.mouseMove(self.bench.scatter, self.bench.scatter.rect().topRight())
        self.app.processEvents()
        self.assertFalse(card.isVisible())

    def test_limits_are_typed_refused_and_kept(self):
        self.bench.book.ask(Wishes(use=self.few.use))
        self.click(self.bench.pages[1], QPointF(8, 8))
        limits = self.bench.limits
        self.assertTrue(limits.isVisible())
        refused = []
        self.session.told.connect(lambda words, bad: refused.append(words) if bad else None)
        for name, text, words in (
            ("volts", "300 %", "margin on volts"),
            ("within", "soon", "Arrives by"),
            ("least_driver", "x", "teeth"),
            ("climb_time", "-3", "climb lasts"),
        ):
            self.type_in(limits.fields[name], text)
            self.assertIn(words, refused[-1])
            self.assertEqual(limits.fields[name].text(), text, "nothing typed is lost")
            limits.fields[name].setModified(False)
            limits.show_wishes()
        self.type_in(limits.fields["volts"], "10")
        self.type_in(limits.fields["within"], "14")
        self.type_in(limits.fields["least_driver"], "14")
        for school in ("direct", "chain", "two"):
            self.click(limits.schools[school], QPointF(6, 6))
        self.assertEqual(self.bench.book.wishes.schools, ("belt",))
        self.click(limits.schools["belt"], QPointF(6, 6))
        self.assertIn("schools", refused[-1])
        self.assertTrue(limits.schools["belt"].isChecked(), "one school at least")
        wishes = self.bench.book.wishes
        self.assertEqual((wishes.volts, wishes.within_days, wishes.least_driver), (0.1, 14, 14))
        self.search()
        for hit in self.bench.book.found.hits:
            self.assertEqual([stage.kind.value for stage in hit.variant.stages], ["belt"])
            self.assertGreaterEqual(hit.variant.stages[0].driver_teeth, 14)
        self.type_in(limits.fields["climb_time"], "2")
        self.assertEqual(self.bench.book.wishes.climb_time, 120.0, "a bare number is minutes")
        self.type_in(limits.fields["climb_time"], "1,5")
        self.assertEqual(self.bench.book.wishes.climb_time, 90.0)
        self.type_in(limits.fields["climb_time"], "45 s")
        self.assertEqual(self.bench.book.wishes.climb_time, 45.0)
        self.assertTrue(self.bench.book.stale)

    def type_in(self, field, text):
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.app.processEvents()

    def test_axes_are_picked_where_they_are_drawn_and_searched_for(self):
        self.found()
        up = self.bench.scatter.axes[1]
        up.setCurrentIndex(up.findData("range"))
        up.activated.emit(up.currentIndex())
        self.assertTrue(self.bench.book.running, "its front is another one")
        self.wait_until(lambda: not self.bench.book.running)
        found = self.bench.book.found
        best = max(hit.range_m for hit in found.hits)
        self.assertTrue(any(hit.range_m == best for hit in found.hits[: found.front]))
        self.assertEqual(self.bench.book.axes, ("cost", "range"))

    def test_stop_leaves_everything_as_it_was(self):
        self.click(self.bench.go, QPointF(8, 8))
        self.assertTrue(self.bench.book.running)
        QTest.keyClick(self.bench, Qt.Key.Key_Escape)
        self.assertFalse(self.bench.book.running)
        self.assertIsNone(self.bench.book.found)
        self.assertEqual(self.bench.go.text(), "Search")

    def test_results_show_while_it_runs(self):
        self.click(self.bench.go, QPointF(8, 8))
        self.wait_until(lambda: self.bench.book.found is not None)
        if self.bench.book.running:
            self.assertFalse(self.bench.book.found.done)
            self.assertIn("found so far", self.bench.state.text())
            self.assertFalse(self.bench.take.isEnabled())
            QTest.keyClick(self.bench, Qt.Key.Key_Escape)
            self.assertIn("stopped early", self.bench.state.text())
        self.assertTrue(self.bench.book.found.hits)

    def test_a_brief_without_goals_says_that_too_much_fits(self):
        self.session.apply(Edit(label="x", changes=(("brief.goals", ()),)))
        self.bench.book.ask(self.few)
        self.search()
        self.assertIn("more goals or limits", self.bench.state.text())
        self.assertEqual(self.bench.goals.rows(), [])

    def test_nothing_fits_says_what_to_ease(self):
        self.session.apply(Edit(label="x", changes=(("brief.goals.cruise.speed", 40.0), ("brief.goals.budget.amount", 90.0))))
        self.bench.book.ask(self.few)
        self.search()
        self.assertEqual(self.bench.book.found.hits, ())
        self.assertIn("none fits", self.bench.state.text())

    def test_near_misses_are_shown_and_can_be_taken_with_what_they_miss(self):
        self.session.apply(Edit(label="x", changes=(("brief.goals.budget.amount", 60.0),)))
        self.bench.book.ask(self.few)
        self.search()
        found = self.bench.book.found
        self.assertEqual(found.hits, ())
        self.assertTrue(found.near_misses)
        got = self.press(0)
        miss = self.bench.book.points[got]
        self.assertTrue(miss.fails)
        self.click(self.bench.take, QPointF(8, 8))
        self.assertIn(f"misses {miss.fails}", self.session.design.variant().note)

    def test_two_that_are_marked_say_whether_they_can_be_told_apart(self):
        self.found()
        self.bench.book.mark(0)
        self.bench.book.mark(1)
        view = self.bench.differences
        self.wait_until(lambda: bool(view.apart))
        self.assertIn("told apart", view.spoken())
        view.repaint()
        self.bench.book.mark(1)
        self.assertEqual(view.apart, "")

    def test_what_is_not_sure_of_a_find_fades_on_the_picture(self):
        self.found()
        scatter, book = self.bench.scatter, self.bench.book
        book.mark(1)
        rows = [book.points[k].row for k in (book.chosen, 1)]
        self.wait_until(lambda: all(scatter.sure.bands(row) for row in rows))
        one = scatter.sure.bands(rows[1])["range"]
        self.assertLess(one.low, book.points[1].range_m)
        self.assertGreater(one.high, book.points[1].range_m)
        self.assertEqual(scatter.sure.bands(book.points[5].row), {}, "only of those in hand")
        book.set_axes("speed", "range")
        scatter.repaint()
        scatter.card.show_for(1, scatter.places[1])
        words = " ".join(text for lines, _ in scatter.card.lines() for text in lines)
        self.assertIn(self.session.say(one.low, "distance"), words)
        self.assertIn("Four times of six", words)
        book.show(replace(book.found, searched=book.found.searched + 1))
        self.assertEqual(scatter.sure.bands(rows[1]), {}, "another search begins anew")

    def test_a_stroke_fades_towards_the_end_of_its_band(self):
        picture = QImage(200, 100, QImage.Format.Format_RGB32)
        picture.fill(QColor("white"))
        painter = QPainter(picture)
        area = QRectF(0, 0, 200, 100)
        paint_band(painter, QPointF(100, 50), (60.0, 180.0), QColor("black"), area, across=True)
        paint_band(painter, QPointF(100, 50), (-math.inf, 50.0), QColor("black"), area, across=False)
        painter.end()
        ink = lambda x, y: 255 - picture.pixelColor(x, y).lightness()
        self.assertGreater(ink(95, 50), ink(65, 50) + 30)
        self.assertGreater(ink(105, 50), ink(170, 50) + 30)
        self.assertEqual((ink(55, 50), ink(185, 50)), (0, 0))
        self.assertEqual(ink(100, 20), 0, "an end that nobody knows is not drawn")

    def test_marked_drives_go_to_the_window_that_compares(self):
        self.found()
        self.bench.book.mark(0)
        self.bench.book.mark(1)
        self.bench.compare_marked()
        view = self.window.comparing
        self.addCleanup(view.close)
        self.wait_until(lambda: not view.worker.running and view.found is not None)
        self.assertEqual([one.code for one in view.found.sides][1:], ["found 1", "found 2"])
