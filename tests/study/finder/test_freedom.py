"""Freedom of a found drive against changing the design part by part; what the hover card and the comparison rest on."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.parts import MotorPart
from wattagon.design.parts.families import toothed
from wattagon.study.drive.study import study_drive
from wattagon.study.finder.freedom import RATINGS, freedom_of
from wattagon.study.finder.hits import differences, lasting_shares, present_hit, pull_of
from wattagon.study.finder.search import find_cheapest, find_drives
from wattagon.study.finder.wishes import Wishes
from wattagon.study.findings.all import find
from wattagon.study.findings.status import Status
from wattagon.study.resolve import resolve


class FreedomTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.enterClassContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 30_000))
        cls.stock = catalogue.load()
        cls.design = file.read(DEMO / "dunlin.json").design
        cls.found = find_drives(cls.design, cls.stock, wishes=Wishes(schools=("belt", "chain")))
        cls.hit = cls.found.hits[0]
        cls.places = {place.name: place for place in freedom_of(cls.design, cls.stock, cls.found.wishes, cls.hit)}

    def study(self, variant):
        design = replace(self.design, variants=(variant,), active=variant.id)
        return study_drive(design, self.stock), find(design, self.stock, study_drive(design, self.stock))

    def test_steps_of_teeth_and_cells_are_those_of_the_drive_study(self):
        kept = lost = 0
        base = self.hit.variant
        changes = {
            "Driver pulley": lambda step: replace(base, stages=(replace(base.stages[0], driver_teeth=int(step.label.split()[0])),)),
            "Driven pulley": lambda step: replace(base, stages=(replace(base.stages[0], driven_teeth=int(step.label.split()[0])),)),
            "Motor": lambda step: replace(
                base, motor=replace(base.motor, part=next(p.id for p in self.stock.all(MotorPart) if p.name == step.label))
            ),
        }
        for name, change in changes.items():
            for step in self.places[name].steps:
                if RATINGS in step.fails or (name == "Motor" and not step.keeps):
                    continue  # settings follow the parts' ratings
                study, findings = self.study(change(step))
                met = all(result.met for result in study.goals) and not study.heat_s < self.found.wishes.climb_s(self.found.design)
                if name == "Motor":
                    met = all(result.met for result in study.goals)
                self.assertEqual(step.keeps, met, f"{name} {step.label}")
                if step.keeps:
                    self.assertNotIn(Status.OVER, {f.status for f in findings if not f.code.startswith(("motor.amps", "controller"))})
                kept, lost = kept + step.keeps, lost + (not step.keeps)
        self.assertGreater(min(kept, lost), 2)

    def test_every_place_has_the_present_step_once_and_it_keeps_all(self):
        for place in self.places.values():
            present = [step for step in place.steps if step.present]
            self.assertEqual([step.keeps for step in present], [True], place.name)
            self.assertEqual(place.others, sum(step.keeps for step in place.steps) - 1)

    def test_a_pulley_that_must_be_used_leaves_no_freedom_without_it(self):
        stage = self.hit.variant.stages[0]
        driver = next(p.id for p in toothed(self.stock, stage.profile, "driver") if p.teeth == stage.driver_teeth)
        wishes = replace(self.found.wishes, use=(driver,))
        hit = find_cheapest(self.design, self.stock, wishes=wishes).hits[0]
        places = {place.name: place for place in freedom_of(self.design, self.stock, wishes, hit)}
        self.assertEqual(places["Driver pulley"].others, 0)
        for step in places["Driver pulley"].steps:
            self.assertTrue(step.present or RATINGS in step.fails)

    def test_cancelled_freedom_is_empty(self):
        self.assertEqual(freedom_of(self.design, self.stock, self.found.wishes, self.hit, lambda: True), ())

    def test_pull_is_the_edge_of_the_study_and_goals_lie_under_it(self):
        pull, (study, _) = pull_of(self.hit, self.design, self.stock), self.study(self.hit.variant)
        edge = study.states["nominal"].edge
        self.assertTrue(np.allclose(np.interp(pull.speed_m_s[:40], edge.speed_m_s, edge.force_n), pull.force_n[:40], rtol=0.02, atol=2.0))
        for speed, force, met in pull.goals:
            self.assertTrue(met)
            self.assertLessEqual(force, np.interp(speed, edge.speed_m_s, edge.force_n) * 1.01)

    def test_present_hit_and_lasting_share(self):
        study = study_drive(self.design, self.stock)
        hit = present_hit(study.resolved, study.goals, self.design)
        self.assertAlmostEqual(hit.cost, study.resolved.cost)
        self.assertAlmostEqual(hit.speed_m_s, study.states["nominal"].top_speed_m_s, places=5)
        self.assertAlmostEqual(hit.grade, study.states["nominal"].max_grade, places=6)
        resolved = resolve(self.design, self.stock)
        less = replace(resolved, motor_part=replace(resolved.motor_part, current_continuous_a=1.0))
        self.assertLess(*lasting_shares([less, resolved], self.design.brief.goals))

    def test_differences_name_only_what_differs(self):
        one = self.hit
        other = replace(one, variant=replace(one.variant, pack=replace(one.variant.pack, parallel=one.variant.pack.parallel + 1)))
        self.assertEqual([name for name, _ in differences([one, other], self.stock)], ["pack"])
        self.assertEqual(differences([one, one], self.stock), [])
