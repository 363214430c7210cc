"""Days from today to a date or a number of days as it was typed."""

from __future__ import annotations

import datetime

from wattagon.errors import InputError
from wattagon.exchange.units import quoted

MOST_DAYS = 3650


def days_until(text: str, field: str) -> int:
    """Days from today, 0 for a date that has passed.  Raises InputError for neither a date nor a number of days."""
    text = text.strip()
    accepted = f"a date such as 2027-03-01, or up to {MOST_DAYS} days"
    try:
        if text.isascii() and text.isdigit():
            days = int(text[:12])
        else:
            days = max((datetime.date.fromisoformat(text) - datetime.date.today()).days, 0)
    except ValueError:
        raise InputError(field, quoted(text), accepted) from None
    if days > MOST_DAYS:
        raise InputError(field, quoted(text), accepted)
    return days
