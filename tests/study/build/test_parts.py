"""The parts list, its gate by every door, money and balance."""

import datetime
import unittest
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.design.malformed import DEMO
from tests.study.rule_case import BIKE, BOARD, KART, STOCK, case, changed
from wattagon.design import file
from wattagon.design.gate import measure_first, unreasoned
from wattagon.design.paths import Edit, apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Build, Design, OwnPart, PartMark, PartState, ShelfItem
from wattagon.errors import InputError
from wattagon.exchange.set_text import set_from_text
from wattagon.study.build.gathered import gather, gathered, unbuilt
from wattagon.study.build.mark import mark_part, note_part
from wattagon.study.build.mass import take_balance
from wattagon.study.build.rules import RULES, built
from wattagon.study.build.study import base_of, parts_of, study_build
from wattagon.study.findings.status import Status
from wattagon.study.resolve import resolve

TODAY = datetime.date(2026, 11, 29)
PUNT = file.read(DEMO / "garganey.json").design
DRIVEN = "driven-pulley-5m-72-wheel"
BASES = []


def bare(design: Design) -> Design:
    """Without what the demo has done so far."""
    return unbuilt(design)


def base(design: Design):
    """Of each design once."""
    plain = bare(design)
    for known, made in BASES:
        if known == plain:
            return made
    BASES.append((plain, base_of(gather(plain, STOCK))))
    return BASES[-1][1]


def study(design: Design):
    return study_build(base(design), design, TODAY, STOCK)


B = bare(BOARD)
# nobody measured the bolt circle of its wheels
LOOSE = changed(B, vehicle__hub_bolt_circle=Quantity(value=0.06, known=Known.ASSUMED))
FIRM = changed(B, vehicle__hub_bolt_circle=Quantity(value=0.06, known=Known.MEASURED, date="2026-05-01"))


def marked(design: Design, row: str, state: PartState, reason: str = "") -> Design:
    return apply(design, mark_part(design, study(design).part(row), state, TODAY, reason))


class RowsTest(unittest.TestCase):
    def test_every_part_that_the_benches_decided_is_in_it_with_its_count(self):
        rows = {part.row.id: part.row for part in study(B).parts}
        variant = B.variant()
        self.assertEqual(rows[f"motor-{variant.motor.part}"].count, variant.motor.count)
        self.assertEqual(rows[f"cell-{variant.pack.part}"].count, variant.pack.series * variant.pack.parallel)
        loops = [row for row in rows.values() if row.kind == "loop"]
        layout = gather(B, STOCK).layout
        self.assertEqual([STOCK.find(row.part).teeth for row in loops], [layout.stages[0].loop])
        for piece in variant.wiring.pieces:
            if piece.part and piece.kind in ("lead", "fuse", "joint"):
                self.assertTrue(any(row.part == piece.part for row in rows.values()), piece.part)
        self.assertTrue({"screw-m5-8-8", "plate-motor-plate", "consumable-thread-lock"} <= set(rows))

    def test_rows_of_every_demo_vehicle_have_ids_that_can_stand_in_a_path(self):
        for design in (B, bare(BIKE), bare(KART), bare(PUNT)):
            for variant in design.variants:
                shown = replace(design, active=variant.id)
                for part in study(shown).parts:
                    PartMark(id=part.row.id)
                    self.assertGreater(part.row.count, 0.0)
                    self.assertGreaterEqual(part.row.mass_kg, 0.0)

    def test_chain_comes_by_the_link_and_a_belt_whole(self):
        loops = [part.row for part in study(bare(BIKE)).parts if part.row.kind == "loop"]
        self.assertEqual(sorted(row.count > 20 for row in loops), [False, True])

    def test_what_is_on_the_shelf_costs_nothing_and_a_half_full_shelf_half(self):
        motor = f"motor-{B.variant().motor.part}"
        one = changed(B, brief__shelf=(ShelfItem(part=B.variant().motor.part, count=1),))
        none = changed(B, brief__shelf=())
        price = STOCK.find(B.variant().motor.part).price
        self.assertEqual(study(B).part(motor).state, PartState.SHELF)
        self.assertEqual([study(d).part(motor).to_spend for d in (B, one, none)], [0.0, price, 2 * price])

    def test_money_is_counted_by_state(self):
        row = f"controller-{B.variant().controller.part}"
        whole = study(B).to_spend
        ordered = marked(B, row, PartState.ORDERED)
        found = study(ordered)
        self.assertAlmostEqual(found.spent, 2 * STOCK.find(B.variant().controller.part).price)
        self.assertAlmostEqual(found.spent + found.to_spend, whole)
        cheaper = apply(ordered, note_part(ordered, found.part(row), price=100.0))
        self.assertAlmostEqual(study(cheaper).spent, 200.0)

    def test_a_row_of_ones_own_weighs_in_the_drive_and_moves_the_balance(self):
        own = OwnPart(id="basket", name="Basket", count=1, mass=4.0, price=30.0, ahead=Quantity(value=1.0), height=Quantity(value=0.6))
        with_it = changed(B, variant__own_parts=(own,))
        before, after = resolve(B, STOCK), resolve(with_it, STOCK)
        self.assertAlmostEqual(after.drive_mass_kg - before.drive_mass_kg, 4.0)
        self.assertAlmostEqual(after.cost - before.cost, 30.0)
        self.assertAlmostEqual(float(after.road.mass_kg) - float(before.road.mass_kg), 4.0)
        self.assertAlmostEqual(study(with_it).base.mass.added_kg - study(B).base.mass.added_kg, 4.0)
        self.assertGreater(study(with_it).base.mass.added.x, study(B).base.mass.added.x)

    def test_the_balance_is_that_of_two_bodies(self):
        mass = study(B).base.mass
        for k in range(3):
            bare_kg = mass.all_up_kg - mass.placed_kg
            self.assertAlmostEqual(mass.all_up_kg * mass.after[k], bare_kg * mass.before[k] + mass.placed_kg * mass.added[k], 6)
        self.assertAlmostEqual(mass.front_kg + mass.rear_kg, mass.all_up_kg)
        taken = apply(B, take_balance(B, mass, mass.before))
        self.assertAlmostEqual(taken.vehicle.cm_behind_front.value, B.vehicle.cm_behind_front.value, 3)
        self.assertIs(taken.vehicle.cm_behind_front.known, Known.COMPUTED)

    def test_a_pick_tells_what_else_it_asks_for(self):
        rows = {part.row.kind: part.row for part in study(bare(BIKE)).parts}
        self.assertIn("charger", " ".join(rows["cell"].drags))
        self.assertIn("boring out", " ".join(rows["motor"].drags))  # a shaft of 10 mm, a bore of 8
        self.assertFalse(any("charger" in words for words in {p.row.kind: p.row for p in study(B).parts}["cell"].drags))

    def test_what_was_bought_for_a_part_that_went_away_is_still_told(self):
        row = f"controller-{B.variant().controller.part}"
        design = marked(B, row, PartState.ARRIVED)
        other = changed(design, variant__controller__part="ctrl-60v-50")
        gone = [part for part in parts_of(base(other), other, STOCK) if part.gone]
        self.assertEqual([part.row.id for part in gone], [row])


class GateTest(unittest.TestCase):
    """Nothing is bought before what it must fit is measured: by no door, without a reason that stays."""

    def test_a_row_says_what_to_measure_and_opens_when_that_is_done(self):
        self.assertEqual(study(LOOSE).part(DRIVEN).missing, ("vehicle.hub_bolt_circle",))
        self.assertEqual(study(FIRM).part(DRIVEN).missing, ())
        marked(FIRM, DRIVEN, PartState.ORDERED)
        stated = changed(LOOSE, vehicle__hub_bolt_circle=Quantity(value=0.06, known=Known.STATED))
        self.assertEqual(study(stated).part(DRIVEN).missing, ("vehicle.hub_bolt_circle",))

    def test_marking_it_is_refused_by_name(self):
        with self.assertRaisesRegex(InputError, "hub_bolt_circle"):
            marked(LOOSE, DRIVEN, PartState.ORDERED)
        with self.assertRaisesRegex(InputError, "hub_bolt_circle"):
            marked(LOOSE, DRIVEN, PartState.ARRIVED)
        with self.assertRaisesRegex(InputError, "hub_bolt_circle"):
            marked(LOOSE, DRIVEN, PartState.FITTED)

    def test_by_every_path_that_leads_there(self):
        mark = PartMark(id=DRIVEN, state=PartState.ORDERED)
        there = put(LOOSE, "variant.build", Build(parts=(PartMark(id=DRIVEN),)))
        reasoned = put(LOOSE, "variant.build", Build(parts=(replace(mark, reason="by the drawing"),)))
        doors = [
            lambda: put(LOOSE, "variant.build", Build(parts=(mark,))),
            lambda: put(LOOSE, "variants.B.build", Build(parts=(mark,))),
            lambda: put(there, "variant.build.parts", (mark,)),
            lambda: put(there, f"variant.build.parts.{DRIVEN}.state", PartState.ORDERED),
            lambda: put(there, "variant.build.parts.0.state", PartState.ORDERED),
            lambda: set_from_text(there, f"variant.build.parts.{DRIVEN}.state=ordered"),
            lambda: put(LOOSE, "variants", tuple(replace(v, build=Build(parts=(mark,))) for v in LOOSE.variants)),
            lambda: put(LOOSE, "variants", (*LOOSE.variants, replace(LOOSE.variant(), id="new", build=Build(parts=(mark,))))),
            lambda: apply(LOOSE, Edit(label="x", changes=(("variant.build", Build(parts=(mark,))), ("note", "hidden")))),
            lambda: put(reasoned, f"variant.build.parts.{DRIVEN}.reason", ""),
            lambda: put(reasoned, f"variant.build.parts.{DRIVEN}.reason", "  "),
            lambda: set_from_text(reasoned, f"variant.build.parts.{DRIVEN}.reason="),
        ]
        for k, door in enumerate(doors):
            with self.subTest(k), self.assertRaises(InputError):
                door()

    def test_a_reason_lets_it_through_and_stays_visible(self):
        design = marked(LOOSE, DRIVEN, PartState.ORDERED, "the seller's drawing has it")
        self.assertEqual(study(design).part(DRIVEN).mark.reason, "the seller's drawing has it")
        later = marked(design, DRIVEN, PartState.ARRIVED)
        self.assertEqual(study(later).part(DRIVEN).mark.reason, "the seller's drawing has it")
        self.assertIn("seller's drawing", later.history[0].text)
        self.assertEqual(list(unreasoned(later)), [])

    def test_what_was_bought_with_its_measure_stays_bought_whatever_becomes_of_the_measure(self):
        design = marked(FIRM, DRIVEN, PartState.ORDERED)
        unsure = changed(design, vehicle__hub_bolt_circle=Quantity(value=0.062, known=Known.ASSUMED))
        arrived = marked(unsure, DRIVEN, PartState.ARRIVED)
        self.assertIs(study(arrived).part(DRIVEN).state, PartState.ARRIVED)
        with self.assertRaises(InputError):  # but another row that needs it is not
            marked(arrived, "plate-hub-adapter", PartState.ORDERED)

    def test_measuring_and_ordering_in_one_edit_is_fine_and_the_reverse_is_not(self):
        mark = Build(parts=(PartMark(id=DRIVEN, state=PartState.ORDERED),))
        measured = ("vehicle.hub_bolt_circle", Quantity(value=0.06, known=Known.MEASURED))
        apply(LOOSE, Edit(label="both", changes=(("variant.build", mark), measured)))
        unmeasured = ("vehicle.hub_bolt_circle", Quantity(value=0.06, known=Known.ASSUMED))
        with self.assertRaises(InputError):
            apply(FIRM, Edit(label="both", changes=(unmeasured, ("variant.build", mark))))

    def test_what_lies_on_the_shelf_may_be_fitted(self):
        owned = changed(LOOSE, brief__shelf=(*LOOSE.brief.shelf, ShelfItem(part="pulley-5m-72-wheel", count=2)))
        self.assertIs(study(marked(owned, DRIVEN, PartState.FITTED)).part(DRIVEN).state, PartState.FITTED)
        with self.assertRaises(InputError):
            marked(marked(owned, DRIVEN, PartState.FITTED), DRIVEN, PartState.ORDERED)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.sampled_from(list(PartState)), min_size=1, max_size=6), st.booleans())
    def test_no_walk_through_states_ends_bought_without_a_measure_or_a_reason(self, states, reasoned):
        design = LOOSE
        for state in states:
            mark = PartMark(id=DRIVEN, state=state, reason="because" if reasoned and state is not PartState.SHELF else "")
            try:
                design = put(design, "variant.build", Build(parts=(mark,)))
            except InputError:
                continue
        for _, mark, _ in unreasoned(design):
            self.assertIs(mark.state, PartState.FITTED)  # from the shelf alone
            self.assertIn(PartState.SHELF, states)

    def test_a_file_that_tells_it_all_the_same_is_opened_and_found_over(self):
        forged = replace(
            LOOSE, variants=tuple(replace(v, build=Build(parts=(PartMark(id=DRIVEN, state=PartState.ORDERED),))) for v in LOOSE.variants)
        )
        read = file.from_json(file.to_json(forged))
        self.assertEqual(self.statuses(read, "build.early"), [Status.OVER])
        with_reason = marked(LOOSE, DRIVEN, PartState.ORDERED, "because")
        self.assertEqual(self.statuses(with_reason, "build.early"), [Status.TIGHT])
        self.assertEqual(self.statuses(marked(FIRM, DRIVEN, PartState.ORDERED), "build.early"), [])

    def statuses(self, design, code):
        rule = next(rule for rule in RULES if rule.code == code)
        return [finding.status for finding in rule.findings(case(design))]

    def test_a_boat_asks_for_measures_of_its_hull(self):
        variant = PUNT.variant()
        loose = changed(PUNT, vehicle__hull__tip_gap=Quantity(value=0.02, known=Known.ASSUMED))
        self.assertEqual(measure_first(loose, loose.variant(), f"propeller-{variant.propeller.part}"), ("vehicle.hull.tip_gap",))
        self.assertEqual(measure_first(PUNT, variant, f"controller-{variant.controller.part}"), ())


class FindingsTest(unittest.TestCase):
    def status(self, design, code):
        rule = next(rule for rule in RULES if rule.code == code)
        return [finding.status for finding in rule.findings(case(design))]

    def with_budget(self, amount):
        goals = tuple(replace(goal, amount=amount) if goal.kind.value == "budget" else goal for goal in B.brief.goals)
        return changed(B, brief__goals=goals)

    def test_money_on_both_sides_of_the_budget(self):
        whole = built(case(B)).to_spend
        self.assertEqual(self.status(self.with_budget(whole + 0.1), "build.money"), [Status.TIGHT])
        self.assertEqual(self.status(self.with_budget(whole - 0.1), "build.money"), [Status.OVER])
        self.assertEqual(self.status(self.with_budget(1.06 * whole), "build.money"), [Status.CLEAR])

    def test_a_late_order_is_told_from_the_fourth_day_on(self):
        row = f"controller-{B.variant().controller.part}"
        for days, status in ((3, Status.CLEAR), (4, Status.TIGHT)):
            day = datetime.date.today() - datetime.timedelta(days=9 + days)
            design = put(B, "variant.build", Build(parts=(PartMark(id=row, state=PartState.ORDERED, date=day.isoformat(), lead_days=9),)))
            self.assertEqual(self.status(design, "build.late"), [status])

    def test_a_workshop_that_nobody_told_of_is_not_checked_and_one_without_a_welder_is_tight(self):
        self.assertEqual(self.status(B, "build.workshop"), [Status.NOT_CHECKED])
        self.assertEqual(self.status(B, "build.tool"), [])
        told = put(B, "brief.workshop.stated", True)
        self.assertIn(Status.TIGHT, self.status(told, "build.tool"))
        self.assertEqual(self.status(told, "build.workshop"), [])

    def test_gathered_studies_note_what_they_rest_on(self):
        asked = case(B)
        gathered(asked)
        self.assertTrue(any(path.startswith("variant.layout") or "layout" in path for path in asked.inputs) or asked.inputs)


if __name__ == "__main__":
    unittest.main()
