"""Pictures of rides, with the moment on them; the start also after another sprocket and with another variant under it."""

from __future__ import annotations

from typing import Any

from wattagon.design.paths import Edit
from wattagon.desk.scene import Scene, Wait


def _run(run: str, share: float | None) -> Any:
    """A run with the moment at a share of its rows."""

    def play(window: Any, bench: Any, wait: Wait) -> None:
        bench.choose(run)
        wait(lambda: not bench.busy)
        if run == "start":
            window.session.apply(Edit(label="Sprocket", changes=(("variant.stages.0.driver_teeth", 12),)))
            wait(lambda: not bench.busy)
            bench.book.lay_over("B")
            wait(lambda: not bench.busy)
        if run == "boardwalk":
            bench.courses.setChecked(True)
            bench.editor.strip.choose(2)
        if share is not None and bench.book.current is not None:
            window.session.scrub(bench.book.current, int(share * len(bench.book.current.run.trace)))
        wait(lambda: bench.book.around is not None)

    return play


SCENES = (
    Scene(name="ride-boat", vehicle="Garganey", variant="A", play=_run("there-and-back", 0.3)),
    Scene(name="ride-course", vehicle="Dunlin", variant="B", play=_run("levee-round", 0.52)),
)
