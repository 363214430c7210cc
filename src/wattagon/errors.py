"""The few kinds of refusal, each a sentence for the user."""

from __future__ import annotations


class WattagonError(Exception):
    """Anything that is told to the user as one sentence, on one line whatever went into it."""

    def __init__(self, words: object = "") -> None:
        super().__init__("".join(c if c.isprintable() else " " for c in str(words)))


class InputError(WattagonError, ValueError):
    """A value that is refused: which field, what it was, what would be accepted."""

    def __init__(self, field: str, value: object, accepted: str) -> None:
        super().__init__(f"{field} is {value}; accepted: {accepted}")
        self.field, self.value, self.accepted = field, value, accepted


class FileError(WattagonError):
    """A file that cannot be read or written; it is left as it was."""


class ChangedError(FileError):
    """A file that somebody else has written since it was read; it is left as it was."""


class PathError(WattagonError):
    """A path into the design that names nothing, with the nearest that do."""
