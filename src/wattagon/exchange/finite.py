"""Values as JSON can say them."""

from __future__ import annotations

import math
from typing import Any


def finite(value: Any) -> Any:
    """JSON has no infinity and no nan: what is not known is null, and `why` beside it tells which of its kind it is."""
    if isinstance(value, float):
        return value if math.isfinite(value) else None
    if isinstance(value, dict):
        made = {key: finite(item) for key, item in value.items()}
        why = {str(key): reason for key, item in value.items() if (reason := _why(item))}
        return {**made, "why": why} if why else made
    if isinstance(value, (list, tuple)):
        return [finite(item) for item in value]
    return value


def _why(value: Any) -> str:
    """Why a value is null; empty where it is none, or has its reason further in."""
    if value is None:
        return "not stated"
    if isinstance(value, float) and not math.isfinite(value):
        return "not known" if math.isnan(value) else "without end" if value > 0 else "without end, below 0"
    if isinstance(value, (list, tuple)):  # the ends of a band
        return next((reason for item in value if not isinstance(item, (dict, list)) and (reason := _why(item))), "")
    return ""
