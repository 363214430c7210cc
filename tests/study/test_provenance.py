"""Every finding carries the weakest of what it rests on: held by moving each assumed input and looking at what moves."""

from __future__ import annotations

import unittest
from dataclasses import replace

from tests.study.rule_case import BIKE, BOARD, KART, STOCK, case, changed
from wattagon.design.kinds import KINDS
from wattagon.design.paths import place, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import ReductionKind, StageChoice
from wattagon.errors import WattagonError
from wattagon.study.drive.rules import RULES
from wattagon.study.findings.rule import Rule
from wattagon.study.ride.rules import RULES as RIDE_RULES

MOVES = 0.02  # of a margin, from where on a tenth more of an input decides


def settable(design, path):
    """The path under which an input can be set, which for a part's value is that of its choice."""
    if not path.startswith("stock."):
        return path
    variant, (_, part, name) = design.variant(), path.split(".", 2)
    who = {variant.motor.part: "motor", variant.controller.part: "controller", variant.pack.part: "pack"}.get(part, "wheel")
    return f"variant.{who}.{name}"


def moved(design, path, value):
    """The design with an input a tenth larger, or smaller where it may not grow."""
    for share in (1.1, 0.9):
        try:
            target = place(design, settable(design, path))
            fresh = Quantity(value=value * share, known=Known.MEASURED) if target.type is Quantity else type(value)(value * share)
            return put(design, settable(design, path), fresh)
        except WattagonError:
            continue
    return None


class ProvenanceTest(unittest.TestCase):
    def unmarked(self, design, rules: tuple[Rule, ...]) -> tuple[set[tuple[str, str]], int]:
        """(code and path of verdicts that an assumed input moves although they do not name it, how many were moved)."""
        first = case(design)
        before = {f.code: f for rule in rules for f in rule.findings(first)}
        wrong, many = set(), 0
        for path, item in list(first.inputs.items()):
            if item.known is not Known.ASSUMED or (other := moved(design, path, item.value)) is None:
                continue
            try:
                second = case(other)
            except WattagonError:
                continue
            for finding in (f for rule in rules for f in rule.findings(second)):
                was = before.get(finding.code)
                if was is None or was.margin is None or finding.margin is None or abs(was.margin) > 3.0:
                    continue
                if abs(finding.margin - was.margin) > MOVES:
                    many += 1
                    if not (was.assumed and f".{path}".endswith(tuple(f".{name}" for name in was.rests))):
                        wrong.add((finding.code, path))
        return wrong, many

    def test_what_an_assumed_input_moves_is_named_and_marked(self):
        seen, bad = 0, set()
        for design in (BOARD, KART, BIKE, *(new_design(kind) for kind in KINDS)):
            wrong, many = self.unmarked(design, RULES)
            bad |= {(code, path.rsplit(".", 2)[-1]) for code, path in wrong}
            seen += many
        self.assertEqual(bad, set())
        self.assertGreater(seen, 300)

    def test_what_an_assumed_input_moves_on_a_ride_is_named_and_marked(self):
        quick = tuple(rule for rule in RIDE_RULES if rule.code != "ride.course")
        stage = StageChoice(kind=ReductionKind.BELT, profile="5M", driver_teeth=15, driven_teeth=72, width_mm=15.0, efficiency=None)
        bare = replace(BOARD, brief=replace(BOARD.brief, courses=()), variants=(replace(BOARD.variant(), stages=(stage,)),), active="B")
        wrong, many = self.unmarked(bare, quick)
        self.assertEqual(wrong, set())
        self.assertGreater(many, 8)

    def test_a_verdict_on_measured_values_alone_is_not_marked(self):
        rule = next(rule for rule in RULES if rule.code == "vehicle.tips_sideways")
        measured = {f"vehicle__{name}": Quantity(value=value, known=Known.MEASURED) for name, value in (("track", 0.9), ("grip", 0.7))}
        kart = changed(KART, **measured)
        for name in ("cm_height", "cm_behind_front", "wheelbase"):
            kart = put(kart, f"vehicle.{name}", replace(getattr(kart.vehicle, name), known=Known.MEASURED))
        found = rule.findings(case(kart))[0]
        self.assertEqual((found.known, found.assumed), (Known.MEASURED, False))
        guessed = put(kart, "vehicle.grip", Quantity(value=0.7))
        self.assertEqual(rule.findings(case(guessed))[0].known, Known.ASSUMED)

    def test_boost_is_marked_as_its_time_constant_is(self):
        # the kart's setting is over what its controller lasts at
        rule = next(rule for rule in RIDE_RULES if rule.code == "ride.boost")
        first = case(KART)
        self.assertTrue(rule.findings(first)[0].assumed)
        self.assertIs(first.known(("controller.boost_tau_s",)), Known.ASSUMED)
        stated = case(changed(KART, variant__controller__boost_tau_s=20.0))
        rule.findings(stated)
        self.assertIs(stated.known(("controller.boost_tau_s",)), Known.STATED)

    def test_every_rule_is_one_line_of_one_table(self):
        every = (*RULES, *RIDE_RULES)
        codes = [rule.code for rule in every]
        self.assertEqual(len(codes), len(set(codes)))
        for rule in every:
            self.assertTrue(rule.because.endswith("."), rule.code)
            self.assertIn(rule.bench, ("brief", "drive", "ride"), rule.code)
        for finding in (f for rule in RULES for f in rule.findings(case(BOARD))):
            self.assertEqual(sum(rule.gives(finding.code) for rule in every), 1, finding.code)
            self.assertTrue(finding.because and finding.title and STOCK)
