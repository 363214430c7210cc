"""Pictures of the pack."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _checked(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not window.session.busy)
    bench.show_target("cell checks")


SCENES = (Scene(name="pack", vehicle="Dunlin", variant="B", play=_checked),)
