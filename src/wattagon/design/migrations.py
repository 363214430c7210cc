"""From one schema version to the next, a function each: what an old file says in the words of a newer one.

A migration gets and gives JSON values, knows nothing of records, and is tested on a file that was saved by its version.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from wattagon.design.tree import SCHEMA_VERSION
from wattagon.errors import FileError

Json = dict[str, Any]


class Migration(NamedTuple):
    """One step, from a version to the next."""

    version: int  # that it reads
    step: Callable[[Json], Json]


MIGRATIONS: tuple[Migration, ...] = ()  # version 1 is the first and the present one


def migrated(data: Mapping[str, Any], name: str, *, steps: tuple[Migration, ...] = MIGRATIONS, to: int = SCHEMA_VERSION) -> Json:
    """A file's data in the present schema version.  Raises FileError: no version, a newer one, one that cannot be read any more."""
    now = dict(data)
    version = now.get("schema_version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise FileError(f"{name} has no schema_version, so it is not a Wattagon design")
    if version > to:
        raise FileError(
            f"{name} was written by a newer Wattagon (schema version {version}; this one reads up to {to}); the file was left as it is"
        )
    known = {migration.version: migration.step for migration in steps}
    while version < to:
        if version not in known:
            raise FileError(f"{name} is of schema version {version}, which cannot be read any more; the file was left as it is")
        now = known[version](now)
        version += 1
        now["schema_version"] = version
    return now
