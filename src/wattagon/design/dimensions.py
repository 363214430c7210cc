"""Every dimension of a value in one row: how SI, each set of units, and what people type are written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from types import MappingProxyType

from wattagon.record import record

SETS = ("metric", "imperial", "nautical")
_NONE: Mapping[str, str] = MappingProxyType({})


@record(frozen=True, slots=True)
class Unit:
    """shown = value * per_si + offset; `figures` significant digits; `text` follows the number."""

    text: str
    per_si: float = 1.0
    offset: float = 0.0
    figures: int = 3
    pint: str = ""  # how the units library calls it, where that differs


@record(frozen=True, slots=True, kw_only=True)
class Dimension:
    """One kind of quantity."""

    si: str  # the SI unit in plain letters, for refusals and the schema
    metric: Unit
    imperial: Unit | None = None  # as metric where nothing else is usual
    nautical: Unit | None = None
    library: str = ""  # the SI unit as the units library calls it; empty: a bare number that may carry only `marks`
    aliases: Mapping[str, str] = field(default_factory=lambda: _NONE)  # what people write, in small letters, as the library calls it
    marks: Mapping[str, float] = field(default_factory=dict)  # what a bare number may carry, with its worth

    def unit(self, unit_set: str) -> Unit:
        """Its unit in a set."""
        return {"imperial": self.imperial, "nautical": self.nautical}.get(unit_set) or self.metric


_PERCENT = {"%": 0.01}
DIMENSIONS: dict[str, Dimension] = {
    "length": Dimension(
        si="m", library="m", metric=Unit("mm", 1e3, figures=4), imperial=Unit("in", 1 / 0.0254, figures=4), aliases={'"': "inch"}
    ),
    "height": Dimension(si="m", library="m", metric=Unit("m", figures=4), imperial=Unit("ft", 1 / 0.3048, figures=4)),
    "distance": Dimension(
        si="m",
        library="m",
        metric=Unit("km", 1e-3),
        imperial=Unit("mi", 1 / 1609.344),
        nautical=Unit("NM", 1 / 1852.0, pint="nautical_mile"),
        aliases={"nm": "nautical_mile", "mi": "mile"},
    ),
    "speed": Dimension(
        si="m/s",
        library="m/s",
        metric=Unit("km/h", 3.6, pint="km/hour"),
        imperial=Unit("mph", 1 / 0.44704),
        nautical=Unit("kn", 1 / 0.514444444, pint="knot"),
        aliases={"kn": "knot", "kt": "knot", "kts": "knot", "kph": "km/hour", "kmh": "km/hour", "km/h": "km/hour"},
    ),
    "mass": Dimension(si="kg", library="kg", metric=Unit("kg"), imperial=Unit("lb", 1 / 0.45359237), aliases={"lbs": "pound"}),
    "force": Dimension(si="N", library="N", metric=Unit("N"), imperial=Unit("lbf", 1 / 4.4482216152605)),
    "stress": Dimension(
        si="Pa",
        library="Pa",
        metric=Unit("MPa", 1e-6, pint="MPa"),
        imperial=Unit("ksi", 1 / 6894757.2931684, pint="ksi"),
    ),
    "pressure": Dimension(
        si="Pa",
        library="Pa",
        metric=Unit("mbar", 0.01, pint="mbar"),
        imperial=Unit("psi", 1 / 6894.757293168, pint="psi"),
    ),
    "frequency": Dimension(si="Hz", library="Hz", metric=Unit("Hz"), aliases={"hz": "Hz"}),
    "torque": Dimension(
        si="N m",
        library="N*m",
        metric=Unit("N·m", pint="N*m"),
        imperial=Unit("lbf·ft", 1 / 1.3558179483314, pint="lbf*ft"),
        aliases={"nm": "N*m", "n·m": "N*m", "n m": "N*m", "lbf·ft": "lbf*ft", "ft·lb": "lbf*ft", "ft lb": "lbf*ft"},
    ),
    "temperature": Dimension(
        si="C",
        library="degC",
        metric=Unit("°C", pint="degC"),
        imperial=Unit("°F", 1.8, 32.0, pint="degF"),
        aliases={"c": "degC", "°c": "degC", "f": "degF", "°f": "degF", "k": "kelvin"},
    ),
    "current": Dimension(si="A", library="A", metric=Unit("A")),
    "voltage": Dimension(si="V", library="V", metric=Unit("V")),
    "resistance": Dimension(
        si="ohm",
        library="ohm",
        metric=Unit("mΩ", 1e3, pint="milliohm"),
        aliases={"mω": "milliohm", "mohm": "milliohm", "ω": "ohm"},
    ),
    "inductance": Dimension(
        si="H",
        library="henry",
        metric=Unit("µH", 1e6, pint="microhenry"),
        aliases={"µh": "microhenry", "uh": "microhenry", "mh": "millihenry"},
    ),
    "capacitance": Dimension(
        si="F",
        library="farad",
        metric=Unit("mF", 1e3, pint="millifarad"),
        aliases={"mf": "millifarad", "µf": "microfarad", "uf": "microfarad"},
    ),
    "section": Dimension(
        si="m2", library="m**2", metric=Unit("mm²", 1e6, pint="mm**2"), aliases={"mm²": "mm**2", "mm2": "mm**2", "sqmm": "mm**2"}
    ),
    "power": Dimension(si="W", library="W", metric=Unit("W")),
    "energy": Dimension(si="Wh", library="W*hour", metric=Unit("Wh", pint="W*hour"), aliases={"wh": "W*hour", "kwh": "kW*hour"}),
    "capacity": Dimension(si="Ah", library="A*hour", metric=Unit("Ah", pint="A*hour"), aliases={"ah": "A*hour", "mah": "mA*hour"}),
    "kv": Dimension(si="rpm/V", library="rpm/V", metric=Unit("rpm/V", pint="rpm/V"), aliases={"rpm/v": "rpm/V"}),
    "rpm": Dimension(si="rpm", library="rpm", metric=Unit("rpm", figures=4)),
    "area": Dimension(
        si="m2",
        library="m**2",
        metric=Unit("m²", pint="m**2"),
        imperial=Unit("ft²", 1 / 0.09290304, pint="ft**2"),
        aliases={"m²": "m**2", "m2": "m**2", "ft²": "ft**2", "ft2": "ft**2"},
    ),
    "inertia": Dimension(
        si="kg m2",
        library="kg*m**2",
        metric=Unit("kg·m²", pint="kg*m**2"),
        aliases={"kg·m²": "kg*m**2", "kg m2": "kg*m**2"},
    ),
    "time": Dimension(si="s", library="s", metric=Unit("s"), aliases={"min": "minute", "h": "hour", "mins": "minute"}),
    "days": Dimension(si="days", library="day", metric=Unit("days", pint="day")),
    "heat_capacity": Dimension(si="J/K", library="J/K", metric=Unit("J/K", pint="J/K")),
    "thermal_resistance": Dimension(si="K/W", library="K/W", metric=Unit("K/W", pint="K/W")),
    "irradiance": Dimension(
        si="W/m2",
        library="W/m**2",
        metric=Unit("W/m²", pint="W/m**2"),
        aliases={"w/m²": "W/m**2", "w/m2": "W/m**2"},
    ),
    "acceleration": Dimension(
        si="m/s2",
        library="m/s**2",
        metric=Unit("m/s²", pint="m/s**2"),
        aliases={"m/s²": "m/s**2", "m/s2": "m/s**2", "g": "standard_gravity"},
    ),
    "jerk": Dimension(si="m/s3", library="m/s**3", metric=Unit("m/s³", pint="m/s**3"), aliases={"m/s³": "m/s**3", "m/s3": "m/s**3"}),
    "angle": Dimension(
        si="rad",
        library="radian",
        metric=Unit("°", 57.29577951308232, pint="degree"),
        aliases={"°": "degree", "deg": "degree"},
    ),
    "grade": Dimension(si="rise per run", metric=Unit("%", 100.0, figures=3, pint="percent"), marks=_PERCENT),
    "share": Dimension(si="(share)", metric=Unit("%", 100.0, pint="percent"), marks=_PERCENT),
    "number": Dimension(si="", metric=Unit(""), marks=_PERCENT),
    "count": Dimension(si="", metric=Unit("")),
    "teeth": Dimension(si="", metric=Unit(""), marks={"t": 1.0, "teeth": 1.0}),
    "S": Dimension(si="", metric=Unit("S"), marks={"s": 1.0}),
    "P": Dimension(si="", metric=Unit("P"), marks={"p": 1.0}),
    "money": Dimension(si="", metric=Unit("EUR", figures=4), marks={"eur": 1.0, "€": 1.0}),
    "part": Dimension(si="", metric=Unit("")),
}
