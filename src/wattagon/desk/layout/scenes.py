"""Pictures of the layout."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _sheets(window: Any, bench: Any, wait: Wait) -> None:
    bench.show_side("sheets")
    wait(lambda: not window.session.busy)


def _aboard(window: Any, bench: Any, wait: Wait) -> None:
    bench.show_side("aboard")
    wait(lambda: not window.session.busy)


def _shafts(window: Any, bench: Any, wait: Wait) -> None:
    bench.show_side("shafts")
    wait(lambda: not window.session.busy)


SCENES = (
    Scene(name="layout", vehicle="Dunlin", variant="B", play=_shafts),
    Scene(name="layout-cut", vehicle="Corncrake", variant="A", play=_sheets),
)
