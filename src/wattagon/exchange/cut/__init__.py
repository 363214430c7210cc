"""Parts to be cut as files: DXF, SVG, STL, PDF; true to scale, in mm."""

from __future__ import annotations

from pathlib import Path

from wattagon import files
from wattagon.errors import InputError
from wattagon.study.layout.sheets import Sheet

FORMATS = ("dxf", "svg", "stl", "pdf")
CUT, ENGRAVE, DIMENSION = "cut", "engrave", "dimension"  # layers


def part_bytes(sheet: Sheet, kind: str, paper: str = "A4") -> bytes:
    """A part as a file of a kind.  Raises InputError for another kind, or a paper template as a solid."""
    if kind == "dxf":
        from wattagon.exchange.cut.dxf import dxf

        return dxf(sheet)
    if kind == "svg":
        from wattagon.exchange.cut.svg import svg

        return svg(sheet).encode()
    if kind == "stl":
        from wattagon.exchange.cut.stl import stl

        return stl(sheet)
    if kind == "pdf":
        from wattagon.exchange.cut.pdf import pdf

        return pdf(sheet, paper)
    raise InputError("format", kind, ", ".join(FORMATS))


def write_part(sheet: Sheet, path: Path, kind: str = "", paper: str = "A4") -> None:
    """Into a file, by its ending where no kind is told.  Raises InputError, FileError."""
    files.write_bytes(path, part_bytes(sheet, kind or path.suffix.lstrip(".").lower(), paper))
