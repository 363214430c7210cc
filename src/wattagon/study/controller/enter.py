"""Where a value of the sheet is entered in the design."""

from __future__ import annotations

from dataclasses import replace

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Control, Design
from wattagon.study.controller.setting import Setting

OVERRIDES = "variant.controller.overrides."


def entered(design: Design, one: Setting, value: object, label: str = "") -> Edit:
    """The edit that puts a value of a line into its place; None takes away what was told."""
    label = label or f"{one.name} as set"
    name = one.path.rpartition(".")[2]
    if one.path.startswith("variant.control."):
        told = design.variant().control or Control()
        if isinstance(value, float) and name == "wheel":
            value = Quantity(value=value, known=Known.STATED)
        if value is None:
            value = getattr(Control(), name)
        return Edit(label=label, changes=(("variant.control", replace(told, **{name: value})),))  # type: ignore[arg-type]
    if one.path.startswith(OVERRIDES):
        if isinstance(value, (int, float)):
            return Edit(label=label, changes=((one.path, Quantity(value=float(value), known=Known.STATED)),))
        choice = design.variant().controller  # what the part's row says again
        rest = {key: item for key, item in choice.overrides.items() if key != name}
        return Edit(label=label, changes=(("variant.controller", replace(choice, overrides=rest)),))
    return Edit(label=label, changes=((one.path, value),))
