"""Places where water and dirt get in, judged as they are stated; what is ridden wet and not stated is not checked."""

from __future__ import annotations

import math
from collections.abc import Iterator

from wattagon.design.tree import Design, ReductionKind, Wet, WetPlace
from wattagon.physics.leak import SPLASH_ML_MIN, UNDER_ML_MIN, breathed_share, leak_ml_min
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy
from wattagon.study.findings.status import Status

SQUEEZE = (0.15, 0.25)
SWING_K = 30.0  # from a warm shed into cold water


@record(frozen=True, slots=True, kw_only=True)
class Said:
    """One thing that was looked at of a place."""

    code: str  # seal, glands, ...
    status: Status
    words: str
    cure: str = ""
    asks: str = ""  # field of the place that would tell


@record(frozen=True, slots=True, kw_only=True)
class Place:
    """One place with all that was looked at."""

    code: str
    name: str
    told: WetPlace
    under: bool  # goes under water by its nature
    said: tuple[Said, ...]
    leak: float  # ml/min; nan without a test

    @property
    def status(self) -> Status:
        order = (Status.OVER, Status.TIGHT, Status.NOT_CHECKED, Status.CLEAR)
        return min((one.status for one in self.said), key=order.index, default=Status.CLEAR)


@record(frozen=True, slots=True, kw_only=True)
class WetStudy:
    """All that the pane and the findings show."""

    design: Design
    wet: bool  # ridden wet, or a boat
    dusty: bool
    salt: bool
    places: tuple[Place, ...]
    dunking: tuple[tuple[str, str], ...]  # part, what to do


def study_wet(design: Design, drive: DriveStudy) -> WetStudy:
    """Of the active variant."""
    told = design.variant().wet or Wet()
    conditions, hull = design.brief.conditions, design.vehicle.hull
    wet = conditions.wet or hull is not None
    salt = hull.salt if hull is not None else False
    places = []
    for code, name, under, closed in places_of(design, drive):
        one = told.place(code)
        said = tuple(_judge(one, wet=wet, dusty=conditions.dusty, salt=salt, under=under, closed=closed))
        places.append(Place(code=code, name=one.name or name, told=one, under=under, said=said, leak=_leak(one)))
    known = {code for code, *_ in places_of(design, drive)}
    for one in told.places:
        if one.id not in known:
            said = tuple(_judge(one, wet=wet, dusty=conditions.dusty, salt=salt, under=one.shut == "under water", closed=bool(one.shut)))
            places.append(
                Place(code=one.id, name=one.name or one.id, told=one, under=one.shut == "under water", said=said, leak=_leak(one))
            )
    return WetStudy(
        design=design,
        wet=wet,
        dusty=conditions.dusty,
        salt=salt,
        places=tuple(places),
        dunking=tuple(after_dunking(design, drive, salt)),
    )


def places_of(design: Design, drive: DriveStudy) -> Iterator[tuple[str, str, bool, bool]]:
    """(code, name, whether it works under water, whether it is meant to be closed) of this design."""
    variant, floats = drive.resolved.variant, design.vehicle.kind.floats
    yield "pack", "pack box", False, True
    yield "box", "controller box", False, True
    sunk = floats and variant.propeller is not None and variant.propeller.place.value in ("pod", "rudder")
    yield "motor", "pod of the motor" if sunk else "motor", sunk, sunk and not (variant.propeller is not None and variant.propeller.flooded)
    yield "connectors", "connectors and leads", False, False
    if any(stage.kind in (ReductionKind.BELT, ReductionKind.CHAIN) for stage in variant.stages):
        yield "belt", "belt and chain", False, False
    if not floats:
        yield "bearings", "bearings", False, False
    yield "frame", "transom and mount" if floats else "frame", floats, False


def _leak(one: WetPlace) -> float:
    if one.tested != "air" or one.volume is None or one.drop is None or one.seconds is None:
        return math.nan
    return leak_ml_min(one.volume.value, one.drop.value, one.seconds.value)


def _judge(one: WetPlace, *, wet: bool, dusty: bool, salt: bool, under: bool, closed: bool) -> Iterator[Said]:
    """What matters for a place; an unstated thing is not checked where it is ridden wet, and not asked where it is dry."""
    if closed and wet:
        yield from _closed(one, under=under)
    if one.id == "connectors" and wet:
        yield _yes(
            "potted",
            one.potted,
            "strands are filled",
            "strands are open: water runs inside them",
            "Fill the cut ends with resin; a drip loop before the box",
        )
    if one.id == "belt" and (dusty or wet):
        yield _yes("kick_plate", one.kick_plate, "it is closed from below", "it is open from below", "A kick plate: grit cuts a belt")
    if one.id == "bearings" and (dusty or wet):
        yield _yes("seal", one.seal, "they have seals", "they have no seals", "Sealed bearings")
    if one.id in ("frame", "motor") and (salt or under):
        yield from _metals(one, salt=salt)
    if one.id == "frame" and wet:
        yield _yes("coated", one.coated, "it is coated, edges too", "bare metal", "Paint what is bare: coatings end at edges", soft=True)
    if closed and wet:
        yield from _dropped(one, under=under)


def _yes(code: str, value: str, words: str, without: str, cure: str, *, soft: bool = False) -> Said:
    if value == "yes":
        return Said(code=code, status=Status.CLEAR, words=words)
    if value == "no":
        return Said(code=code, status=Status.TIGHT if soft else Status.OVER, words=without, cure=cure)
    return Said(code=code, status=Status.NOT_CHECKED, words=f"whether {words}", asks=code)


def _closed(one: WetPlace, *, under: bool) -> Iterator[Said]:
    if one.shut == "":
        yield Said(code="shut", status=Status.NOT_CHECKED, words="against what it is shut", asks="shut")
    elif one.shut == "open" or (under and one.shut != "under water"):
        needed = "under water" if under else "splashes"
        yield Said(code="shut", status=Status.OVER, words=f"shut against {one.shut}, it meets {needed}", cure=f"A box for {needed}")
    else:
        yield Said(code="shut", status=Status.CLEAR, words=f"shut against {one.shut}")
    yield _yes("seal", one.seal, "its lid has a seal", "its lid has no seal", "A seal under the lid")
    if one.squeeze is not None:
        low, high = SQUEEZE
        share = one.squeeze.value
        status = Status.CLEAR if low - 1e-9 <= share <= high + 1e-9 else Status.TIGHT
        yield Said(code="squeeze", status=status, words=f"seal squeezed by {share:.0%}, 15 to 25 % wanted", cure="Another seal")
    yield _yes(
        "glands",
        one.glands,
        "every lead goes through a gland of its size",
        "leads go in without glands of their size",
        "Glands by the outer diameter of each lead",
    )
    if one.drain != "yes" and one.vent != "yes":
        share = breathed_share(SWING_K)
        words = f"a swing of {SWING_K:.0f} K breathes {share:.0%} of its air"
        if one.drain == "no" or one.vent == "no":
            yield Said(code="drain", status=Status.TIGHT, words=f"no drain, no vent: {words}", cure="A vent above water, or a drain")
        else:
            yield Said(code="drain", status=Status.NOT_CHECKED, words=f"a drain or a vent: {words}", asks="drain")
    else:
        yield Said(code="drain", status=Status.CLEAR, words="drained" if one.drain == "yes" else "vented")
    yield from _tested(one, under=under)


def _tested(one: WetPlace, *, under: bool) -> Iterator[Said]:
    limit = UNDER_ML_MIN if under else SPLASH_ML_MIN
    if one.tested == "air":
        leak = _leak(one)
        if not math.isfinite(leak):
            yield Said(code="leak", status=Status.NOT_CHECKED, words="leak test by air: volume, loss or time is missing", asks="volume")
            return
        status = Status.OVER if leak > limit else Status.TIGHT if leak > 0.7 * limit else Status.CLEAR
        yield Said(
            code="leak",
            status=status,
            words=f"loses {leak:.3g} ml/min, {limit:g} allowed",
            cure="Soap: seal where it bubbles",
        )
    elif one.tested == "dunk":
        if one.dry == "":
            yield Said(code="leak", status=Status.NOT_CHECKED, words="dunked; whether it stayed dry is not stated", asks="dry")
        else:
            status = Status.CLEAR if one.dry == "yes" else Status.OVER
            words = "dry after the dunk" if one.dry == "yes" else "wet after the dunk"
            yield Said(code="leak", status=status, words=words, cure="Dry it, find the way in with air and soap")
    else:
        yield Said(code="leak", status=Status.NOT_CHECKED, words="a leak test: 0.1 bar for a minute, or a dunk", asks="tested")


def _metals(one: WetPlace, *, salt: bool) -> Iterator[Said]:
    if one.metals == "":
        yield Said(code="metals", status=Status.NOT_CHECKED, words="which metals meet", asks="metals")
        return
    bad = one.metals == "unlike"
    status = Status.OVER if bad and salt else Status.TIGHT if bad else Status.CLEAR
    words = {
        "unlike": "unlike metals touch in the water",
        "alike": "metals are alike",
        "insulated": "unlike metals are insulated",
        "anode": "an anode is eaten instead",
    }[one.metals]
    yield Said(code="metals", status=status, words=words, cure="Insulate aluminium from stainless and copper, or an anode")


def _dropped(one: WetPlace, *, under: bool) -> Iterator[Said]:
    if under:
        return
    if one.dropped == "":
        yield Said(code="dropped", status=Status.NOT_CHECKED, words="what happens when it falls into the water", asks="dropped")
    else:
        status = Status.OVER if one.dropped == "floods" and one.id == "pack" else Status.TIGHT if one.dropped == "floods" else Status.CLEAR
        yield Said(
            code="dropped",
            status=status,
            words=f"when it falls into the water it {one.dropped}",
            cure="A box that stays shut",
        )


def after_dunking(design: Design, drive: DriveStudy, salt: bool) -> Iterator[tuple[str, str]]:
    """What to do after a dunking, by part and chemistry.  Whoever knows better, and local rules, come first."""
    chemistry = drive.resolved.train.pack.chemistry
    lithium = chemistry != "lead"
    if lithium and (salt or design.vehicle.hull is not None):
        yield (
            "pack",
            "Salt water: not opened, not charged, outdoors away from buildings, given to those who know. "
            "Fresh water: outdoors for a day, then every group within 20 mV or it is finished; never charged before that.",
        )
    elif lithium:
        mild = " Iron cells are calmer, and their boards as dead." if chemistry == "lfp" else ""
        yield (
            "pack",
            f"Outdoors on a ground that does not burn, for a day. Wet boards fail later: groups within 20 mV, insulation above 1 MΩ, else "
            f"finished.{mild}",
        )
    else:
        yield "pack", "Rinse with fresh water, acid neutralised with soda; gloves and eyes protected."
    rinse = "Fresh water first, then" if salt else "Then"
    yield "controller", f"Power off. {rinse} 24 h dry and warm, lid open; A4, A5 and B1 before anything else."
    flooded = drive.resolved.variant.propeller is not None and drive.resolved.variant.propeller.flooded
    yield "motor", "Made to be wet: rinse, turn by hand." if flooded else f"{rinse} 24 h dry and warm; bearings oiled; A6 before power."
    yield "wiring", "Plugs apart, rinsed, dried; green or pitted contacts are replaced; A4 and A8."
    yield "fuse", "Replaced: salts bridge it."
