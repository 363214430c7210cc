"""Random designs are solved without an exception or a nan, and every finding has its parts."""

import math
import unittest
from collections.abc import Iterator

import numpy as np

from tests.random_designs import random_design
from wattagon.design import catalogue
from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, GoalKind
from wattagon.errors import InputError
from wattagon.study.drive.study import point_at, study_drive
from wattagon.study.findings.all import find
from wattagon.study.findings.status import Status


def faults_of(design: Design, stock: Catalogue) -> Iterator[str]:
    """What is wrong with the study of a design; a design that contradicts itself may be refused."""
    try:
        study = study_drive(design, stock)
    except InputError as refusal:
        if not str(refusal):
            yield "refused without a sentence"
        return
    for name, state in study.states.items():
        for field in (
            "open_circuit_v",
            "no_load_speed_m_s",
            "top_speed_m_s",
            "top_speed_duty",
            "power_at_top_w",
            "standstill_force_n",
            "wheel_torque_nm",
            "max_grade",
        ):
            if not math.isfinite(getattr(state, field)):
                yield f"{name} {field} is {getattr(state, field)}"
        for array in (
            state.edge.force_n,
            state.edge.speed_m_s,
            state.grade_held,
            state.motor_current_a,
            state.pack_a,
            state.duty,
            state.pack_w,
        ):
            if not np.all(np.isfinite(array)):
                yield f"{name}: an array of the edge is not finite"
        if np.any(state.edge.force_n < 0) or np.any(np.diff(state.edge.speed_m_s) < 0):
            yield f"{name}: force below 0 or speed not rising"
    for result in study.goals:
        # a size that nobody measured, a case that is not there or does not stand: not known, and said so
        unknown = result.goal.kind in (GoalKind.PACKED, GoalKind.CADENCE) or result.goal.case == "heavy"
        if math.isnan(result.reached) and not unknown:
            yield f"goal {result.goal.kind} is nan"
    point = point_at(study.resolved, speed_m_s=4.0, grade=0.05, charge=0.5)
    if not point.balance_error < 1e-6:
        yield f"balance error {point.balance_error}"
    for finding in find(design, stock, study):
        if not finding.title or not finding.because or "nan" in finding.title.split():
            yield f"{finding.code}: {finding.title!r}"
        if finding.status in (Status.OVER, Status.TIGHT) and finding.margin is None:
            yield f"{finding.code} has no margin"


class RandomDesignsTest(unittest.TestCase):
    def test_they_are_solved(self):
        stock = catalogue.load()
        for seed in (*range(150), 1705):  # the last: stages driven both ways at once
            with self.subTest(seed=seed):
                self.assertEqual(list(faults_of(random_design(seed, stock), stock)), [])
