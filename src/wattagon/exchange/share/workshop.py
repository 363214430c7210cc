"""The workshop set: cutting sheets at 1:1, cut list and drawing of the wiring, settings, winding and commissioning as one PDF."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError, WattagonError
from wattagon.exchange.paper import sheet_of, words
from wattagon.study.build.gathered import Gathered, gather
from wattagon.study.drive.cases import strongest
from wattagon.study.say import Say

CAUTION = (
    "Check the ruler on each cutting sheet before you cut. Batteries, moving parts and mains can hurt: the cautions stand at the steps "
    "where they matter; local rules and licensed practice come first. What is not checked says so on its bench."
)


class Piece(NamedTuple):
    """One document of the set; `pdf` empty where there is none, with the reason."""

    title: str
    pdf: bytes
    why_not: str = ""


def pieces(design: Design, stock: Catalogue, say: Say, unit_set: str = "metric", paper: str = "A4") -> list[Piece]:
    """All documents, in the order of the work.  Raises InputError for a paper that is none, and as the drive study."""
    from wattagon.exchange.cut.pdf import PAPERS

    if paper not in PAPERS:
        raise InputError("paper", paper, ", ".join(PAPERS))
    design = strongest(design)
    found = gather(design, stock, say)
    made: list[Piece] = []
    for make in (_cuts, _wiring, _settings, _winding, _commissioning):
        made += make(found, unit_set, paper)
    return made


def _tried(title: str, make: Callable[[], bytes]) -> Piece:
    try:
        return Piece(title, make())
    except WattagonError as refusal:
        return Piece(title, b"", str(refusal))


def _cuts(found: Gathered, _unit_set: str, paper: str) -> list[Piece]:
    from wattagon.exchange.cut.pdf import pdf

    if not found.sheets:
        return [Piece("Cutting sheets", b"", "this drive needs no part cut")]
    return [_tried(f"{sheet.name}, {sheet.thickness_mm:g} mm, at 1:1", lambda sheet=sheet: pdf(sheet, paper)) for sheet in found.sheets]  # type: ignore[misc]


def _wiring(found: Gathered, unit_set: str, _paper: str) -> list[Piece]:
    from wattagon.exchange.wiring_out import cut_pdf

    return [_tried("Wiring, cut list and drawing", lambda: cut_pdf(found.wiring, found.stock, unit_set))]


def _settings(found: Gathered, unit_set: str, _paper: str) -> list[Piece]:
    from wattagon.exchange.settings_pdf import settings_pdf
    from wattagon.study.controller.study import study_controller

    made = lambda: study_controller(found.design, found.stock, found.drive, found.say)
    return [_tried("Controller settings", lambda: settings_pdf(made(), unit_set))]


def _winding(found: Gathered, _unit_set: str, _paper: str) -> list[Piece]:
    from wattagon.exchange.winding_sheet import winding_pdf

    winding = found.winding
    return [_tried("Winding pattern", lambda: winding_pdf(winding))] if winding is not None else []


def _commissioning(found: Gathered, unit_set: str, _paper: str) -> list[Piece]:
    from wattagon.exchange.commission_pdf import commission_pdf
    from wattagon.study.commission.rules import commissioned
    from wattagon.study.findings.rule import Case

    case = Case(found.design, found.stock, found.drive, found.say)
    return [_tried("Commissioning", lambda: commission_pdf(commissioned(case), unit_set))]


def workshop_set(design: Design, stock: Catalogue, say: Say, unit_set: str = "metric", paper: str = "A4") -> bytes:
    """All of it behind a page of contents, with a bookmark a document.  Raises as `pieces`."""
    from pypdf import PdfReader, PdfWriter

    made = pieces(design, stock, say, unit_set, paper)
    readers = [PdfReader(io.BytesIO(one.pdf)) if one.pdf else None for one in made]
    cover = PdfReader(io.BytesIO(_cover(design, made, [len(one.pages) if one is not None else 0 for one in readers])))
    writer = PdfWriter()
    writer.append(cover, outline_item="Contents")
    for piece, reader in zip(made, readers, strict=True):
        if reader is not None:
            writer.append(reader, outline_item=piece.title, import_outline=False)
    writer.add_metadata({"/Title": f"{design.vehicle.name}, variant {design.variant().id}: workshop set", "/Producer": "Wattagon"})
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _cover(design: Design, made: list[Piece], counts: list[int]) -> bytes:
    variant = design.variant()
    page = sheet_of("Workshop set")
    words(page, f"{design.vehicle.name}, variant {variant.id} {variant.name}".rstrip(), 18.0, bold=True)
    words(page, "Workshop set", 13.0)
    page.ln(4.0)
    at = 2
    for piece, count in zip(made, counts, strict=True):
        where = f"page {at}" if count == 1 else f"pages {at} to {at + count - 1}" if count else f"none: {piece.why_not}"
        words(page, f"{piece.title}: {where}", 11.0)
        at += count
    page.ln(4.0)
    words(page, CAUTION, 10.0)
    return bytes(page.output())
