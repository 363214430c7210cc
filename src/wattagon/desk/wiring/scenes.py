"""Pictures of the wiring."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _plain(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not window.session.busy)


SCENES = (Scene(name="wiring", vehicle="Dunlin", variant="B", play=_plain),)
