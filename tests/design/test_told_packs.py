"""What is told of packs and wiring, in the file: it comes back as it went, unknown fields too, and nonsense is refused by name."""

import json
import random
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from wattagon.design import file
from wattagon.design.paths import Edit, apply, get, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import (
    Bank,
    Battery,
    BoxChoice,
    BrickChoice,
    CellCheck,
    Charging,
    Links,
    LoadRow,
    Piece,
    Wire,
    Wiring,
)
from wattagon.design.tree.battery import METALS, MOST_CELLS, SCHOOLS
from wattagon.design.tree.wiring import BRANCHES, COIL, EDGES, HALVES, KINDS, LAID, SPARKS, YES_NO
from wattagon.errors import InputError, WattagonError

BOARD = file.read(DEMO / "dunlin.json").design


def quantity(chance, low, high):
    if chance.random() < 0.4:
        return None
    known = chance.choice(list(Known))
    return Quantity(value=chance.uniform(low, high), known=known, date="2026-05-01" if known is Known.MEASURED else None)


def random_battery(chance):
    bricks = tuple(
        BrickChoice(
            name=f"brick {k}",
            place=chance.randint(1, 4),
            series=chance.randint(1, 20),
            parallel=chance.randint(1, 9),
            capacity=quantity(chance, 0.1, 90.0),
            resistance=quantity(chance, 1e-4, 2.0),
            rest=quantity(chance, 3.0, 80.0),
            lead=quantity(chance, 0.0, 0.1),
        )
        for k in range(chance.randint(0, 5))
    )
    return Battery(
        joined=chance.choice(("strings", "groups")),
        bricks=bricks,
        school=chance.choice(SCHOOLS),
        board="board-10-60" if chance.random() < 0.5 else "",
        board_overrides={"lasting_a": Quantity(value=44.0)} if chance.random() < 0.5 else {},
        window_top=chance.uniform(0.75, 1.0),
        window_bottom=chance.uniform(0.0, 0.4),
        charging=Charging(amps=quantity(chance, 0.1, 40.0), together=chance.random() < 0.5) if chance.random() < 0.7 else None,
        links=Links(metal=chance.choice(METALS), layers=chance.randint(1, 4)) if chance.random() < 0.5 else None,
        loads=tuple(LoadRow(amps=chance.uniform(0, 90), volts=chance.uniform(10, 60)) for _ in range(chance.randint(0, 3))),
        checks=tuple(
            CellCheck(date=f"2026-0{chance.randint(1, 9)}-11", volts=tuple(round(chance.uniform(2.5, 4.2), 3) for _ in range(12)))
            for _ in range(chance.randint(0, 3))
        ),
    )


def random_wiring(chance):
    pieces = tuple(
        Piece(
            id=f"p{k}",
            kind=chance.choice(KINDS),
            branch=chance.choice(BRANCHES),
            laid=chance.choice(LAID),
            edge=chance.choice(EDGES),
            pack_side=chance.choice(HALVES),
            spark=chance.choice(SPARKS),
            coil=chance.choice(COIL),
            held=chance.choice(YES_NO),
            reach=chance.choice(YES_NO),
            length=quantity(chance, 0.01, 4.0),
            beside=chance.randint(1, 3),
            rating=quantity(chance, 1.0, 300.0),
        )
        for k in range(chance.randint(0, 12))
    )
    wires = tuple(Wire(signal=f"s{k}", start="a", end="b", found=chance.choice(("", "red"))) for k in range(chance.randint(0, 6)))
    size = lambda: Quantity(value=chance.uniform(0.05, 0.5))
    return Wiring(
        pieces=pieces,
        wires=wires,
        bank=Bank(farad=quantity(chance, 1e-5, 0.01)) if chance.random() < 0.5 else None,
        box=BoxChoice(length=size(), width=size(), height=size()) if chance.random() < 0.5 else None,
        precharge_by=chance.choice(("", "hand", "timer")),
    )


class ToldPacksTest(unittest.TestCase):
    def test_random_ones_come_back_as_they_went(self):
        chance = random.Random(23)
        for _ in range(60):
            design = put(put(BOARD, "variant.battery", random_battery(chance)), "variant.wiring", random_wiring(chance))
            again = file.from_json(file.to_json(design))
            self.assertEqual(again, design)

    def test_fields_of_a_newer_program_survive(self):
        data = json.loads(file.to_json(BOARD))
        variant = next(v for v in data["variants"] if v["id"] == "B")
        variant["battery"]["colour_of_wrap"] = "green"
        variant["wiring"]["pieces"][0]["crimped_by"] = {"tool": 3}
        again = json.loads(file.to_json(file.from_json(json.dumps(data))))
        variant = next(v for v in again["variants"] if v["id"] == "B")
        self.assertEqual(variant["battery"]["colour_of_wrap"], "green")
        self.assertEqual(variant["wiring"]["pieces"][0]["crimped_by"], {"tool": 3})

    def test_one_value_is_set_by_its_path(self):
        after = put(BOARD, "variant.wiring.pieces.0.length", Quantity(value=0.2, known=Known.MEASURED))
        self.assertEqual(get(after, "variant.wiring.pieces.0.length").value, 0.2)
        self.assertEqual(get(BOARD, "variant.wiring.pieces.0.length").value, 0.08)
        edit = Edit(label="window", changes=(("variant.battery.window_top", 0.9), ("variant.battery.window_bottom", 0.2)))
        self.assertEqual(apply(BOARD, edit).variant().battery.window, (0.9, 0.2))

    def test_nonsense_is_refused_by_name_and_leaves_all_as_it_was(self):
        battery, wiring = BOARD.variant().battery, BOARD.variant().wiring
        for build, name in (
            (lambda: replace(battery, joined="knots"), "joined"),
            (lambda: replace(battery, window_top=0.2, window_bottom=0.19), "window_top"),
            (lambda: Links(metal="tin"), "metal"),
            (lambda: CellCheck(date="yesterday", volts=(3.8,)), "date"),
            (lambda: CellCheck(date="2026-05-01", volts=(38.0,)), "volts of group 1"),
            (lambda: CellCheck(date="2026-05-01", volts=(3.8,) * (MOST_CELLS + 1)), "cell volts"),
            (lambda: Piece(id="1", kind="lead"), "id"),
            (lambda: Piece(id="a", kind="lead", laid="buried"), "laid"),
            (lambda: Piece(id="a", kind="key", reach="maybe"), "reach"),
            (lambda: Piece(id="a", kind="contactor", coil="varistor"), "coil"),
            (lambda: replace(wiring, precharge_by="magic"), "precharge_by"),
            (lambda: put(BOARD, "variant.wiring.pieces.0.length", Quantity(value=900.0)), "length"),
            (lambda: put(BOARD, "variant.battery.checks.0.date", "2026-13-01"), "date"),
        ):
            with self.assertRaises(InputError) as refusal:
                build()
            self.assertIn(name, str(refusal.exception))

    def test_malformed_files_are_refused_or_set_aside_never_a_crash(self):
        data = json.loads(file.to_json(BOARD))
        variant = next(v for v in data["variants"] if v["id"] == "B")
        chance = random.Random(5)
        junk = (None, -1, "x", [], {}, True, 1e300, [[1]], {"value": "many"})
        for section in ("battery", "wiring"):
            for key in list(variant[section]):
                kept = variant[section][key]
                variant[section][key] = chance.choice(junk)
                try:
                    read = file.from_json(json.dumps(data))
                    self.assertEqual(read.vehicle.name, "Dunlin")
                except WattagonError as refusal:
                    self.assertTrue(str(refusal))
                variant[section][key] = kept


if __name__ == "__main__":
    unittest.main()
