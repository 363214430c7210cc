"""Tests that tell causes apart: what each answers under each cause, how long it takes, how dangerous it is.  `stock/trouble/tests.csv`."""

from __future__ import annotations

import functools
from collections.abc import Mapping
from typing import NamedTuple

from wattagon.study.trouble.causes import rows


class Deciding(NamedTuple):
    """One test.  Under a cause that it does not name it gives its first answer."""

    code: str
    how: str
    minutes: float
    danger: int  # 0 none, 1 things that turn or are hot, 2 live leads or loads, 3 more
    caution: str
    stand: bool  # the test stand can do it
    on: str  # wheels or water, where it can only be done there
    answers: Mapping[str, str]  # code: in words, the usual one first
    tells: Mapping[str, str]  # cause: the answer that it gives
    sure: float  # how often the answer is as it should be

    @property
    def usual(self) -> str:
        return next(iter(self.answers))

    def likely(self, cause: str, answer: str) -> float:
        """How likely an answer is under a cause."""
        expected = self.tells.get(cause, self.usual)
        return self.sure if answer == expected else (1.0 - self.sure) / (len(self.answers) - 1)


@functools.cache
def tests() -> Mapping[str, Deciding]:
    """All of them by their codes."""
    made = {}
    for row in rows("tests.csv"):
        answers = dict(pair.split("=", 1) for pair in row["answers"].split("|"))
        made[row["id"]] = Deciding(
            code=row["id"],
            how=row["how"],
            minutes=float(row["minutes"]),
            danger=int(row["danger"]),
            caution=row["caution"],
            stand=row["stand"] == "yes",
            on=row["on"],
            answers=answers,
            tells=dict(pair.split(":", 1) for pair in row["tells"].split()),
            sure=float(row["sure"]),
        )
    return made
