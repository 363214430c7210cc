"""A report into a file, by its ending."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from PySide6.QtGui import QPicture

from wattagon import files
from wattagon.errors import FileError, InputError
from wattagon.exchange.report.model import Report

ENDINGS = (".html", ".pdf", ".md")


def check_ending(path: Path) -> None:
    """Raises InputError for another ending."""
    if path.suffix.lower() not in ENDINGS:
        raise InputError("file of the report", path.name, ", ".join(f"NAME{one}" for one in ENDINGS))


def write(report: Report, pictures: Mapping[str, QPicture], path: Path) -> None:
    """HTML, PDF or Markdown.  Raises InputError for another ending, FileError where it cannot be written."""
    check_ending(path)
    ending = path.suffix.lower()
    if ending == ".pdf":
        from wattagon.desk.report.pdf import write_pdf

        beside = path.with_name(f".{path.name}.part")
        if not path.parent.is_dir():
            raise FileError(f"{path} cannot be written: {path.parent} is no folder")
        try:
            write_pdf(report, pictures, beside)
            files.write_bytes(path, beside.read_bytes())
        finally:
            beside.unlink(missing_ok=True)
        return
    from wattagon.exchange.report.render import html_of, markdown_of

    files.write_bytes(path, (html_of(report) if ending == ".html" else markdown_of(report)).encode("utf-8"))
