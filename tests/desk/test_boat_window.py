"""A boat in the real window: brief, drive, ride, finder and the dialog of a new one, by hand."""

from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton, QTableWidget

from tests.desk.case import DeskTestCase
from wattagon.design.boats import BOATS
from wattagon.design.carried import with_carrier
from wattagon.design.parts import CarrierPart
from wattagon.design.quantity import Known
from wattagon.design.tree import GoalKind, Place, VehicleKind
from wattagon.desk.brief.measures import measures_for
from wattagon.desk.new_vehicle import NewVehicle
from wattagon.study.ride.study import ON_WATER


class BoatWindowTest(DeskTestCase):
    def setUp(self):
        super().setUp()
        places = [doc.design.vehicle.name for doc in self.session.docs]
        self.session.activate(places.index("Garganey"))
        self.app.processEvents()

    def show(self, code):
        self.window.show_bench(code)
        self.app.processEvents()
        return self.window.bench(code)

    def test_ribbon_ends_in_the_water_and_leads_to_its_parts(self):
        links = {link.code: link for link in self.window.ribbon.links()}
        self.assertEqual(list(links), ["pack", "controller", "motor", "shaft", "propeller", "water"])
        self.assertIn("200 × 110 mm", links["propeller"].what)
        self.assertIn("slip", links["propeller"].values)
        self.assertIn("stirs the water", self.window.ribbon.spoken())
        self.window.show_link("propeller")
        self.app.processEvents()
        self.assertTrue(self.drive.parts.isVisible())
        self.window.show_link("water")
        self.assertTrue(self.brief.isVisible())

    def test_every_measure_is_on_the_drawing_of_every_kind(self):
        brief = self.show("brief")
        left_out = {
            "hull.surface_factor",
            "hull.form",
            "hull.hull_factor",
            "hull.interference",
            "hull.weight_height",
            "hull.load_forward",
            "hull.crew_forward",
        }
        for kind in BOATS:
            brief.set_kind(kind)
            self.assertIs(self.session.design.vehicle.kind, kind)
            brief.hull.grab()
            for measure in measures_for(kind):
                if measure.path.removeprefix("vehicle.") in left_out or measure.path == "brief.conditions.pack_temperature":
                    continue  # in the list only
                self.assertFalse(brief.hull.hit(measure.path).isEmpty(), f"{kind} {measure.path}")
        self.assertFalse(brief.kind.isVisible())
        self.assertTrue(brief.boat.isVisible())

    def test_the_load_is_dragged_and_she_trims(self):
        brief = self.show("brief")
        hull = brief.hull
        hull.grab()
        before, level = self.session.design, hull.trim_words()
        self.assertIn("freeboard", level)
        start = hull.load_area.center()
        QTest.mousePress(hull, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for step in range(1, 9):
            QTest.mouseMove(hull, (start - QPointF(10.0 * step, 0.0)).toPoint())
        QTest.mouseRelease(hull, Qt.MouseButton.LeftButton, pos=(start - QPointF(80.0, 0.0)).toPoint())
        moved = self.session.design.vehicle.hull
        self.assertLess(moved.load_forward.value, 1.0)
        self.assertIs(moved.weight_forward.known, Known.COMPUTED)
        # the weight of all moves by the load's share of the mass
        share = before.vehicle.load_mass.value / float(self.session.study.resolved.load.mass_kg)
        self.assertAlmostEqual(
            before.vehicle.hull.weight_forward.value - moved.weight_forward.value, share * (1.62 - moved.load_forward.value), 2
        )
        self.assertIn("by the stern", hull.trim_words())
        self.session.undo()  # one drag, one step
        self.assertEqual(self.session.design, before)
        self.assertEqual(hull.trim_words(), level)

    def test_the_crew_is_dragged_and_the_load_stays(self):
        hull = self.show("brief").hull
        hull.grab()
        before, where = self.session.design, hull.trim_words()
        start = hull.crew_area.center() + QPointF(26.0, -20.0)  # beside the box of the load
        QTest.mousePress(hull, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for step in range(1, 7):
            QTest.mouseMove(hull, (start + QPointF(8.0 * step, 0.0)).toPoint())
        QTest.mouseRelease(hull, Qt.MouseButton.LeftButton, pos=(start + QPointF(48.0, 0.0)).toPoint())
        moved = self.session.design.vehicle.hull
        self.assertGreater(moved.crew_forward.value, before.vehicle.hull.weight_forward.value)
        self.assertIn("by the bow", hull.trim_words())
        shift = moved.weight_forward.value - before.vehicle.hull.weight_forward.value
        share = before.vehicle.rider_mass.value / float(self.session.study.resolved.load.mass_kg)
        self.assertAlmostEqual(shift, share * (moved.crew_forward.value - before.vehicle.hull.weight_forward.value), 2)
        self.session.undo()
        self.assertEqual(self.session.design, before)
        self.assertEqual(hull.trim_words(), where)

    def test_the_propeller_is_dragged_up_until_it_draws_air(self):
        hull = self.show("brief").hull
        hull.grab()
        start = hull.propeller_area.center()
        QTest.mousePress(hull, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for step in range(1, 6):
            QTest.mouseMove(hull, (start - QPointF(0.0, 5.0 * step)).toPoint())
        QTest.mouseRelease(hull, Qt.MouseButton.LeftButton, pos=(start - QPointF(0.0, 25.0)).toPoint())
        self.assertLess(self.session.design.vehicle.hull.propeller_depth.value, 0.2)
        found = {finding.code: finding for finding in self.session.findings}
        self.assertIn("air", found["prop.depth"].title)
        self.session.undo()
        self.assertEqual(self.session.design.vehicle.hull.propeller_depth.value, 0.24)

    def test_a_reading_of_the_tow_is_typed_left_out_and_removed(self):
        brief = self.show("brief")
        brief.side.setCurrentWidget(brief.tow)
        self.app.processEvents()
        table, rows = brief.tow.rows.table, lambda: self.session.design.vehicle.hull.tow
        count = len(rows())
        table.item(count, 0).setText("1.2 m/s")
        self.assertEqual(len(rows()), count)  # the pull is still to be typed
        table.item(count, 1).setText("1.4 kgf")
        self.assertEqual(len(rows()), count + 1)
        self.assertAlmostEqual(rows()[-1].pull, 1.4 * 9.80665, places=3)
        before = float(self.session.study.resolved.load.resistance_n(1.77))
        table.item(2, 0).setCheckState(Qt.CheckState.Unchecked)
        self.assertTrue(rows()[2].out)
        self.assertNotAlmostEqual(float(self.session.study.resolved.load.resistance_n(1.77)), before, places=2)
        table.item(0, 1).setText("hundred")
        self.assertEqual(rows()[0].pull, 9.5)
        self.assertIn("pull", self.window.status.message.text())
        self.assertEqual(table.item(0, 1).text(), "9.5")
        table.setCurrentCell(count, 0)
        QTest.keyClick(table, Qt.Key.Key_Delete)
        self.assertEqual(len(rows()), count)
        for _ in range(3):
            self.session.undo()
        self.assertEqual(len(rows()), count)
        self.assertFalse(rows()[2].out)

    def test_propeller_levers_step_and_the_map_has_no_hills(self):
        drive = self.show("drive")
        codes = [lever.code for lever in self.session.levers]
        self.assertTrue({"motor_count", "propeller_diameter", "propeller_pitch", "propeller_blades"} <= set(codes))
        drive.levers.setFocus()
        while drive.levers.focused != codes.index("propeller_pitch"):
            QTest.keyClick(drive.levers, Qt.Key.Key_Right)
        QTest.keyClick(drive.levers, Qt.Key.Key_Up)
        self.assertGreater(self.session.study.resolved.load.screw.pitch_m, 0.115)
        self.session.undo()
        self.session.apply(self.session.levers[codes.index("motor_count")].up)
        self.assertEqual((self.session.design.variant().motor.count, self.session.design.variant().propeller.count), (2, 2))
        self.session.undo()
        plot = drive.map
        plot.grab()
        at = plot.at(plot.axes, 1.2, 150.0)
        self.click(plot, at)
        self.assertAlmostEqual(self.session.moment.speed_m_s, 1.2, delta=0.03)
        self.assertEqual(self.session.moment.grade, 0.0)
        QTest.keyClick(plot, Qt.Key.Key_Up)
        self.assertEqual(self.session.moment.grade, 0.0)

    def test_rows_of_a_table_are_added_and_refused_as_one(self):
        brief, told = self.show("brief"), []
        brief.side.setCurrentWidget(brief.tow)
        tow = brief.tow.rows
        self.session.told.connect(lambda words, bad: told.append((words, bad)))
        before = self.session.design.vehicle.hull.tow
        with TemporaryDirectory() as folder:
            path = Path(folder) / "bank.csv"
            path.write_text("speed [kn],pull [kgf],sea\n2,3,flat\n3,7,flat\n")
            tow.read(path)
            rows = self.session.design.vehicle.hull.tow
            self.assertEqual(rows[:-2], before)
            self.assertAlmostEqual(rows[-1].pull, 7 * 9.80665)
            self.assertEqual(tow.table.rowCount(), len(rows) + 1)
            self.session.undo()
            self.assertEqual(self.session.design.vehicle.hull.tow, before)
            path.write_text("speed [kn],pull [kgf]\n2,3\n3,seven\n")
            tow.read(path)
        self.assertEqual(self.session.design.vehicle.hull.tow, before)
        self.assertTrue(told[-1][1])
        self.assertIn("row 3", told[-1][0])

    def test_own_coefficients_are_typed_and_take_the_place_of_the_shape(self):
        self.show("drive")
        self.window.show_link("propeller")
        self.app.processEvents()
        table = self.drive.parts.findChild(QTableWidget, "table-variant.propeller.open_water")
        pull = self.session.study.docks["full"].pull_n
        rows = (("0.1", "0.28", "0.033"), ("0.3", "0.2", "0.026"), ("0.5", "0.11", "0.018"), ("0.65", "0.03", "0.01"))
        for k, row in enumerate(rows):
            for j, text in enumerate(row):
                table.item(k, j).setText(text)
        self.assertEqual(len(self.session.design.variant().propeller.open_water), 4)
        self.assertNotAlmostEqual(self.session.study.docks["full"].pull_n, pull, 1)
        self.assertIn("its own table of 4 rows", " ".join(f.title for f in self.session.findings))
        table.item(0, 1).setText("30")
        self.assertEqual(self.session.design.variant().propeller.open_water[0].thrust, 0.28)

    def test_the_size_is_typed_in_one_line_and_nonsense_stays_to_be_mended(self):
        self.show("drive")
        self.window.show_link("propeller")
        self.app.processEvents()
        size = self.drive.parts.findChild(QLineEdit, "propeller-size")
        self.assertEqual(size.text(), "200 × 110 mm")
        self.type_into(size, "8 by 6")
        self.assertEqual(size.text(), "8 by 6")
        self.assertFalse(self.session.design.variant().propeller.overrides)
        self.type_into(size, "8x6")
        self.assertAlmostEqual(self.session.design.variant().propeller.overrides["pitch_m"].value, 0.1524)
        self.assertEqual(size.text(), "203.2 × 152.4 mm")
        self.session.undo()
        self.assertEqual(size.text(), "200 × 110 mm")

    def test_a_leg_from_stock_brings_its_gear_and_one_click_lets_it_go(self):
        self.show("drive")
        self.drive.show_side("parts")
        self.app.processEvents()
        edit = with_carrier(self.session.design.variant(), self.session.stock.get(CarrierPart, "leg-short-12-25"))
        self.assertTrue(self.session.try_apply(edit))
        self.app.processEvents()
        self.assertIn("12:25", self.drive.parts.findChild(QPushButton, "pick-carrier").text())
        self.assertIn("reduction", [link.code for link in self.window.ribbon.links()])
        self.assertIn("The leg's gear bears", " ".join(f.title for f in self.session.findings))
        self.assertIsNotNone(self.drive.parts.findChild(object, "variant.propeller.wedge"))
        self.drive.parts.findChild(QPushButton, "own-carrier").click()
        self.app.processEvents()
        self.assertEqual(self.session.design.variant().propeller.carrier, "")
        self.assertNotIn("own-carrier", [b.objectName() for b in self.drive.parts.widget().findChildren(QPushButton)])
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.design.variant().stages, ())

    def test_parts_name_the_propeller_and_take_a_dock_reading(self):
        drive = self.show("drive")
        drive.show_side("parts")
        self.app.processEvents()
        field = drive.parts.findChild(type(drive.parts.findChild(object, "variant.propeller.wake")), "variant.propeller.wake")
        self.type_into(field, "5 %")
        self.assertAlmostEqual(self.session.design.variant().propeller.wake.value, 0.05)
        self.session.undo()
        place = drive.parts.findChild(object, "variant.propeller.place")
        place.setCurrentIndex(place.findData(Place.LONG_TAIL))
        place.activated.emit(place.currentIndex())
        self.app.processEvents()
        self.assertIsNotNone(drive.parts.findChild(object, "variant.propeller.tail_length"))
        self.session.undo()
        self.assertIsNone(drive.parts.findChild(object, "variant.wheel.diameter_m"))

    def test_runs_on_the_water_and_the_menu_follow_the_vehicle(self):
        ride = self.show("ride")
        self.assertEqual([ride.runs.itemData(k) for k in range(len(ON_WATER))], list(ON_WATER))
        shown = {action.text().replace("&", "") for action in self.window.commands if action.isVisible()}
        self.assertIn("4 Crash stop in reverse", shown)
        self.assertNotIn("2 Start on the goal grade", shown)
        ride.choose("there-and-back")
        self.wait_until(lambda: ride.book.present is not None)
        self.assertIn("over ground", ride.lanes.spoken())
        ride.lanes.grab()
        self.type_into(ride.fields["brief.conditions.headwind"], "4 m/s")
        self.wait_until(lambda: ride.book.present is not None)
        self.assertGreater(ride.book.current.energy_wh, ride.book.before.energy_wh)
        self.session.activate(0)
        self.app.processEvents()
        self.assertIn("hill", [ride.runs.itemData(k) for k in range(ride.runs.count())])
        self.assertFalse(ride.fields["brief.conditions.current"].isVisible())

    def test_goals_of_the_water_are_offered_to_boats_only(self):
        cards = self.show("brief").goals
        cards.add.menu().aboutToShow.emit()
        self.assertTrue(cards.kinds[GoalKind.BOLLARD].isVisible())
        self.assertFalse(cards.kinds[GoalKind.CLIMB].isVisible())
        cards.add_goal(GoalKind.CROSSING)
        self.app.processEvents()
        self.type_into(cards.findChild(object, "brief.goals.crossing-1.current"), "2 kn")
        goal = self.session.design.brief.goals[-1]
        self.assertAlmostEqual(goal.current, 2 * 0.514444, places=4)
        self.assertIn("in", cards.findChild(object, "reached-crossing-1").text() + "in")
        self.session.activate(0)
        cards.add.menu().aboutToShow.emit()
        self.assertFalse(cards.kinds[GoalKind.BOLLARD].isVisible())

    def test_a_found_boat_is_taken_as_a_variant(self):
        finder = self.show("finder")
        finder.book.ask(finder.book.wishes.__class__(use=("submerged-63x74-120", "ctrl-75v-70", "cell-21-4p0-power")))
        finder.book.search()
        self.wait_until(lambda: finder.book.found is not None and finder.book.found.done and not finder.book.running)
        self.assertTrue(finder.book.found.hits)
        count = len(self.session.design.variants)
        finder.take_it()
        made = self.session.design.variant()
        self.assertEqual(len(self.session.design.variants), count + 1)
        self.assertIn("propeller", made.note.lower())
        self.assertTrue(all(result.met for result in self.session.study.goals))
        self.session.undo()
        self.assertEqual(len(self.session.design.variants), count)

    def test_a_new_boat_by_its_dialog_is_saved_and_opened_again(self):
        dialog = NewVehicle(self.session, self.window)
        self.addCleanup(dialog.deleteLater)
        dialog.show()
        kinds = [dialog.kinds.item(k).data(Qt.ItemDataRole.UserRole) for k in range(dialog.kinds.count())]
        dialog.kinds.setCurrentRow(kinds.index(VehicleKind.CANOE))
        self.app.processEvents()
        self.assertTrue(dialog.stage.fields["current"].isVisible())
        self.assertFalse(dialog.stage.fields["grade"].isVisible())
        self.type_into(dialog.stage.fields["speed"], "4 kn")
        dialog.accept()
        design = dialog.design
        self.assertEqual({goal.kind for goal in design.brief.goals}, {GoalKind.CRUISE, GoalKind.UPSTREAM, GoalKind.RANGE, GoalKind.BUDGET})
        self.assertAlmostEqual(design.brief.goals[0].speed, 4 * 0.514444, places=4)
        from wattagon.design.file import Document

        self.session.add(Document(design=design), None)
        path = Path(self.folder) / "canoe.wattagon"
        self.session.save(path)
        self.session.close_doc(len(self.session.docs) - 1)
        self.session.open(path)
        self.assertEqual(self.session.design, design)
        self.session.set_looks(unit_set="nautical", theme="dark")
        for code in ("brief", "drive", "ride", "finder"):
            self.show(code)
            self.window.grab()
        self.assertIn("kn", self.window.ribbon.spoken())
