"""What the drive study judges, in the order in which it is told apart; electrical ratings last."""

from wattagon.study.drive.rules import boat, carrier, cases, fit, gears, goals, ratings, reduction, rider, thrust, water
from wattagon.study.findings.rule import Rule

RULES: tuple[Rule, ...] = (
    *goals.RULES,
    *thrust.RULES,
    *reduction.RULES,
    *rider.RULES,
    *fit.RULES,
    *cases.RULES,
    *gears.RULES,
    *water.RULES,
    *boat.RULES,
    *carrier.RULES,
    *ratings.RULES,
)
