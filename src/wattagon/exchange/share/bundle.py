"""A bundle to share: the design, papers for the workshop, settings and a report in one zip, with a page that says what is in it."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping
from pathlib import Path
from tempfile import TemporaryDirectory

from wattagon.design import file
from wattagon.design.catalogue import Catalogue
from wattagon.design.file import Document
from wattagon.errors import WattagonError
from wattagon.exchange.share.private import without_private
from wattagon.exchange.share.workshop import CAUTION, workshop_set
from wattagon.study.drive.cases import strongest
from wattagon.study.say import Say

_FIXED_TIME = (2020, 1, 1, 0, 0, 0)  # equal designs give equal bundles


def stem_of(document: Document) -> str:
    """A name of files for a design."""
    name = "".join(letter if letter.isalnum() else "-" for letter in document.design.vehicle.name.lower()).strip("-")
    return name or "design"


def bundle(
    document: Document,
    stock: Catalogue,
    say: Say,
    *,
    keep: frozenset[str] = frozenset(),
    unit_set: str = "metric",
    paper: str = "A4",
    beside: Mapping[str, bytes] | None = None,
) -> tuple[bytes, tuple[str, ...]]:
    """(the zip, what it says of itself).  `beside`: files of others, such as a report, by name; they come from the copy, not the original.

    What cannot be made is left out and said.  Raises as the studies do for a design that cannot be worked out.
    """
    shared = without_private(document, keep)
    stem, said = stem_of(document), list(shared.said)
    files: dict[str, bytes] = {f"{stem}.wattagon": _design(shared.document, stem), **(beside or {})}
    try:
        files[f"{stem}-workshop.pdf"] = workshop_set(shared.document.design, stock, say, unit_set, paper)
    except WattagonError as refusal:
        said.append(f"There is no workshop set: {refusal}")
    try:
        files[f"{stem}-settings.csv"] = _settings(shared.document, stock, say)
    except WattagonError as refusal:
        said.append(f"There are no settings: {refusal}")
    files["README.txt"] = _readme(shared.document, list(files), said).encode("utf-8")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(zipfile.ZipInfo(name, _FIXED_TIME), content, zipfile.ZIP_DEFLATED)
    return out.getvalue(), tuple(said)


def _design(document: Document, stem: str) -> bytes:
    with TemporaryDirectory() as folder:
        path = Path(folder) / f"{stem}.wattagon"
        file.write(path, document, keep_previous=False)
        return path.read_bytes()


def _settings(document: Document, stock: Catalogue, say: Say) -> bytes:
    from wattagon.exchange.settings_json import settings_csv
    from wattagon.study.controller.study import study_controller
    from wattagon.study.drive.study import study_drive

    design = strongest(document.design)
    return settings_csv(study_controller(design, stock, study_drive(design, stock), say)).encode("utf-8")


def _readme(document: Document, names: list[str], said: list[str]) -> str:
    variant = document.design.variant()
    lines = [f"{document.design.vehicle.name}, variant {variant.id} {variant.name}".rstrip(), "", "In it:"]
    lines += [f"  {name}" for name in names]
    if said:
        lines += ["", "Left out or changed:", *(f"  {one}" for one in said)]
    return "\n".join([*lines, "", "Figures are estimates from the values in the design.", CAUTION, ""])
