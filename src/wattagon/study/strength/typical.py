"""What joints take for granted: friction, warmth, what a material bears at work and the factor that is wanted of it."""

from __future__ import annotations

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MaterialPart
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Joint
from wattagon.physics.strength import prints

MPA = 1e6
FRICTION, FRICTION_LOCK = 0.15, 0.20  # steel or aluminium dry; with retaining compound
WARM_C = 50.0  # of a print beside a motor or belt, where nobody measured; typical
FACTORS = {"metal": 2.0, "print": 4.0, "wood": 4.0, "moulded": 4.0}  # wanted; prints across their layers 6
ACROSS = 6.0


def told(quantity: Quantity | None, usual: float, name: str, assumed: list[str]) -> float:
    """What was told [SI], else what is usual, which is noted as assumed."""
    if quantity is not None:
        return quantity.value
    assumed.append(name)
    return usual


def made_of(stock: Catalogue, joint: Joint, usual: str, assumed: list[str]) -> MaterialPart:
    """A joint's material, else the usual one, which is noted as assumed.  Raises InputError for one that stock does not know."""
    if not joint.material:
        assumed.append("material")
    return stock.get(MaterialPart, joint.material or usual)


def strength_of(material: MaterialPart, joint: Joint, assumed: list[str]) -> tuple[float, float, str]:
    """(MPa at work, wanted factor, why) of a material as a joint loads it."""
    if material.kind == "metal":
        return material.yield_mpa, FACTORS["metal"], "metal on its yield"
    base = (material.across_mpa or material.yield_mpa) if joint.across else material.yield_mpa
    wanted = ACROSS if joint.across and material.kind == "print" else FACTORS[material.kind]
    why = f"{'printed' if material.kind == 'print' else material.kind}{', across its layers' if joint.across else ''}"
    if material.soft_c is None:
        return base, wanted, why
    warm = told(joint.temperature, WARM_C, "temperature", assumed)
    return base * prints.warm_share(material.soft_c, warm), wanted, f"{why}, at {warm:.0f} C"


LINE_M, SKIN_M = 0.00045, 0.001  # of a print: width of a wall's line, what lies above and below; typical


def printed_share(material: MaterialPart, joint: Joint, wide_m: float, high_m: float) -> tuple[float, str]:
    """(modulus of a printed bar over that of a solid one, in words); 1 where nobody told walls or infill, or it is no print."""
    if material.kind != "print" or (joint.walls is None and joint.fill is None):
        return 1.0, ""
    walls, fill = joint.walls or 3, joint.fill if joint.fill is not None else 0.2
    found = prints.printed_section(wide_m, high_m, walls * LINE_M, SKIN_M, fill)
    share = found.modulus / found.solid
    return share, f"; {walls} walls and {100.0 * fill:.0f} % infill leave {share:.0%} of a solid one"
