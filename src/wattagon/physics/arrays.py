"""Scalars and arrays alike: the number type of this room, refusals over arrays, and stacking of records."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeAlias, TypeVar

import numpy as np
from numpy.typing import NDArray

from wattagon.errors import InputError

Num: TypeAlias = "float | NDArray[np.float64]"
T = TypeVar("T")


def require(field: str, value: Any, ok: Any, accepted: str) -> None:
    """Refuse `value` unless `ok` holds everywhere; write `ok` so that nan fails it (`x > 0`, not `not x <= 0`)."""
    if ok is True or ok is False:  # plain floats: the common case, and the quick one
        good = ok
    else:
        good = bool(np.all(ok))
    if not good:
        raise InputError(field, value, accepted)


def stack(records: Sequence[T], dims: int) -> T:
    """One record whose float fields are arrays over `records`, shape (n, 1, ... ) with `dims` trailing axes of length 1.

    Fields that are equal in all records stay scalars, so what does not differ costs nothing; nested records are stacked
    likewise; other fields (names, tuples) are taken from the first.
    """
    first = records[0]
    changes: dict[str, Any] = {}
    for item in fields(first):  # type: ignore[arg-type]
        values = [getattr(record, item.name) for record in records]
        head = values[0]
        if is_dataclass(head) and not isinstance(head, type):
            if any(value is not head for value in values):
                changes[item.name] = stack(values, dims)
        elif isinstance(head, (int, float)) and not isinstance(head, bool):
            if any(value != head for value in values):
                changes[item.name] = np.array(values, dtype=float).reshape((-1,) + (1,) * dims)
        elif isinstance(head, np.ndarray):
            # one array a record (for example the emf at three charge states): a leading axis, then its own
            stacked = np.stack([np.broadcast_to(value, head.shape) for value in values])
            changes[item.name] = stacked.reshape(stacked.shape + (1,) * (dims - head.ndim))
    return replace(first, **changes) if changes else first  # type: ignore[type-var]


def deepen(record: T) -> T:
    """The same record with one more trailing axis on every array field, nested records included."""
    changes: dict[str, Any] = {}
    for item in fields(record):  # type: ignore[arg-type]
        value = getattr(record, item.name)
        if isinstance(value, np.ndarray):
            changes[item.name] = value[..., np.newaxis]
        elif is_dataclass(value) and not isinstance(value, type):
            deeper = deepen(value)
            if deeper is not value:
                changes[item.name] = deeper
    return replace(record, **changes) if changes else record  # type: ignore[type-var]
