"""Pictures of the brief."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _at(speed_m_s: float) -> Any:
    def play(window: Any, bench: Any, wait: Wait) -> None:
        window.session.set_moment(speed_m_s=speed_m_s, grade=0.0, charge=0.5)

    return play


SCENES = (Scene(name="brief", vehicle="Dunlin", variant="B", play=_at(9.0)),)
