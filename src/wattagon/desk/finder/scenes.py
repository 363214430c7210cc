"""Pictures of the finder: a search that found much, several compared, the freedom that one leaves, a search that found nothing."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _search(window: Any, bench: Any, wait: Wait) -> None:
    speed = 1.9 if window.session.design.vehicle.kind.floats else 6.0
    window.session.set_moment(speed_m_s=speed, grade=0.0, charge=0.5)
    bench.book.search()
    wait(lambda: not bench.book.running)


def _found(window: Any, bench: Any, wait: Wait) -> None:
    _search(window, bench, wait)
    bench.book.choose(3)
    wait(lambda: bench.book.detail is not None and not bench.scatter.sure.worker.running)


def _compare(window: Any, bench: Any, wait: Wait) -> None:
    _search(window, bench, wait)
    bench.book.choose(3)
    bench.pages[1].click()
    for k in (0, 4, 9):
        bench.book.mark(k)
    wait(lambda: bench.book.detail is not None and not bench.scatter.sure.worker.running)


SCENES = (Scene(name="finder", vehicle="Dunlin", variant="B", play=_found),)
