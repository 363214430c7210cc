"""`record`: a dataclass whose comparison, hash and text are shared functions instead of code generated for each class.

Generating them takes two fifths of making a frozen dataclass: with seventy of them, a tenth of the program's start.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

MADE: list[type] = []  # every record of the program: who wants to know when one is made finds them here

if TYPE_CHECKING:
    from dataclasses import dataclass as record
else:
    import dataclasses
    from operator import attrgetter

    def record(**options):
        """`dataclasses.dataclass` with the same options; compared by its fields, and not for `match` by position."""

        def make(cls):
            made = dataclasses.dataclass(cls, eq=False, repr=False, match_args=False, **options)
            names = [item.name for item in dataclasses.fields(made) if item.compare]
            shown = [item.name for item in dataclasses.fields(made) if item.repr]
            one, get = len(names) == 1, attrgetter(*names) if names else lambda _: ()

            def __eq__(self, other):
                return get(self) == get(other) if other.__class__ is self.__class__ else NotImplemented

            def __hash__(self):
                return hash((get(self),) if one else get(self))

            def __repr__(self):
                values = ", ".join(f"{name}={getattr(self, name)!r}" for name in shown)
                return f"{self.__class__.__qualname__}({values})"

            made.__eq__, made.__repr__ = __eq__, __repr__
            made.__hash__ = __hash__ if options.get("frozen") else None
            MADE.append(made)
            return made

        return make


__all__ = ["MADE", "record"]
