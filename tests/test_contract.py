"""Style, types and the import contract, as `scripts/lint` runs them."""

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
        self.run_tool(str(BIN / "mypy"), "--no-incremental")

    def test_rooms_import_downwards_only_and_qt_stays_in_the_desk(self):
        self.run_tool(str(BIN / "lint-imports"), "--no-cache")
