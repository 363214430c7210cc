"""Pictures of parts and steps."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _shown(what: str):  # type: ignore[no-untyped-def]
    def play(window: Any, bench: Any, wait: Wait) -> None:
        wait(lambda: not window.session.busy and not bench.busy)
        bench.show_target(what)

    return play


SCENES = (Scene(name="steps", vehicle="Corncrake", variant="A", play=_shown("steps")),)
