"""A new subject moves in: one package a room and one line a table, in a copy of the program that is used and thrown away.

The subject is a mast on the vehicle: a section of the design, a kind of part, a study with a rule, a command, and a bench.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
NEW = {
    "design/tree/mast.py": '''
        """A mast on the vehicle."""

        from __future__ import annotations

        from dataclasses import field

        from wattagon.design.quantity import Quantity, spec
        from wattagon.design.tree.ids import Extra, no_extra
        from wattagon.record import record


        @record(frozen=True, slots=True, kw_only=True)
        class Mast:
            """How high it is and of what."""

            height: Quantity = field(metadata=spec("mast height", "height", 0.1, 10.0))
            part: str = "pole-40"
            extra: Extra = field(default_factory=no_extra)
        ''',
    "design/parts/pole.py": '''
        """Poles."""

        from __future__ import annotations

        from dataclasses import field
        from typing import ClassVar

        from wattagon.design.parts.part import Part
        from wattagon.design.quantity import spec
        from wattagon.record import record


        @record(frozen=True, slots=True, kw_only=True)
        class PolePart(Part):
            """A pole by the metre."""

            stock: ClassVar[str] = "poles"
            one: ClassVar[str] = "Pole"
            many: ClassVar[str] = "Poles"
            columns: ClassVar[tuple[tuple[str, str], ...]] = (("bears", "bears_nm"),)

            bears_nm: float = field(metadata=spec("bending moment", "torque", 1.0, 1e5))
        ''',
    "stock/parts/poles.csv": """
        id,name,mass_kg,price,bears_nm
        pole-40,Pole 40 mm,0.8,12,120
        pole-60,Pole 60 mm,1.6,21,400
        """,
    "study/mast/__init__.py": '"""A mast in the wind."""\n',
    "study/mast/study.py": '''
        """What the wind of the ride does to the mast."""

        from __future__ import annotations

        from wattagon.design.parts.pole import PolePart
        from wattagon.record import record
        from wattagon.study.findings.all import urgent_first
        from wattagon.study.findings.finding import Finding
        from wattagon.study.findings.rule import Case
        from wattagon.study.resolve import Input
        from wattagon.study.studies import Task


        @record(frozen=True, slots=True, kw_only=True)
        class MastStudy:
            """Moment at its foot."""

            moment_nm: float
            findings: list[Finding]


        def moment_nm(case: Case) -> float:
            """Half the height, a flat plate of 0.05 m2 per metre, at the top speed."""
            mast, speed = case.design.mast, case.study.states["full"].top_speed_m_s
            case.note({"mast.height": Input(value=mast.height.value, known=mast.height.known, dimension="height")})
            return 0.5 * 1.2 * 1.2 * 0.05 * mast.height.value**2 / 2.0 * speed**2


        def run(task: Task) -> MastStudy | None:
            """The study of a task; nothing without a mast."""
            from wattagon.study.mast.rules import RULES

            if task.design.mast is None:
                return None
            case = Case(task.design, task.stock, task.results["drive"].study, task.say)
            return MastStudy(moment_nm=moment_nm(case), findings=urgent_first(f for rule in RULES for f in rule.findings(case)))
        ''',
    "study/mast/rules.py": '''
        """Rules on masts."""

        from __future__ import annotations

        from wattagon.design.parts.pole import PolePart
        from wattagon.design.paths import Edit
        from wattagon.study.findings.rule import Case, Rule, Verdict, held_under
        from wattagon.study.mast.study import moment_nm


        def bends(case: Case) -> Verdict | None:
            """Moment of the wind against what the pole bears."""
            mast = case.design.mast
            if mast is None:
                return None
            pole = case.stock.get(PolePart, mast.part)
            now = moment_nm(case)
            status, margin = held_under(now, pole.bears_nm, 0.1)
            edits = lambda: (Edit(label="Use Pole 60 mm", changes=(("mast.part", "pole-60"),)),)
            title = f"Mast bent by {case.say(now, 'torque')}, {pole.name} bears {case.say(pole.bears_nm, 'torque')}"
            return Verdict(status=status, title=title, margin=margin, candidates=edits)


        RULES = (
            Rule(code="mast.bends", bench="mast", link="wheel", because="The wind bends it.", judge=bends, rests=("mast.height",)),
        )
        ''',
    "cli/mast.py": '''
        """The moment at the foot of a mast."""

        from __future__ import annotations

        import argparse

        from wattagon.cli.shared import design_options, load, print_json, stock_catalogue


        def options(parser: argparse.ArgumentParser) -> None:
            """What may follow the command."""
            design_options(parser)


        def run(options: argparse.Namespace) -> int:
            """Runs it; the exit code."""
            from wattagon.study.drive.study import study_drive
            from wattagon.study.findings.rule import Case
            from wattagon.study.mast.study import moment_nm
            from wattagon.study.say import plain

            design, stock = load(options), stock_catalogue()
            print_json({"moment_nm": moment_nm(Case(design, stock, study_drive(design, stock), plain))})
            return 0
        ''',
    "desk/mast/__init__.py": '"""The mast bench."""\n',
    "desk/mast/actions.py": '''
        """What the mast offers."""

        from __future__ import annotations

        from wattagon.desk.bench import BenchAction

        HELP = "Mast: look at it."
        ACTIONS = (BenchAction(words="Raise the &mast", run=lambda bench: bench.raise_it(), menu="&Mast"),)


        def why_not(design) -> str:
            """A vehicle without one has nothing to show."""
            return "" if design.mast is not None else "This vehicle has no mast."
        ''',
    "desk/mast/scenes.py": '''
        """Pictures of the mast."""

        from wattagon.desk.scene import Scene

        SCENES = (Scene(name="mast", vehicle="Dunlin", variant="B", play=lambda window, bench, wait: None),)
        ''',
    "desk/mast/bench.py": '''
        """The mast bench."""

        from __future__ import annotations

        from PySide6.QtCore import QRectF
        from PySide6.QtGui import QPainter
        from PySide6.QtWidgets import QVBoxLayout, QWidget

        from wattagon.design.paths import Edit
        from wattagon.desk.bench import Bench


        class MastPicture(QWidget):
            """A line as high as the mast."""

            def __init__(self, session) -> None:
                super().__init__()
                self._session = session

            def paint_on(self, painter: QPainter, rect: QRectF) -> None:
                painter.drawLine(rect.bottomLeft(), rect.topLeft())


        class MastBench(Bench):
            """Picture first."""

            def __init__(self, session) -> None:
                super().__init__()
                self._session, self.picture = session, MastPicture(session)
                QVBoxLayout(self).addWidget(self.picture)

            def raise_it(self) -> None:
                self._session.try_apply(Edit(label="Raise the mast", changes=(("mast.height", 3.0),)))
        ''',
}
# table -> (a line before which the new one goes, the new line)
LINES = {
    "design/tree/design.py": [
        ("from wattagon.design.tree.variant import", "from wattagon.design.tree.mast import Mast"),
        ('    active: str = ""', "    mast: Mast | None = None"),
    ],
    "design/parts/__init__.py": [
        ("from wattagon.design.parts.profile import", "from wattagon.design.parts.pole import PolePart"),
        ("    ProfilePart,\n    ToothedPart,", "    PolePart,"),
    ],
    "study/studies.py": [
        (
            ")\n\n\nFIRST",
            '    Study(code="mast", pace=Pace.IDLE, depends=("mast", *_ALL), run="wattagon.study.mast.study:run", '
            'rules="wattagon.study.mast.rules:RULES", after_ms=20),',
        )
    ],
    "cli/__init__.py": [('    Command("schema"', '    Command("mast", "wattagon.cli.mast", "the moment at the foot of a mast"),')],
    "desk/benches.py": [
        (
            ')\nFIRST = "drive"',
            '    Entry("mast", "Mast", "Make", "wattagon.desk.mast.bench:MastBench", "wattagon.desk.mast.actions", '
            '"wattagon.desk.mast.scenes"),',
        )
    ],
}
USE = """
import json, sys
from pathlib import Path
from wattagon.cli import main
from wattagon.design import catalogue, file
from wattagon.design.paths import Edit, put
from wattagon.design.quantity import Quantity
from wattagon.design.tree.mast import Mast

folder, demo = Path(sys.argv[1]), Path(sys.argv[2])
document = file.read(demo)
design = put(document.design, "mast", Mast(height=Quantity(value=1.0)))
file.write(folder / "mast.wattagon", file.Document(design=design, members=document.members))
assert file.read(folder / "mast.wattagon").design == design
assert main(["mast", str(folder / "mast.wattagon"), "--set", "mast.height=9 ft"]) == 0
assert main(["stock", "poles", "--json"]) == 0
assert main(["check", str(folder / "mast.wattagon"), "--no-rides"]) == 0

from PySide6.QtCore import QStandardPaths
from PySide6.QtWidgets import QApplication
from PySide6.QtTest import QTest
from PySide6.QtCore import Qt
QStandardPaths.setTestModeEnabled(True)
app = QApplication([])
from wattagon.desk.app import make_window
from wattagon.desk.benches import BENCHES, keys_of
from wattagon.desk.settings import SettingsFile
import time
window = make_window(SettingsFile(folder / "settings.json"), None, None)
window.session.open(demo)
window.show_bench("mast")
told = window.status.message.text()
window.session.open(folder / "mast.wattagon")
window.show()
def until(done):
    end = time.monotonic() + 60
    while not done() and time.monotonic() < end:
        app.processEvents(); time.sleep(0.005)
    assert done()
find = lambda: next((f for f in window.session.findings if f.code == "mast.bends"), None)
until(lambda: find() is not None)
first = find().title
QTest.keyClick(window, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier)
QTest.keyClick(window, keys_of(len(BENCHES) - 1)[-1])
shown = type(window.stack.currentWidget()).__name__
next(a for a in window.commands if a.text() == "Raise the &mast").trigger()
until(lambda: find() is not None and find().title != first)
raised = window.session.design.mast.height.value
window.session.undo()
until(lambda: find() is not None and find().title == first)
wrote = window.export_to(folder / "mast.svg")
print(json.dumps({"told": told, "shown": shown, "raised": raised, "undone": window.session.design.mast.height.value, "first": first,
                  "assumed": find().assumed, "wrote": wrote, "status": str(window.work.status_of("mast"))}))
window.session.forget_recovery()
"""


class NeighbourTest(unittest.TestCase):
    def test_a_subject_is_one_package_a_room_and_one_line_a_table(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            source = folder / "src" / "wattagon"
            shutil.copytree(ROOT / "src" / "wattagon", source, ignore=shutil.ignore_patterns("__pycache__"))
            for path, text in NEW.items():
                target = source / path
                self.assertFalse(target.exists(), path)
                target.parent.mkdir(exist_ok=True)
                target.write_text(textwrap.dedent(text).lstrip(), encoding="utf-8")
            for path, lines in LINES.items():
                target = source / path
                text = target.read_text(encoding="utf-8")
                for before, line in lines:
                    self.assertEqual(text.count(before), 1, f"{path}: {before}")
                    text = text.replace(before, f"{line}\n{before}")
                target.write_text(text, encoding="utf-8")
            demo = ROOT / "src" / "wattagon" / "stock" / "demo" / "dunlin.json"
            environment = {**os.environ, "PYTHONPATH": str(folder / "src"), "HOME": str(folder), "XDG_DATA_HOME": "", "XDG_STATE_HOME": ""}
            done = subprocess.run(
                [sys.executable, "-c", USE, str(folder), str(demo)],
                env=environment,
                capture_output=True,
                text=True,
                check=False,
                timeout=240,
            )
            self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
            *printed, last = done.stdout.strip().splitlines()
            import json

            told = json.loads(last)
            self.assertEqual((told["told"], told["shown"]), ("This vehicle has no mast.", "MastBench"))
            self.assertEqual((told["raised"], told["undone"], told["wrote"], told["assumed"]), (3.0, 1.0, True, True))
            self.assertRegex(told["first"], r"^Mast bent by .* Pole 40 mm bears 120 N·m$")
            words = "\n".join(printed)
            self.assertIn('"moment_nm":', words)
            self.assertIn('"id": "pole-60"', words)
            self.assertRegex(words, r"clear +mast\.bends +Mast bent by")
            self.assertTrue((folder / "mast.svg").stat().st_size > 100)


if __name__ == "__main__":
    unittest.main()
