"""Rules that need a ride, in the order in which they are told.

Each verdict has its figure in a few words, so that a cure can say "6 min to never".
"""

from __future__ import annotations

from wattagon.study.drive.rules.rests import CHARGE, CONTROLLER_HEAT, CUTBACK, GRIP, HEAT, LOAD, MASS, PULL, RAMP, RIDER
from wattagon.study.findings.rule import Rule
from wattagon.study.ride.rules.climbs import HOT_DAY_C, boost, climb, full_throttle, hot_day, pull, sealed_box
from wattagon.study.ride.rules.courses import courses, ridden
from wattagon.study.ride.rules.stops import full_pack, resistor, stop
from wattagon.study.ride.rules.water import crash_stop, home

RULES: tuple[Rule, ...] = (
    Rule(
        code="ride.climb",
        on="wheels",
        bench="ride",
        link="motor",
        because="Simulated from cold: winding, case, controller and pack against their limits, tapers and boost included.",
        judge=climb,
        rests=(*LOAD, *PULL, *HEAT, *CONTROLLER_HEAT, *CUTBACK, "controller.boost_tau_s"),
        instead_of="motor.heat_on_climb",
    ),
    Rule(
        code="ride.hot_day",
        on="wheels",
        bench="ride",
        link="motor",
        because=f"The same climb in air of {HOT_DAY_C:g} C.",
        judge=hot_day,
        rests=(*LOAD, *PULL, *HEAT, *CONTROLLER_HEAT, *CUTBACK, "controller.boost_tau_s"),
    ),
    Rule(
        code="ride.full_throttle",
        on="wheels",
        bench="ride",
        link="motor",
        because="Held at full command from cold: a hand that does not let go asks for it.",
        judge=full_throttle,
        rests=(*LOAD, *PULL, *HEAT, *CONTROLLER_HEAT, *CUTBACK, "controller.boost_tau_s"),
    ),
    Rule(
        code="ride.boost",
        on="wheels",
        bench="ride",
        link="controller",
        because="What is over the controller's lasting amps is a budget that fills like a junction warms.",
        judge=boost,
        rests=(*MASS, *PULL, "controller.boost_tau_s"),
    ),
    Rule(
        code="ride.pull",
        on="wheels",
        bench="ride",
        link="reduction",
        because="Root mean square of the pull over the ride; a belt bears its working tension over a service "
        "factor of 1.5 for good, a chain "
        "an eighth of its breaking load.",
        judge=pull,
        rests=(*LOAD, *PULL),
    ),
    Rule(
        code="ride.stop",
        on="wheels",
        bench="ride",
        link="controller",
        because="Mean deceleration of a stop on a half-full pack; the rider's own reaction is not in it.",
        judge=stop,
        rests=(*LOAD, *PULL, *GRIP, *RIDER, *RAMP),
    ),
    Rule(
        code="ride.full_pack",
        on="wheels",
        bench="ride",
        link="pack",
        because="The bus may not rise over the volts of a full pack, so braking current fades as the pack fills.",
        judge=full_pack,
        rests=(*MASS, "cell_r0_ohm"),
    ),
    Rule(
        code="ride.resistor",
        on="wheels",
        bench="ride",
        link="controller",
        because="Its force goes with speed. It gets hot enough to burn: mount it clear of skin, deck and cables.",
        judge=resistor,
        rests=(*MASS, *PULL),
    ),
    Rule(
        code="ride.box",
        on="wheels",
        bench="ride",
        link="controller",
        because="Air inside the box by the films on both sides of its wall; a controller bolted to a metal wall does better than that.",
        judge=sealed_box,
        rests=(*LOAD, *PULL, *CONTROLLER_HEAT, *HEAT),
    ),
    Rule(
        code="ride.course",
        bench="ride",
        link="pack",
        because="Ridden with its climbs or currents, wind and stops.",
        judge=ridden,
        rests=(*LOAD, *PULL, *CUTBACK, *CHARGE),
        of=courses,
    ),
    Rule(
        code="ride.home",
        on="water",
        bench="ride",
        link="pack",
        because="Simulated with its start, the current one way and the other, the wind of the brief from ahead and from astern; no waves.",
        judge=home,
        rests=(*LOAD, *PULL, *CUTBACK, *CHARGE),
    ),
    Rule(
        code="ride.crash_stop",
        on="water",
        bench="ride",
        link="propeller",
        because="In reverse blades made for ahead give about 0.6 of their pull. Nobody in the water, hands off the rail.",
        judge=crash_stop,
        rests=(*LOAD, *PULL),
    ),
)
