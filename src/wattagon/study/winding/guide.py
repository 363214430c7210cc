"""The work of winding, coil by coil: order, direction, leads, what is joined, and what is done before and after."""

from __future__ import annotations

from collections.abc import Sequence

from wattagon.design.tree import Winding
from wattagon.physics.winding.coil import SPARE, Coils, Connection, Slots, mean_turn_m
from wattagon.physics.winding.star import PHASES, Pattern, winding_order
from wattagon.record import record

EYES = "Cut ends of wire spring: eyes protected. Magnets pull tools and fingers hard; keep swarf away from them."
MEGGER = (
    "Controller, sensors and thermistor unplugged; nobody touches the leads at 250 or 500 V DC, afterwards they are shorted to the core. "
    "High-potential AC tests belong to people who have the tester and its guards."
)
BEND = "Bend wire round smooth edges once; never tighter than three times its diameter, never with a steel edge on the enamel."


@record(frozen=True, slots=True, kw_only=True)
class Job:
    """One coil in the order of the work."""

    number: int  # from 1
    phase: int
    path: int
    tooth: int  # from 0
    direction: int  # +1 clockwise seen from the tip
    starts: bool  # a lead comes in here
    ends: bool  # a lead goes out here
    crossing: int  # slots from the coil before in the same path, the shorter way; 0 at its start

    @property
    def letter(self) -> str:
        return PHASES[self.phase] if self.direction > 0 else PHASES[self.phase].lower()

    def lead(self, end: str, paths: int) -> str:
        """Its lead's name, such as A1 start."""
        return f"{PHASES[self.phase]}{self.path + 1 if paths > 1 else ''} {end}"


@record(frozen=True, slots=True, kw_only=True)
class Joint:
    """Ends that are joined to one another, or to a lead."""

    name: str  # star point, or the lead
    ends: tuple[str, ...]


@record(frozen=True, slots=True, kw_only=True)
class Guide:
    """All of it; `at` is the index of the coil in hand, the number of coils once all are wound."""

    jobs: tuple[Job, ...]
    done: tuple[int, ...]  # teeth
    at: int
    turns: int
    turns_on: int
    joints: tuple[Joint, ...]
    piece_m: float  # one strand of one path, spare and leads in it
    pieces: int

    @property
    def job(self) -> Job | None:
        """The coil in hand."""
        return self.jobs[self.at] if self.at < len(self.jobs) else None

    @property
    def finished(self) -> bool:
        return self.at >= len(self.jobs)

    def phase_done(self, phase: int) -> bool:
        return all(job.tooth in self.done for job in self.jobs if job.phase == phase)

    def says(self) -> str:
        """The coil in hand in a sentence."""
        job = self.job
        if job is None:
            return "All coils are wound: join, measure, then resin."
        way = "clockwise" if job.direction > 0 else "anticlockwise"
        start = f"leave the lead {job.lead('start', self._paths)} out, " if job.starts else ""
        cross = f"cross over {abs(job.crossing)} teeth {'on' if job.crossing > 0 else 'back'}, clear of the rotor, " if job.crossing else ""
        end = f"; its end is the lead {job.lead('end', self._paths)}" if job.ends else ""
        return f"Coil {job.number} of {len(self.jobs)}, tooth {job.tooth + 1}: {start}{cross}{self.turns} turns {way}{end}"

    @property
    def _paths(self) -> int:
        return max(job.path for job in self.jobs) + 1


def guide(found: Pattern, coils: Coils, iron: Slots, told: Winding) -> Guide:
    """Of a plan; ticks of teeth that the pattern leaves bare are dropped."""
    order = winding_order(found, coils.paths)
    jobs: list[Job] = []
    last: dict[tuple[int, int], int] = {}
    counts: dict[tuple[int, int], int] = {}
    many = len(order) // (3 * coils.paths)
    for number, (phase, path, tooth, direction) in enumerate(order, 1):
        key = (phase, path)
        seen = counts.get(key, 0)
        step = (tooth - last[key]) % found.slots if seen else 0
        jobs.append(
            Job(
                number=number,
                phase=phase,
                path=path,
                tooth=tooth,
                direction=direction,
                starts=seen == 0,
                ends=seen == many - 1,
                crossing=step if 2 * step <= found.slots else step - found.slots,
            )
        )
        counts[key], last[key] = seen + 1, tooth
    wound = {job.tooth for job in jobs}
    done = tuple(tooth for tooth in told.done if tooth in wound)
    at = next((k for k, job in enumerate(jobs) if job.tooth not in done), len(jobs))
    in_series = mean_turn_m(iron) * coils.turns * many
    return Guide(
        jobs=tuple(jobs),
        done=done,
        at=at,
        turns=round(coils.turns),
        turns_on=min(told.turns_on, round(coils.turns)),
        joints=joints(coils.connection, coils.paths),
        piece_m=(in_series + iron.lead_m) * (1.0 + SPARE),
        pieces=round(3 * coils.paths * coils.strands),
    )


def joints(connection: Connection, paths: int) -> tuple[Joint, ...]:
    """What is joined: three ends in wye, end to start in delta; parallel paths start with start."""
    ends = lambda phase, end: tuple(f"{PHASES[phase]}{k + 1 if paths > 1 else ''} {end}" for k in range(paths))
    if connection is Connection.WYE:
        star_point = tuple(name for phase in range(3) for name in ends(phase, "end"))
        return (
            *(Joint(name=f"lead {PHASES[phase]}", ends=ends(phase, "start")) for phase in range(3)),
            Joint(name="star point", ends=star_point),
        )
    made = []
    for phase in range(3):
        before = (phase - 1) % 3
        made.append(Joint(name=f"lead {PHASES[phase]}", ends=(*ends(before, "end"), *ends(phase, "start"))))
    return tuple(made)


def before_and_after(*, flooded: bool) -> tuple[tuple[str, str], ...]:
    """(what, how) of the work round the coils, in order."""
    steps = [
        (
            "Note the old winding",
            "Pattern, turns, strands, termination, where leads leave; photograph it; measure kv, resistance and no-load current.",
        ),
        ("Strip", "Without overheating the glue of the laminations; never heat the magnets' side. Smooth edges."),
        ("Line or coat", "0.2 to 0.3 mm, caps over the corners of the teeth; bare core against a probe: no contact anywhere."),
        ("Wind", f"Each phase in one go; start and end marked at once; core test before and after each. {BEND}"),
        ("Join", "Crossovers outside the path of the rotor; sleeves over joints."),
        ("Measure", f"Three pairs within 2 %, core above 10 megohm, spin within 2 %. {MEGGER}"),
        ("Resin", "Resin or varnish for the heat, cured; the air gap by feeler, or turned with tape on the tips: no touch. Test again."),
    ]
    if flooded:
        steps += [
            ("Seal for water", "Two coats over end turns and joints, edges of laminations and magnets coated too; bearings for water."),
            ("Soak", "An hour in salt water, rinse, core test again: above 10 megohm, or it goes back into resin."),
        ]
    return tuple(steps)


def order_words(jobs: Sequence[Job]) -> str:
    """The order as a line for print: A1 a2 ..., teeth counted from 1."""
    return " ".join(f"{job.letter}{job.tooth + 1}" for job in jobs)
