"""The verdicts of a finding."""

from __future__ import annotations

from enum import StrEnum


class Status(StrEnum):
    CLEAR = "clear"
    TIGHT = "tight"
    OVER = "over"
    NOT_CHECKED = "not_checked"


URGENCY = {Status.OVER: 0, Status.TIGHT: 1, Status.NOT_CHECKED: 2, Status.CLEAR: 3}
