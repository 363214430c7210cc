"""The way to the layout bench in the real window, and a drag on its drawing."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase


class LayoutCase(DeskTestCase):
    """Dunlin B on the layout bench."""

    runs = frozenset({"layout", "cures"})

    def setUp(self):
        super().setUp()
        self.show("Dunlin", "B")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "layout")
        self.drawing = self.bench.drawing
        self.drawing.fit()

    def drag(self, start, end, steps=8):
        QTest.mousePress(self.drawing, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for k in range(1, steps + 1):
            QTest.mouseMove(self.drawing, (start + (end - start) * (k / steps)).toPoint())
        QTest.mouseRelease(self.drawing, Qt.MouseButton.LeftButton, pos=end.toPoint())

    def motor_at(self):
        shaft = self.drawing.found.shafts[0]
        return self.drawing.page.side(shaft.x, shaft.z)
