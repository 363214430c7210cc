"""How likely each cause is, and the test that tells those that are left apart best for least effort and danger.

Weights follow Bayes: prior of the symptom, times what evidence says, times how likely each answer is under the cause.  The next test
is the one whose answer takes most uncertainty away (expected information) for its minutes and its danger.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import NamedTuple

from wattagon.errors import InputError
from wattagon.study.trouble.causes import Cause, causes
from wattagon.study.trouble.deciding import Deciding, tests
from wattagon.study.trouble.evidence import Evidence
from wattagon.study.trouble.symptoms import SYMPTOMS

BASE_MINUTES = 3.0  # that any test takes beside its own
DANGER_MINUTES = (0.0, 2.0, 10.0, 40.0)  # that a danger counts as
LEAST_BITS = 0.01
FOUND = 0.8  # weight from which a cause counts as found


class Ranked(NamedTuple):
    """One cause with its weight, 0 to 1, all together 1."""

    cause: Cause
    weight: float
    evidence: tuple[Evidence, ...]


class Told(NamedTuple):
    """A cause before answers: what the symptom and the design make of it."""

    cause: Cause
    prior: float
    evidence: tuple[Evidence, ...]


def before(symptom: str, speaks: Callable[[Cause], Sequence[Evidence]], able: Callable[[Cause], bool]) -> list[Told]:
    """All causes of a symptom that a design can have.  Raises InputError for a symptom that there is not."""
    if symptom not in SYMPTOMS:
        raise InputError("symptom", symptom or "nothing", ", ".join(SYMPTOMS))
    made = []
    for cause in causes().values():
        usual = cause.symptoms.get(symptom, 0.0)
        if usual <= 0.0 or not able(cause):
            continue
        said = tuple(speaks(cause))
        made.append(Told(cause, usual * math.prod(one.factor for one in said), said))
    return made


def ranked(told: Sequence[Told], answers: Mapping[str, str] | Iterable[tuple[str, str]]) -> list[Ranked]:
    """By answers so far, the likeliest first.  Raises InputError for a test or an answer that there is not."""
    given = list(answers.items() if isinstance(answers, Mapping) else answers)
    known = tests()
    for test, answer in given:
        if test not in known:
            raise InputError("test", test, ", ".join(known))
        if answer not in known[test].answers:
            raise InputError(f"answer of {test}", answer, ", ".join(known[test].answers))
    weights = [one.prior * math.prod(known[test].likely(one.cause.code, answer) for test, answer in given) for one in told]
    total = sum(weights) or 1.0
    return sorted((Ranked(one.cause, w / total, one.evidence) for one, w in zip(told, weights, strict=True)), key=lambda one: -one.weight)


def gain_bits(test: Deciding, found: Sequence[Ranked]) -> float:
    """Bits of uncertainty that its answer takes away on average."""
    weights = [one.weight for one in found]
    left = 0.0
    for answer in test.answers:
        joint = [one.weight * test.likely(one.cause.code, answer) for one in found]
        chance = sum(joint)
        if chance > 0.0:
            left += chance * _entropy([value / chance for value in joint])
    return _entropy(weights) - left


def _entropy(shares: Sequence[float]) -> float:
    return -sum(share * math.log2(share) for share in shares if share > 0.0)


def cost_minutes(test: Deciding) -> float:
    """Its minutes, with what its danger counts as."""
    return BASE_MINUTES + test.minutes + DANGER_MINUTES[test.danger]


def next_test(found: Sequence[Ranked], answered: Iterable[str], able: Callable[[Deciding], bool] = lambda _test: True) -> Deciding | None:
    """The best that was not done yet; None where no test tells anything more."""
    done = set(answered)
    best: tuple[float, Deciding] | None = None
    for test in tests().values():
        if test.code in done or not able(test) or not any(one.cause.code in test.tells for one in found):
            continue
        gain = gain_bits(test, found)
        if gain < LEAST_BITS:
            continue
        worth = gain / cost_minutes(test)
        if best is None or worth > best[0]:
            best = worth, test
    return best[1] if best is not None else None
