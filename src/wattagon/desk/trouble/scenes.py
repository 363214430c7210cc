"""Pictures of trouble."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _skips(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not window.session.busy and not bench.busy)
    bench.ask("belt_skips")
    wait(lambda: not window.session.busy and not bench.busy)


SCENES = (Scene(name="trouble-dark", vehicle="Bittern", variant="A", theme="dark", play=_skips),)
