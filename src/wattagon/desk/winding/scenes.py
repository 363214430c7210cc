"""Pictures of the winding."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _settled(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not window.session.busy and not bench.busy)


SCENES = (Scene(name="winding", vehicle="Garganey", variant="B", play=_settled),)
