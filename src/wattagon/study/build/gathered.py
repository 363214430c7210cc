"""The studies that a build rests on, worked out together."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Build, Design, Winding
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.findings.rule import Case
from wattagon.study.layout.cut.sheet import Sheet
from wattagon.study.layout.sheets import sheets
from wattagon.study.layout.study import LayoutStudy, study_layout
from wattagon.study.pack.study import PackStudy, study_pack
from wattagon.study.say import Say, plain
from wattagon.study.strength.study import StrengthStudy, study_strength
from wattagon.study.winding.study import WindingStudy, planned, study_winding
from wattagon.study.wiring.study import WiringStudy, study_wiring


@record(frozen=True, slots=True, kw_only=True)
class Gathered:
    """Of the active variant; pack and wiring without rides, since a list of parts does not wait for them."""

    design: Design
    stock: Catalogue
    drive: DriveStudy
    layout: LayoutStudy
    strength: StrengthStudy
    pack: PackStudy
    wiring: WiringStudy
    sheets: tuple[Sheet, ...]
    winding: WindingStudy | None = None  # where a rewind of its own motor was decided on
    say: Say = plain


def gather(design: Design, stock: Catalogue, say: Say = plain, drive: DriveStudy | None = None) -> Gathered:
    """Raises what the drive study raises for a part that stock does not have."""
    drive = drive if drive is not None else study_drive(design, stock)
    layout = study_layout(design, stock, drive, gaps=False)
    pack = study_pack(design, stock, drive, ())
    return Gathered(
        design=design,
        stock=stock,
        drive=drive,
        layout=layout,
        strength=study_strength(design, stock, drive, layout),
        pack=pack,
        wiring=study_wiring(design, stock, drive, pack, layout, ()),
        sheets=tuple(sheets(layout)),
        winding=_rewind(design, stock, drive),
        say=say,
    )


def _rewind(design: Design, stock: Catalogue, drive: DriveStudy) -> WindingStudy | None:
    """A plan that cannot be wound is a finding of its own bench: no rows follow from it."""
    told = design.variant().winding
    if told is None or told.plan is None or told.part:
        return None
    try:
        return study_winding(design, stock, drive, seek=False, compare=False)
    except InputError:
        return None


def gathered(case: Case) -> Gathered:
    """Of a case, worked out once."""

    def make() -> Gathered:
        found = gather(case.design, case.stock, case.say, case.study)
        for inputs in (found.layout.inputs, found.strength.inputs, found.pack.inputs, found.wiring.inputs):
            case.note(inputs)
        return found

    return case.made("gathered", make)


def unbuilt(design: Design) -> Design:
    """A design without what was only done: marks, readings, answers.  Equal ones have equal parts and steps."""
    bare: Callable[..., object] = replace
    variants = tuple(
        bare(one, build=_kept(one.build), commissioning=None, inquiry=None, wet=None, winding=_decided(one.winding))
        for one in design.variants
    )
    made = bare(design, variants=variants, history=())
    assert isinstance(made, Design)
    return made


def _decided(winding: Winding | None) -> Winding | None:
    """Sensors and spacers are bought too."""
    bare = planned(winding)
    return replace(bare, halls=replace(winding.halls, codes=""), cover=winding.cover) if bare is not None and winding is not None else None


def _kept(build: Build | None) -> Build | None:
    """What a conversion takes out is part of the plan."""
    return Build(takes_out=build.takes_out) if build is not None and build.takes_out else None
