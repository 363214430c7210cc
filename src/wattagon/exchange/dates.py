"""Days from today to a date or a number of days as it was typed."""

from __future__ import annotations

import datetime

from wattagon.errors import InputError


def days_until(text: str, field: str) -> int:
    """Days from today, 0 for a date that has passed.  Raises InputError for neither a date nor a number of days."""
    text = text.strip()
    if text.isdigit():
        return int(text)
    try:
        return max((datetime.date.fromisoformat(text) - datetime.date.today()).days, 0)
    except ValueError:
        raise InputError(field, repr(text), "a date such as 2027-03-01, or a number of days") from None
