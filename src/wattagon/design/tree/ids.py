"""What every section of the tree shares: ids that can stand in a path, unknown fields that survive, sizes that stay readable."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from wattagon.errors import InputError

_ID = re.compile(r"^[A-Za-z0-9][A-Za-z0-9_-]{0,39}$")
Extra = Mapping[str, Any]


def no_extra() -> Extra:
    """Nothing that a newer program left."""
    return {}


def check_id(text: str) -> None:
    """Raises InputError for an id that could not stand in a path."""
    if not _ID.match(text) or text.isdigit():
        raise InputError("id", repr(text), "letters, digits, - and _, up to 40, not digits alone")


def at_most(field: str, count: int, most: int, what: str = "items") -> None:
    """Raises InputError for more items than a file should hold."""
    if count > most:
        raise InputError(field, f"{count} {what}", f"up to {most}")


def unique(what: str, ids: list[str]) -> None:
    """Raises InputError where an id stands twice."""
    if len(set(ids)) == len(ids):
        return
    twice = sorted({item for item in ids if ids.count(item) > 1})
    if twice:
        raise InputError(f"id of a {what}", f"{twice[0]} twice", "each id once")
