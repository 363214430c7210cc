"""An unknown motor: what counting, measuring, a drill and a known current tell of it, and how sure that is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from wattagon.design.tree import MotorRead, Winding
from wattagon.physics.motor import COPPER_PER_K, kv_from_drill, kv_from_free_run
from wattagon.physics.winding import star
from wattagon.physics.winding.coil import Coils, Connection, coils_a_phase, kv_of_field, line_ohm
from wattagon.record import record
from wattagon.study.winding.iron import FLUX_DENSITY_T, Base

OHM_SIGMA, FIELD_SIGMA = 0.08, 0.25  # of resistance by measures, of kv by a typical field
METER, SPREAD = 0.01, 0.02  # of a meter; pairs that differ by more are not alike
MOST_TURNS, TOLD = 80, 4
SURE = 0.9


@record(frozen=True, slots=True, kw_only=True)
class Told:
    """What readings of one motor give, at 20 C; nan where nothing tells."""

    kv: float
    kv_error: float
    kv_by: str  # drill, running free
    ohm: float
    ohm_error: float
    ohms: tuple[float, ...]  # of the pairs AB, BC, CA that were read, nan where not
    volts: tuple[float, ...]
    poles: float  # by the frequency; nan without
    free_kv: float

    @property
    def ohm_spread(self) -> float:
        return _spread(self.ohms)

    @property
    def volt_spread(self) -> float:
        return _spread(self.volts)


@record(frozen=True, slots=True, kw_only=True)
class Guess:
    """One winding that could be in it, and how likely that is."""

    turns: int
    connection: Connection
    paths: int
    share: float


def told_by(read: MotorRead) -> Told:
    """What the readings give."""
    warm = 1.0 + COPPER_PER_K * ((read.copper.value if read.copper is not None else 20.0) - 20.0)
    ohms = tuple(one.value / warm if one is not None and one.value > 0.0 else math.nan for one in (read.ab, read.bc, read.ca))
    volts = tuple(one.value if one is not None and one.value > 0.0 else math.nan for one in (read.v_ab, read.v_bc, read.v_ca))
    ohm, spun = _mean(ohms), _mean(volts)
    kv, error, by = math.nan, math.nan, ""
    if read.rpm is not None and spun > 0.0:
        kv, by = float(kv_from_drill(read.rpm.value, spun)), "drill"
        many = sum(one == one for one in volts)
        error = kv * math.hypot(METER, _spread(volts) / 2.0 / math.sqrt(max(many, 1)) if many > 1 else METER)
    free = math.nan
    if read.free_rpm is not None and read.free_v is not None and read.free_a is not None:
        drop = read.free_a.value * (ohm if ohm == ohm else 0.0)
        if read.free_v.value > drop:
            free = float(kv_from_free_run(read.free_rpm.value, read.free_v.value, read.free_a.value, ohm if ohm == ohm else 0.0))
    if kv != kv and free == free:
        kv, error, by = free, 0.03 * free, "running free"
    poles = 120.0 * read.hz.value / read.rpm.value if read.hz is not None and read.rpm is not None else math.nan
    spread = _spread(ohms)
    ohm_error = ohm * math.hypot(METER, spread / 2.0 if spread == spread else METER)
    return Told(kv=kv, kv_error=error, kv_by=by, ohm=ohm, ohm_error=ohm_error, ohms=ohms, volts=volts, poles=poles, free_kv=free)


def _mean(values: Sequence[float]) -> float:
    good = [one for one in values if one == one]
    return sum(good) / len(good) if good else math.nan


def _spread(values: Sequence[float]) -> float:
    """(largest - smallest)/mean of those that are there; nan for fewer than two."""
    good = [one for one in values if one == one]
    return (max(good) - min(good)) / _mean(good) if len(good) > 1 else math.nan


def guesses(base: Base, told: Winding, found: Told) -> tuple[Guess, ...]:
    """Windings that would give what was read, the likeliest first: resistance by wire and mean turn, kv by a typical field.

    Only where the wire of it was measured; turns that were counted are not guessed.
    """
    now, iron = told.now, base.iron
    layers = now.layers or 2
    if now.wire is None or now.strands is None or found.ohm != found.ohm or star.refusal(iron.slots, iron.poles, layers):
        return ()
    winding = star.pattern(iron.slots, iron.poles, layers)
    factor = star.factor(winding)
    made: list[tuple[float, Guess]] = []
    for connection in (now.connection,) if now.connection is not None else tuple(Connection):
        for paths in (now.paths,) if now.paths is not None else star.paths_allowed(winding):
            for turns in (now.turns,) if now.turns is not None else range(1, MOST_TURNS + 1):
                coils = Coils(turns=turns, strands=now.strands, wire_m=now.wire.value, connection=connection, paths=paths, layers=layers)
                off = math.log(found.ohm / float(line_ohm(iron.wound, coils))) / OHM_SIGMA
                score = -0.5 * off**2 - 0.7 * (paths > 1)  # most are in series: half as likely before anything is read
                if found.kv == found.kv:
                    series = turns * coils_a_phase(iron.wound, layers) / paths
                    field = kv_of_field(series, factor, FLUX_DENSITY_T, iron.gap_m, iron.wound.stack_m, connection)
                    score -= 0.5 * (math.log(found.kv / float(field)) / FIELD_SIGMA) ** 2
                made.append((score, Guess(turns=turns, connection=connection, paths=paths, share=0.0)))
    top = max(score for score, _ in made)
    whole = sum(math.exp(score - top) for score, _ in made)
    ranked = sorted(made, key=lambda one: -one[0])[:TOLD]
    return tuple(replace(guess, share=math.exp(score - top) / whole) for score, guess in ranked if math.exp(score - top) / whole > 0.01)


def connection_shares(found: Sequence[Guess]) -> dict[Connection, float]:
    """How likely each termination is."""
    return {one: sum(guess.share for guess in found if guess.connection is one) for one in Connection}


def says(base: Base, told: Winding, found: Told, guessed: Sequence[Guess]) -> tuple[str, ...]:
    """What it is, in sentences, each with how sure it is."""
    iron, lines = base.iron, []
    why = star.refusal(iron.slots, iron.poles)
    if why:
        lines.append(f"{iron.name} makes no three equal phases: count slots and magnets again")
    if found.poles == found.poles:
        near = round(found.poles / 2.0) * 2
        sure = abs(found.poles - near) <= 0.25
        if sure and near != iron.poles:
            lines.append(f"the frequency tells {near} magnets, {iron.poles} are told")
        elif sure:
            lines.append(f"{near} magnets, by the frequency too")
        else:
            lines.append(f"the frequency gives {found.poles:.1f} magnets, which is no even number: read speed and frequency again")
    if found.kv == found.kv:
        lines.append(f"kv {found.kv:.4g} ± {found.kv_error:.2g} rpm/V, by {'the drill' if found.kv_by == 'drill' else 'running free'}")
        if found.free_kv == found.free_kv and found.kv_by == "drill" and abs(found.free_kv / found.kv - 1.0) > 0.05:
            lines.append(f"running free gave {found.free_kv:.4g}: phase advance or field weakening in the controller raises that one")
    if found.ohm == found.ohm:
        lines.append(f"{1e3 * found.ohm:.4g} ± {1e3 * found.ohm_error:.2g} mΩ between leads at 20 °C")
    for name, spread in (("resistances", found.ohm_spread), ("volts", found.volt_spread)):
        if spread > SPREAD:
            lines.append(f"the {name} of its pairs differ by {100 * spread:.1f} %: not sound, or not read well")
    if guessed:
        first = guessed[0]
        shares = connection_shares(guessed)
        joined = max(shares, key=lambda one: shares[one])
        lines.append(f"{joined.value}: {100 * shares[joined]:.0f} of 100")
        counted = "counted" if told.now.turns is not None else f"{100 * first.share:.0f} of 100"
        lines.append(f"{first.turns} turns{f', {first.paths} paths' if first.paths > 1 else ''} ({counted})")
        if shares[joined] < SURE:
            lines.append("to be sure: cut the joint open and measure one phase; wye reads half of a pair, delta one and a half times it")
    elif found.ohm == found.ohm:
        lines.append("measure strands and bare wire: with them resistance tells turns and termination")
    return tuple(lines)
