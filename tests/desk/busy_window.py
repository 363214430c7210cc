"""A window of its own process in which somebody edits in a rhythm; and what is left of the work when that process is killed.

Run as a program: FILE, pause between edits in ms.  Prints each edit's number and time.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from wattagon.design import file
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind

ROOT = Path(__file__).resolve().parent.parent.parent
AT_RISK_S = 2.0
RHYTHMS_MS = (0, 40, 350, 1700)  # without a pause; a held key; typing; now and then


def main(path: str, pause_ms: str) -> None:
    from PySide6.QtCore import QTimer

    from wattagon.design.paths import Edit
    from wattagon.desk import app

    make = app.make_window
    count = 0

    def edit(session) -> None:
        nonlocal count
        count += 1
        session.apply(Edit(label="note", changes=(("note", str(count)),)))
        os.write(1, f"{count} {time.time()}\n".encode())

    def make_busy(*arguments):
        window = make(*arguments)
        timer = QTimer(window, interval=int(pause_ms))
        timer.timeout.connect(lambda: edit(window.session) if window.session.docs else None)
        timer.start()
        return window

    app.make_window = make_busy
    sys.exit(app.run(Path(path)))


def surroundings(folder: Path) -> dict[str, str]:
    """The environment of a process whose settings, parts and recovery files are in a folder of their own."""
    homes = {name: str(folder / name.lower()) for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")}
    return {**os.environ, **homes, "QT_QPA_PLATFORM": "offscreen", "HOME": str(folder)}


def end_it(folder: Path, pause_ms: int, after_s: float, number: int) -> tuple[str, int]:
    """(what was lost, empty when nothing beyond `AT_RISK_S` was; exit code) of a busy window that gets a signal."""
    from wattagon.desk.recovery import Recovery

    folder.mkdir(exist_ok=True)
    path = folder / "busy.wattagon"
    if not path.exists():
        file.write(path, file.Document(design=new_design(VehicleKind.KART)))
    command = [sys.executable, "-m", "tests.desk.busy_window", str(path), str(pause_ms)]
    with subprocess.Popen(command, cwd=ROOT, env=surroundings(folder), stdout=subprocess.PIPE, stderr=subprocess.PIPE) as window:
        assert window.stdout is not None and window.stderr is not None
        first = window.stdout.readline()
        time.sleep(after_s)
        ended = time.time()
        window.send_signal(number)
        said = (first + window.stdout.read()).decode().splitlines()
        errors = window.stderr.read().decode()
        code = window.wait(20)
    made = [(int(line.split()[0]), float(line.split()[1])) for line in said if len(line.split()) == 2]
    if not made:
        return f"no edit was made: {errors[-300:]}", code
    # a kill may take what is younger; an end that was announced takes nothing
    least = max((k for k, t in made if t <= ended - AT_RISK_S), default=0) if number == signal.SIGKILL else made[-1][0]
    recovery = Recovery(folder / "xdg_state_home" / "wattagon" / "recovery")
    found = recovery.left_behind()
    kept = max((int(file.read(item.path).design.note or 0) for item in found), default=0)
    originals = {str(item.original) for item in found} - {str(path)}
    for item in found:
        recovery.forget(item)
    recovery.end()
    if file.read(path).design.note:
        return "the file itself was written", code
    if originals:
        return f"belongs to {originals}", code
    return ("" if kept >= least else f"of {made[-1][0]} edits {kept} were kept, {least} expected; {errors[-300:]}"), code


if __name__ == "__main__":
    main(*sys.argv[1:])
