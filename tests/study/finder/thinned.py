"""Small spaces for brute force, and all combinations of them judged by the drive study."""

import itertools
from dataclasses import replace

import numpy as np

from wattagon.study.drive.goals import lasting_pulls
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import failing, judged_hits
from wattagon.study.finder.space import LEVELS, settings
from wattagon.study.resolve import resolve


def thin(space, rng, motors, controllers, packs, stages, stages_of=None):
    """A space with only some of its rows, in their order."""
    pick = lambda n, of: sorted(rng.sample(range(of), min(n, of)))
    m, c = pick(motors, len(space.motors)), pick(controllers, len(space.controllers))
    # packs that could be carried, so that something fits
    good = [k for k, row in enumerate(space.packs) if 0.8 < row[col.P_MASS] < 6.0 and row[col.P_FULL] < 56.0]
    p = sorted(rng.sample(good, packs))
    r = pick(stages, len(space.stages.choices)) if stages_of is None else sorted(rng.sample(stages_of, stages))
    st = space.stages
    few = replace(
        st,
        table=st.table[r],
        prices=st.prices[:, r],
        masses=st.masses[:, r],
        second_prices=st.second_prices[:, r],
        second_masses=st.second_masses[:, r],
        fits=st.fits[:, r],
        chosen=st.chosen[r],
        choices=tuple(st.choices[k] for k in r),
    )
    return replace(
        space,
        motors=space.motors[m],
        motor_parts=tuple(space.motor_parts[k] for k in m),
        controllers=space.controllers[c],
        controller_parts=tuple(space.controller_parts[k] for k in c),
        packs=space.packs[p],
        emf=space.emf[p],
        range_emf=space.range_emf[p],
        pack_choices=tuple(space.pack_choices[k] for k in p),
        stages=few,
    )


def every_row(space):
    """All rows of a space, reductions of every number of stages."""
    n = range(len(space.stages.choices))
    ways = [(-1, -1)] if space.stages.direct else []
    ways += [(f, -1) for f in n] + ([(f, s) for f in n for s in n] if space.stages.two else [])
    halves = (
        range(len(space.motors)),
        range(len(space.wheels)),
        space.counts,
        range(len(space.controllers)),
        range(len(LEVELS)),
        range(len(space.packs)),
    )
    for half in itertools.product(*halves):
        yield from ((*half, *way) for way in ways)


def rated(space, row):
    """Whether no rating is passed with the margins that are asked for, worked out from the rows alone."""
    motor, wheel, count, controller, level, pack, first, second = row
    m, c, p, w = space.motors[motor], space.controllers[controller], space.packs[pack], space.wishes
    motor_a, _ = settings(w, m, c, p, count, LEVELS[level])
    if c[col.C_BRUSHED] != m[col.M_BRUSHED] or (first < 0) != (m[col.M_HUB] > 0.0):
        return False
    if (
        p[col.P_FULL] > (1.0 - w.volts) * min(c[col.C_VOLTS], m[col.M_VOLTS])
        or c[col.C_DUTY] * p[col.P_FULL] / m[col.M_K] > (1.0 - w.rpm) * m[col.M_RAD_S]
    ):
        return False
    if first < 0:
        return True
    st, torque, last = space.stages, m[col.M_K] * m[col.M_DC] * motor_a, second if second >= 0 else first
    if not st.fits[wheel, last] or (st.need and not st.chosen[[first, last]].any()):
        return False
    room, a = 1.0 - w.pull, st.table[first]
    if torque > a[col.R_CAPACITY] * room:
        return False
    share = count / st.sets[space.counts.index(count)]
    return second < 0 or torque * a[col.R_RATIO] * a[col.R_EFF] * share <= st.table[second, col.R_CAPACITY] * room


def brute(space, stock):
    """(hit, failed constraints) of every combination that no rating forbids, by the drive study's equations."""
    rows = [row for row in every_row(space) if rated(space, row)]
    design = space.design
    for hit in judged_hits(space, stock, rows):
        fails = failing(space, hit)
        resolved = resolve(replace(design, variants=(hit.variant,), active=hit.variant.id), stock)
        # what a goal asks of a belt for good counts where the goal does
        asked = [goal for goal in design.brief.goals if goal.id not in fails]
        if all(share <= 1.0 - space.wishes.pull for share, _, _ in lasting_pulls(resolved, asked)):
            yield hit, fails


def random_rows(space, seed, n):
    """Random rows whose kinds fit together, a third of them with two stages."""
    rng = np.random.default_rng(seed)
    light = np.flatnonzero((space.packs[:, col.P_MASS] < 9.0) & (space.packs[:, col.P_FULL] < 60.0))
    made = []
    while len(made) < n:
        m, c = int(rng.integers(len(space.motors))), int(rng.integers(len(space.controllers)))
        if space.motors[m, col.M_BRUSHED] != space.controllers[c, col.C_BRUSHED]:
            continue
        first, second = (int(k) for k in rng.integers(len(space.stages.choices), size=2))
        if space.motors[m, col.M_HUB] > 0:
            first = second = -1
        elif rng.random() < 0.67:
            second = -1
        count, wheel = int(rng.choice(space.counts)), int(rng.integers(len(space.wheels)))
        made.append((m, wheel, count, c, int(rng.integers(len(LEVELS))), int(rng.choice(light)), first, second))
    return made
