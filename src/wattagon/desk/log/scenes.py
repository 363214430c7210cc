"""Pictures of logs."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _learnt(window: Any, bench: Any, wait: Wait) -> None:
    wait(lambda: not bench.busy and bench.book.comparison is not None)
    bench.book.learn()
    wait(lambda: not bench.busy and bench.book.fit is not None)
    bench.lanes.seek(412.0)


SCENES = (Scene(name="log", vehicle="Dunlin", variant="B", play=_learnt),)
