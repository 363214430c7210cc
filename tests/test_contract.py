"""Style, types and the import contract, as `scripts/lint` runs them."""

import re
import subprocess
import sys
import unittest
from pathlib import Path

MARK = "fmt: " + "skip"
ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent


class ContractTest(unittest.TestCase):
    def run_tool(self, *command: str) -> None:
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)

    def test_style(self):
        self.run_tool(str(BIN / "ruff"), "check", "--no-cache", ".")

    def test_format(self):
        self.run_tool(str(BIN / "ruff"), "format", "--check", "--no-cache", ".")

    def test_no_line_is_kept_from_the_formatter(self):
        kept = [
            str(path)
            for folder in ("src", "tests", "benchmarks", "scripts")
            for path in (ROOT / folder).rglob("*.py")
            if MARK in path.read_text()
        ]
        self.assertEqual(kept, [])

    def test_types(self):
        self.run_tool(str(BIN / "mypy"), "--cache-dir", str(BIN.parent / ".mypy"))

    def test_rooms_import_downwards_only_and_qt_stays_in_the_desk(self):
        self.run_tool(str(BIN / "lint-imports"), "--no-cache")

    def test_tests_keep_to_what_is_public_and_only_those_of_the_window_import_qt(self):
        private = re.compile(r"(?<!\bself)(?<!\bcls)(?<!super\(\))\._(?!replace\b|fields\b|asdict\b)[a-z]")  # what a named tuple publishes
        for path in (ROOT / "tests").rglob("test_*.py"):
            if path in (Path(__file__), ROOT / "tests" / "test_neighbour.py"):  # the latter is a program of its own
                continue
            text = path.read_text()
            self.assertIsNone(private.search(text), path)
            if path.parent.name != "desk":
                self.assertNotIn("PySide6", text, path)
