"""Pictures of the drive."""

from __future__ import annotations

from typing import Any

from wattagon.desk.scene import Scene, Wait


def _at(speed_m_s: float, grade: float, charge: float, side: str) -> Any:
    def play(window: Any, bench: Any, wait: Wait) -> None:
        bench.show_side(side)
        bench.levers.setFocus()
        window.session.set_moment(speed_m_s=speed_m_s, grade=grade, charge=charge)

    return play


SCENES = (
    Scene(name="drive", vehicle="Dunlin", variant="B", play=_at(6.5, 0.08, 0.5, "flows")),
    Scene(name="drive-problems", vehicle="Dunlin", variant="A", play=_at(4.0, 0.14, 0.5, "flows")),
    Scene(name="drive-boat", vehicle="Garganey", variant="A", play=_at(1.9, 0.0, 0.5, "flows")),
)
