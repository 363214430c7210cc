"""Pictures of the controller."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait
from wattagon.standins.steps import STEPS


def _settled(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not window.session.busy and not bench.busy)


def _rehearsed(window: Any, bench: Any, wait: Wait) -> None:
    """Connected, armed, the lever pushed twice, two steps done."""
    wait(lambda: not window.session.busy)
    bench.show_target("test")
    tab = bench.stand
    tab.set_up()
    for press in (tab.speak, tab.low, tab.mode):
        press()
    tab.stand.run(0.8)
    tab.arm()
    for share, seconds in ((0.5, 3.0), (0.8, 2.0)):
        tab.push(share)
        tab.stand.run(seconds)
    for code in ("B5", "C2"):
        tab.play(next(step for step in STEPS if step.code == code))
        wait(lambda: not tab.busy)


SCENES = (
    Scene(name="controller", vehicle="Dunlin", variant="B", play=_settled),
    Scene(name="stand-dark", vehicle="Dunlin", variant="B", theme="dark", play=_rehearsed),
)
