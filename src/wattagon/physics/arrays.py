"""Scalars and arrays alike: the number type of this room, refusals over arrays, and stacking of records."""

from __future__ import annotations

import functools
from collections.abc import Hashable, Sequence
from dataclasses import fields, is_dataclass
from typing import Any, TypeAlias, TypeVar, cast

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


@functools.cache
def _names(cls: Hashable) -> tuple[str, ...]:
    return tuple(item.name for item in fields(cast(Any, cls)))


def _with(record: T, changes: dict[str, Any]) -> T:
    """A copy with some fields changed and no check: the values come from records that were checked when they were made."""
    if not changes:
        return record
    copy = object.__new__(type(record))
    for name in _names(cast(Hashable, type(record))):
        object.__setattr__(copy, name, changes[name] if name in changes else getattr(record, name))
    return copy


def stack(records: Sequence[T], dims: int) -> T:
    """One record whose float fields are arrays over `records`, shape (n, 1, ... ) with `dims` trailing axes of length 1.

    Fields that are equal in all records stay scalars, so what does not differ costs nothing; nested records are stacked
    likewise, tuples of numbers number by number, curves by their own rule; names are taken from the first.
    """
    first = records[0]
    changes: dict[str, Any] = {}
    for name in _names(cast(Hashable, type(first))):
        head = getattr(first, name)
        if head is None or isinstance(head, (str, bool)):
            continue
        values = [getattr(record, name) for record in records]
        if hasattr(head, "stacked"):
            changes[name] = cast(Any, head).stacked(values, dims)
            continue
        if isinstance(head, tuple):
            if any(value != head for value in values):  # numbers, as many in each record: designs of another length are not stacked
                changes[name] = tuple(np.array(column, dtype=float).reshape((-1,) + (1,) * dims) for column in zip(*values, strict=True))
            continue
        if isinstance(head, (int, float)):
            if any(value != head for value in values):
                changes[name] = np.array(values, dtype=float).reshape((-1,) + (1,) * dims)
        elif is_dataclass(head) and any(value is not head for value in values):
            changes[name] = stack(values, dims)
    return _with(first, changes)


def deepen(record: T) -> T:
    """The same record with one more trailing axis on every array field, nested records included."""
    changes: dict[str, Any] = {}
    for name in _names(cast(Hashable, type(record))):
        value = getattr(record, name)
        if isinstance(value, (float, int, str)) or value is None:
            continue
        if hasattr(value, "deeper"):
            changes[name] = cast(Any, value).deeper()
            continue
        if isinstance(value, tuple):
            if any(isinstance(item, np.ndarray) for item in value):
                changes[name] = tuple(item[..., np.newaxis] if isinstance(item, np.ndarray) and item.ndim else item for item in value)
            continue
        if isinstance(value, np.ndarray):
            if value.ndim:
                changes[name] = value[..., np.newaxis]
        elif is_dataclass(value):
            deeper = deepen(value)
            if deeper is not value:
                changes[name] = deeper
    return _with(record, changes)


def deeper(value: Num) -> Num:
    """A number as it is, an array with one more trailing axis: what belongs to a record that was deepened."""
    return value[..., np.newaxis] if isinstance(value, np.ndarray) and value.ndim else value
