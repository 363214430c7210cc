"""The stand's line protocol: a command a line, one line back that begins with `ok` or `error`.  Our own; documented in docs/standin.md."""

from __future__ import annotations

import math
import os
import select
import sys
import time
from collections.abc import Callable, Sequence

from wattagon.errors import InputError, WattagonError
from wattagon.standins.stand import LIMITS, READINGS, Stand

LONGEST = 400
MOST_WAIT_S = 600.0
LATE_S = 2.0  # of the clock that is caught up with at most, at one command


def _figure(value: float) -> str:
    return f"{value:.6g}"


def answer(stand: Stand, line: str) -> str:
    """The one line that answers a command; never raises, changes nothing for a line that is wrong."""
    if len(line) > LONGEST:
        return f"error line: {len(line)} letters; accepted: up to {LONGEST}"
    words = "".join(letter if letter.isprintable() else " " for letter in line).split()
    if not words:
        return f"error command: nothing; accepted: {', '.join(_RUN)}"
    run = _RUN.get(words[0])
    if run is None:
        return f"error command: {words[0][:40]!r}; accepted: {', '.join(_RUN)}"
    try:
        said = run(stand, words[1:])
    except WattagonError as refusal:
        return f"error {refusal}".replace("\n", " ")
    return f"ok {said}".rstrip()


def _none(words: Sequence[str], name: str) -> None:
    if words:
        raise InputError(name, " ".join(words)[:60], "nothing behind it")


def _number(words: Sequence[str], name: str, low: float, high: float) -> float:
    if len(words) != 1:
        raise InputError(name, " ".join(words)[:60] or "nothing", f"one number, {low:g} to {high:g}")
    try:
        value = float(words[0])
    except ValueError:
        value = math.nan
    if not low <= value <= high:
        raise InputError(name, words[0][:40], f"a number, {low:g} to {high:g}")
    return value


def _connect(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "connect")
    stand.connect()
    return f"stand of {stand.resolved.variant.id}; {len(stand.settings)} settings"


def _read(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "read")
    if not stand.connected:
        raise InputError("connect", "not done", "connect first")
    return "; ".join(f"{name}={_figure(value)} {stand.unit(name)}" for name, value in stand.read().items())


def _settings(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "settings")
    if not stand.connected:
        raise InputError("connect", "not done", "connect first")
    return "; ".join(f"{key}={_figure(value)} {LIMITS[key][0]}" for key, value in stand.settings.items())


def _write(stand: Stand, words: Sequence[str]) -> str:
    if len(words) != 2:
        raise InputError("write", " ".join(words)[:60] or "nothing", f"a key and a value; keys: {', '.join(LIMITS)}")
    try:
        value = float(words[1])
    except ValueError:
        raise InputError(words[0][:40], words[1][:40], "a number") from None
    stand.write(words[0], value)
    return f"{words[0]}={_figure(value)} {LIMITS[words[0]][0]}"


def _detect(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "detect")
    found = stand.detect()
    codes = "".join(map(str, found.codes))
    return (
        f"resistance={_figure(found.resistance_ohm)} ohm; inductance={_figure(found.inductance_h)} H; "
        f"flux={_figure(found.flux_v_s)} V*s; codes={codes} order"
    )


def _arm(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "arm")
    stand.arm()
    return "armed"


def _disarm(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "disarm")
    stand.armed = False
    return "not armed"


def _drive(stand: Stand, words: Sequence[str]) -> str:
    share = _number(words, "drive", -1.0, 1.0)
    stand.push(share)
    return f"lever={_figure(share)} share"


def _brake(stand: Stand, words: Sequence[str]) -> str:
    share = _number(words, "brake", 0.0, 1.0)
    stand.hold_brake(share)
    return f"brake={_figure(share)} share"


def _log(stand: Stand, words: Sequence[str]) -> str:
    """on, off, or how many rows there are."""
    if words not in ([], ["on"], ["off"]):
        raise InputError("log", " ".join(words)[:60], "on, off or nothing")
    if words:
        stand.keep = words[0] == "on"
    return f"rows={len(stand.rows)} number; keeping={int(stand.keep)} ok"


def _wait(stand: Stand, words: Sequence[str]) -> str:
    seconds = _number(words, "wait", 0.0, MOST_WAIT_S)
    stand.run(seconds)
    return f"time={_figure(stand.machine.seconds)} s"


def _hand(stand: Stand, words: Sequence[str]) -> str:
    _none(words, "hand")
    return f"codes={''.join(map(str, stand.hand_turn()))} order"


def _pull(stand: Stand, words: Sequence[str]) -> str:
    lead = " ".join(words)[:40]
    stand.pull(lead)
    return f"{lead} is off"


def _plug(stand: Stand, words: Sequence[str]) -> str:
    lead = " ".join(words)[:40]
    stand.plug(lead)
    return f"{lead} is on"


def _radio(stand: Stand, words: Sequence[str]) -> str:
    if words not in (["on"], ["off"]):
        raise InputError("radio", " ".join(words)[:60] or "nothing", "on or off")
    stand.radio = words[0] == "on"
    return f"radio {words[0]}"


def _lanyard(stand: Stand, words: Sequence[str]) -> str:
    if words not in (["in"], ["out"]):
        raise InputError("lanyard", " ".join(words)[:60] or "nothing", "in or out")
    stand.pull_lanyard(words[0] == "out")
    return f"lanyard {words[0]}"


_RUN: dict[str, Callable[[Stand, Sequence[str]], str]] = {
    "connect": _connect,
    "read": _read,
    "settings": _settings,
    "write": _write,
    "detect": _detect,
    "arm": _arm,
    "disarm": _disarm,
    "drive": _drive,
    "brake": _brake,
    "log": _log,
    "wait": _wait,
    "hand": _hand,
    "pull": _pull,
    "plug": _plug,
    "radio": _radio,
    "lanyard": _lanyard,
}


def rows_csv(stand: Stand) -> str:
    """What a stand kept: heads with units, a row each fiftieth of a second."""
    heads = list(READINGS)
    lines = [",".join(f"{name} [{stand.unit(name)}]" for name in heads)]
    lines += [",".join(_figure(row[name]) for name in heads) for row in list(stand.rows)]
    return "\n".join(lines) + "\n"


class Clock:
    """The stand's time follows the clock between commands, at most two seconds at once."""

    def __init__(self, stand: Stand) -> None:
        self.stand, self._last = stand, time.monotonic()

    def catch_up(self) -> None:
        """Run on to now."""
        now = time.monotonic()
        self.stand.run(min(now - self._last, LATE_S))
        self._last = time.monotonic()


def serve(stand: Stand, *, pty: bool) -> None:
    """Answer lines until the other side goes away."""
    clock = Clock(stand)
    if not pty:
        for line in sys.stdin:
            clock.catch_up()
            sys.stdout.write(answer(stand, line) + "\n")
            sys.stdout.flush()
        return
    import pty as terminals
    import tty

    ours, theirs = terminals.openpty()
    tty.setraw(theirs)
    sys.stdout.write(f"device {os.ttyname(theirs)}\n")
    sys.stdout.flush()
    kept = b""
    while True:
        ready, _, _ = select.select([ours], [], [], 0.05)
        clock.catch_up()
        if not ready:
            continue
        try:
            raw = os.read(ours, 4096)
        except OSError:
            return
        if not raw:
            return
        kept += raw
        while b"\n" in kept or len(kept) > 8 * LONGEST:
            line, _, kept = kept.partition(b"\n")
            os.write(ours, (answer(stand, line.decode("utf-8", errors="replace")) + "\n").encode())
