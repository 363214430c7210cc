"""How each quantity is taken: its name, how, minutes of a maker who has done it once, and the tool.  By the end of an input's path.

What is not here nobody measures by hand: limits, ratings, what a material is.
"""

from __future__ import annotations

from typing import NamedTuple


class Taking(NamedTuple):
    """One line."""

    name: str
    how: str
    minutes: int
    tool: str


_LEARN = "Ride a climb with amps, speed and temperature logged; the log teaches it."
_COAST = "Coast down from a steady speed, both ways, no wind, motors off their reduction; the log or the stopwatch teaches it."
_ROLL = "Roll ten turns with the rider on and ten without; the ratio of both distances."
_TOW = "Tow at three speeds by a long line, pull read in the middle of each run, both ways."
_DOCK = "Pull at a dock, held by a level rope: pull, volts, amps and turns at three throttles."

TAKING: dict[str, Taking] = {
    "tyre_diameter": Taking("tyre's diameter", "Roll ten turns with the rider on, distance over ten turns and pi.", 8, "tape"),
    "diameter_m": Taking("wheel's diameter", "Across the tread, at three places.", 4, "caliper"),
    "tyre_rolling_share": Taking("tyre under load", _ROLL, 12, "tape"),
    "rolling_share": Taking("wheel under load", _ROLL, 12, "tape"),
    "wheelbase": Taking("wheelbase", "Axle to axle, both sides.", 3, "tape"),
    "empty_mass": Taking("empty mass", "Hang it, or stand on a scale with and without it.", 5, "scale"),
    "rider_mass": Taking("rider's mass", "Dressed as for the ride.", 2, "scale"),
    "load_mass": Taking("load", "All that is usually carried.", 3, "scale"),
    "pack.mass": Taking("pack's mass", "On a scale, plugs and case with it.", 3, "scale"),
    "mass": Taking("mass", "On a scale, plugs and case with it.", 3, "scale"),
    "cm_behind_front": Taking(
        "weight behind the front axle", "Scale under the rear axle, rider on: wheelbase times its share.", 10, "scale"
    ),
    "cm_height": Taking("height of the weight", "Scale under the rear axle, level and with the front on a step.", 25, "scale"),
    "behind_front": Taking("place of the load", "From the front axle to its middle.", 3, "tape"),
    "height": Taking("height of the load", "From the ground to its middle.", 3, "tape"),
    "rolling": Taking("rolling resistance", _COAST, 30, "stopwatch"),
    "drag_area": Taking("drag area", f"{_COAST} From a high and from a low speed.", 40, "stopwatch"),
    "grip": Taking("grip", "Brakes held, pull by a luggage scale until it slips: pull over weight.", 12, "luggage scale"),
    "wheel_inertia": Taking("wheel's inertia", "Hang the wheel on two strings and time its twist.", 25, "stopwatch"),
    "inertia_kg_m2": Taking("wheel's inertia", "Hang the wheel on two strings and time its twist.", 25, "stopwatch"),
    "air_temperature": Taking("air's temperature", "In the shade.", 2, "thermometer"),
    "pack_temperature": Taking("pack's temperature", "On a cell in the middle, before riding.", 3, "thermometer"),
    "headwind": Taking("headwind", "At the rider's height, mean of two minutes.", 4, "wind meter"),
    "altitude": Taking("altitude", "From a map.", 1, "map"),
    "pedal_power": Taking("pedal power", "Hold a known hill at a known speed without the motor.", 20, "stopwatch"),
    "kv_rpm_per_v": Taking("kv", "Spin by a drill at a steady speed, AC volts of all three pairs.", 12, "drill and meter"),
    "resistance_ohm": Taking("motor's resistance", "1 to 5 A through each pair, volts at the leads.", 12, "supply and meter"),
    "inductance_h": Taking("motor's inductance", "Between two leads, the rotor held at three places.", 6, "inductance meter"),
    "no_load_a": Taking("no-load current", "Running free at full duty, after a minute.", 8, "clamp meter"),
    "no_load_slope_a_s": Taking("no-load current over speed", "Running free at half and at full duty.", 12, "clamp meter"),
    "winding_to_case_k_per_w": Taking("winding to case", _LEARN, 45, "log with a sensor in the motor"),
    "winding_j_per_k": Taking("heat capacity of the winding", _LEARN, 45, "log with a sensor in the motor"),
    "case_j_per_k": Taking("heat capacity of the case", _LEARN, 45, "log with a sensor in the motor"),
    "air_share": Taking("share of the air on the motor", _LEARN, 45, "log with a sensor in the motor"),
    "mount_w_per_k": Taking("heat into the mount", _LEARN, 45, "log with a sensor in the motor"),
    "film_still": Taking("cooling in still air", _LEARN, 45, "log with a sensor in the motor"),
    "rotor_inertia_kg_m2": Taking("rotor's inertia", "Spin up free at a known current, time to a known speed.", 15, "log"),
    "bridge_ohm": Taking("controller's resistance", "Locked rotor at low duty: volts across a phase against its amps.", 20, "meter"),
    "switching_v_per_v": Taking("controller's switching loss", "Power in and out at half duty.", 30, "two meters"),
    "idle_w": Taking("controller's idle power", "Amps at rest times volts.", 5, "meter"),
    "capacity_ah": Taking("capacity", "Discharge at a fifth of its capacity from full to the cut-off.", 300, "charger that discharges"),
    "capacity": Taking("capacity", "Discharge at a fifth of its capacity from full to the cut-off.", 300, "charger that discharges"),
    "cell_r0_ohm": Taking("cell's resistance", "Volts at two currents, read within a second.", 10, "meter and load"),
    "cell_r1_ohm": Taking("cell's slow resistance", "Volts at a steady current after one and after thirty seconds.", 12, "meter and load"),
    "resistance": Taking("brick's resistance", "Volts at two currents.", 8, "meter and load"),
    "wiring_ohm": Taking("wiring from pack to controllers", "Drop from end to end at a known current.", 12, "meter"),
    "phase_ohm": Taking("phase leads", "Drop from end to end at a known current.", 10, "meter"),
    "efficiency": Taking("efficiency of the stage", "A log of a steady climb with amps: work in against weight lifted.", 40, "log"),
    "drag": Taking(
        "drag of the stage", "A string round the driver, belt on, pulled slowly by a scale: force times radius.", 12, "luggage scale"
    ),
    "hitch_share": Taking("weight on the hitch", "A scale under the hitch, trailer level.", 5, "scale"),
    "waterline_length": Taking("waterline length", "Afloat and laden, plumb lines at both ends.", 15, "tape"),
    "waterline_beam": Taking("waterline beam", "Afloat and laden, at its widest.", 10, "tape"),
    "transom_width": Taking("transom's width", "At the waterline.", 4, "tape"),
    "transom_area": Taking("transom under water", "Width times depth, laden and at rest.", 10, "tape"),
    "surface_factor": Taking("wetted surface", "Girth at five places along the waterline.", 25, "tape"),
    "form": Taking("form factor", _TOW, 60, "luggage scale"),
    "hull_factor": Taking("wave resistance", _TOW, 60, "luggage scale"),
    "resistance_model": Taking("hull's resistance over its forecast", _TOW, 60, "luggage scale"),
    "interference": Taking("resistance between the hulls", _TOW, 60, "luggage scale"),
    "appendage_area": Taking("area of what hangs under it", "Length times chord of skeg, rudder and leg.", 8, "tape"),
    "weight_forward": Taking("weight ahead of the transom", "Draught marks at both ends, laden.", 15, "tape"),
    "weight_height": Taking("height of the weight", "Heel by a known weight moved across, angle by a plumb line.", 30, "plumb line"),
    "deadrise": Taking("deadrise", "At the transom.", 5, "angle gauge"),
    "water_temperature": Taking("water's temperature", "At half a metre.", 2, "thermometer"),
    "current": Taking("current", "Time a float over twenty metres.", 6, "stopwatch"),
    "tow_mass": Taking("mass under tow", "All that was aboard for the tow.", 4, "scale"),
    "wake": Taking("wake", _DOCK, 35, "luggage scale"),
    "deduction": Taking("thrust lost on the hull", _DOCK, 35, "luggage scale"),
    "thrust_model": Taking("propeller's thrust over its forecast", _DOCK, 35, "luggage scale"),
    "torque_model": Taking("propeller's torque over its forecast", _DOCK, 35, "luggage scale"),
    "seal": Taking("drag of the seals", "A string round the shaft pulled slowly by a scale: force times radius.", 10, "luggage scale"),
    "can_friction": Taking("drag of the can in water", "No-load current in the air and in the water.", 15, "clamp meter"),
    "tilt": Taking("tilt of the shaft", "Against the waterline.", 5, "angle gauge"),
    "transom_angle": Taking("transom's angle", "Against the waterline.", 4, "angle gauge"),
    "made_for": Taking("angle that the clamp is made for", "Its plate against its shaft.", 4, "angle gauge"),
    "wedge": Taking("wedge", "Its angle.", 3, "angle gauge"),
    "cooling_w_per_k": Taking("cooling by water", _LEARN, 45, "log with a sensor in the motor"),
}


LINKS = (("propeller", "reduction"), ("stages", "reduction"), ("gears", "reduction"), ("controller", "controller"), ("pack", "pack"))


def taking(path: str) -> Taking | None:
    """How an input is taken; None where nobody takes it by hand."""
    parts = path.split(".")
    return TAKING.get(".".join(parts[-2:])) or TAKING.get(parts[-1])


def name_of(path: str) -> str:
    """What an input is called; of a stage with its number, since there may be several."""
    how, parts = taking(path), path.split(".")
    name = how.name if how is not None else parts[-1].replace("_", " ")
    stage = parts[parts.index("stages") + 1] if "stages" in parts[:-1] else ""
    return f"{name} {int(stage) + 1}" if stage.isdigit() and how is not None else name


def target(path: str, variant: str) -> tuple[str, str]:
    """(bench, what of it) where an input is entered."""
    end = path.rsplit(".", 1)[-1]
    if path.startswith("vehicle."):
        return "brief", path
    if path.startswith("brief."):
        return "brief", ""
    if end in ("kv_rpm_per_v", "resistance_ohm"):
        return "winding", "what"
    if end in ("cell_r0_ohm", "cell_r1_ohm", "capacity_ah", "capacity", "resistance", "wiring_ohm", "mass"):
        return "drive", "pack"
    for word, link in LINKS:
        if f".{word}" in path:
            return "drive", link
    if end in ("bridge_ohm", "switching_v_per_v", "idle_w"):
        return "drive", "controller"
    if end in ("diameter_m", "rolling_share", "inertia_kg_m2"):
        return "drive", "wheel"
    return "drive", "motor"
