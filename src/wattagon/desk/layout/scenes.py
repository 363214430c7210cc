"""Pictures of the layout."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _plain(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not window.session.busy)


def _sheets(window: Any, bench: Any, wait: Wait) -> None:
    bench.show_side("sheets")
    wait(lambda: not window.session.busy)


SCENES = (
    Scene(name="layout", vehicle="Dunlin", variant="B", play=_plain),
    Scene(name="layout-dark", vehicle="Bittern", variant="A", theme="dark", units="imperial", play=_plain),
    Scene(name="layout-cut", vehicle="Corncrake", variant="A", play=_sheets),
)
