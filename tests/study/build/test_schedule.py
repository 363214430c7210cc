"""The longest chain against brute force, the calendar against closed forms, what shortens it."""

import itertools
import math
import random
import unittest

import numpy as np

from wattagon.errors import InputError
from wattagon.study.build.schedule import Job, Means, along, calendar, drawn, in_order, mean_of, shortens, variance_of
from wattagon.study.build.step import Does

ALONE = Means(hours_a_week=168.0)  # an hour of work is an hour of the calendar


def graph(dice: random.Random, steps: int) -> tuple[dict[str, tuple[str, ...]], dict[str, float]]:
    """A random one; names are shuffled, so that no order can be read off them."""
    names = [f"s{k}" for k in range(steps)]
    dice.shuffle(names)
    after = {name: tuple(dice.sample(names[:k], dice.randint(0, min(k, 3)))) for k, name in enumerate(names)}
    shown = list(after)
    dice.shuffle(shown)
    return {name: after[name] for name in shown}, {name: dice.choice([0.0, dice.uniform(0.1, 9.0)]) for name in names}


def longest_to(name, after, hours):
    """By walking every chain that leads to a step."""
    return max((longest_to(one, after, hours) + hours[one] for one in after[name]), default=0.0)


def longest_from(name, after, hours):
    """By walking every chain that begins with a step, its own hours in it."""
    followers = [other for other in after if name in after[other]]
    return hours[name] + max((longest_from(one, after, hours) for one in followers), default=0.0)


class CriticalPathTest(unittest.TestCase):
    def test_500_random_graphs_against_every_chain_walked(self):
        dice = random.Random(17)
        for _ in range(500):
            after, hours = graph(dice, dice.randint(1, 11))
            spans = along(after, hours)
            end = max(longest_to(name, after, hours) + hours[name] for name in after)
            for name in after:
                earliest = longest_to(name, after, hours)
                latest = end - longest_from(name, after, hours)
                self.assertAlmostEqual(spans[name].earliest, earliest, 9)
                self.assertAlmostEqual(spans[name].latest, latest, 9)
                self.assertAlmostEqual(spans[name].slack, max(latest - earliest, 0.0), 9)
            self.assertTrue(any(span.slack < 1e-9 for span in spans.values()))

    def test_the_order_has_every_step_once_and_after_those_that_it_waits_for(self):
        dice = random.Random(3)
        for _ in range(200):
            after, _ = graph(dice, 30)
            order = in_order(after)
            self.assertEqual(sorted(order), sorted(after))
            place = {name: k for k, name in enumerate(order)}
            self.assertTrue(all(place[one] < place[name] for name in after for one in after[name]))

    def test_a_ring_is_told_by_its_steps(self):
        with self.assertRaisesRegex(InputError, "ring") as told:
            along({"a": ("c",), "b": ("a",), "c": ("b",), "d": ()}, dict.fromkeys("abcd", 1.0))
        self.assertEqual(set(str(told.exception.value)) & set("abcd"), set("abc"))

    def test_what_is_not_there_holds_nothing_up(self):
        self.assertEqual(along({"a": ("gone",)}, {"a": 2.0})["a"].earliest, 0.0)

    def test_no_steps_take_no_time(self):
        self.assertEqual(along({}, {}), {})
        self.assertEqual(calendar((), ALONE).finish, 0.0)


class CalendarTest(unittest.TestCase):
    def test_whoever_builds_does_one_thing_at_a_time(self):
        jobs = [Job(f"s{k}", (1.0, 2.0, 3.0)) for k in range(5)]
        self.assertAlmostEqual(calendar(jobs, Means(hours_a_week=10.0), 0).finish, 10.0 * 7.0 / 10.0)

    def test_printers_run_beside_one_another_and_at_night(self):
        jobs = [Job(f"p{k}", (5.0, 5.0, 5.0), does=Does.PRINTER) for k in range(4)]
        self.assertAlmostEqual(calendar(jobs, Means(8.0, printers=1), 0).finish, 20.0 / 24.0)
        self.assertAlmostEqual(calendar(jobs, Means(8.0, printers=2), 0).finish, 10.0 / 24.0)
        self.assertAlmostEqual(calendar(jobs, Means(8.0, printers=1, nights=False), 0).finish, 20.0 / 10.0)

    def test_glue_waits_for_nobody_and_a_place_counts_days(self):
        jobs = [
            Job("glue", (24.0, 24.0, 24.0), does=Does.WAIT),
            Job("lasered", (9.0, 9.0, 9.0), does=Does.PLACE),
            Job("saw", (8.0, 8.0, 8.0)),
        ]
        found = calendar(jobs, Means(8.0), 0)
        self.assertAlmostEqual(found.dated["glue"].end, 1.0)
        self.assertAlmostEqual(found.dated["lasered"].end, 9.0)
        self.assertAlmostEqual(found.dated["saw"].end, 7.0)

    def test_a_step_waits_for_its_delivery_and_its_day_and_others_go_first(self):
        late = Job("late", (1.0, 1.0, 1.0), ready_days=((5.0, 5.0, 5.0),))
        day = Job("day", (1.0, 1.0, 1.0), not_before=3.0)
        now = Job("now", (1.0, 1.0, 1.0))
        found = calendar([late, day, now], ALONE, 0).dated
        self.assertEqual([round(found[name].begin, 6) for name in ("now", "day", "late")], [0.0, 3.0, 5.0])

    def test_of_two_that_can_be_begun_the_one_on_the_longer_chain_is(self):
        jobs = [Job("short", (1.0, 1.0, 1.0)), Job("long", (1.0, 1.0, 1.0)), Job("more", (9.0, 9.0, 9.0), ("long",), Does.WAIT)]
        self.assertEqual(calendar(jobs, ALONE, 0).dated["long"].begin, 0.0)

    def test_nothing_overlaps_over_random_graphs(self):
        dice = random.Random(8)
        for _ in range(60):
            after, _ = graph(dice, 20)
            jobs = [
                Job(
                    name,
                    (1.0, 2.0, 4.0),
                    before,
                    dice.choice([Does.HAND, Does.HAND, Does.PRINTER, Does.WAIT]),
                    not_before=dice.choice([0.0, 2.0]),
                )
                for name, before in after.items()
            ]
            found = calendar(jobs, Means(20.0, printers=2), 0).dated
            for job in jobs:
                self.assertTrue(all(found[job.id].begin >= found[one].end - 1e-9 for one in job.after))
                self.assertGreaterEqual(found[job.id].begin, job.not_before)
            by_hand = sorted((found[job.id] for job in jobs if job.does is Does.HAND), key=lambda one: one.begin)
            self.assertTrue(all(b.begin >= a.end - 1e-9 for a, b in itertools.pairwise(by_hand)))
            prints = [found[job.id] for job in jobs if job.does is Does.PRINTER]
            for one in prints:
                running = sum(other.begin <= one.begin + 1e-9 < other.end - 1e-9 for other in prints)
                self.assertLessEqual(running, 2)


class SpreadTest(unittest.TestCase):
    def test_draws_have_the_mean_and_the_variance_of_their_three_points(self):
        dice = np.random.default_rng(1)
        for three in ((1.0, 2.0, 5.0), (0.5, 3.0, 3.5), (2.0, 2.0, 9.0)):
            found = drawn(three, 200_000, dice)
            self.assertAlmostEqual(float(found.mean()), mean_of(three), delta=0.01)
            self.assertAlmostEqual(float(found.var()), variance_of(three), delta=0.02 * variance_of(three) + 1e-3)
            self.assertTrue(three[0] <= found.min() and found.max() <= three[2])

    def test_a_chain_adds_means_and_variances(self):
        times = [(1.0, 2.0, 6.0), (2.0, 3.0, 4.0), (0.5, 1.0, 5.0), (4.0, 4.5, 9.0)]
        jobs = [Job(f"s{k}", three, (f"s{k - 1}",) if k else ()) for k, three in enumerate(times)]
        days = 24.0 * calendar(jobs, ALONE, 100_000).draws
        self.assertAlmostEqual(float(days.mean()), sum(map(mean_of, times)), delta=0.02)
        self.assertAlmostEqual(float(days.var()), sum(map(variance_of, times)), delta=0.03 * sum(map(variance_of, times)))

    def test_of_two_beside_one_another_the_end_is_the_later(self):
        """Two even spreads from 0 to 1 would end at 2/3 on average; of shape 4 it is by their own distribution, integrated."""
        three = (0.0, 12.0, 24.0)  # beta(3, 3) of a day
        jobs = [Job("a", three, does=Does.WAIT), Job("b", three, does=Does.WAIT)]
        found = calendar(jobs, ALONE, 200_000).draws
        x = np.linspace(0.0, 1.0, 20_001)
        below = 10 * x**3 - 15 * x**4 + 6 * x**5  # distribution of beta(3, 3)
        mean = float(np.trapezoid(1.0 - below**2, x))
        self.assertAlmostEqual(float(found.mean()), mean, delta=0.002)
        for share in (0.1, 0.5, 0.9):
            closed = float(np.interp(math.sqrt(share), below, x))
            self.assertAlmostEqual(float(np.quantile(found, share)), closed, delta=0.004)

    def test_one_delivery_that_two_wait_for_comes_once(self):
        three = (2.0, 4.0, 12.0)
        jobs = [
            Job("a", (0.0, 0.0, 0.0), does=Does.WAIT, ready_days=(three,)),
            Job("b", (0.0, 0.0, 0.0), does=Does.WAIT, ready_days=(three,)),
        ]
        self.assertAlmostEqual(float(calendar(jobs, ALONE, 100_000).draws.mean()), mean_of(three), delta=0.02)

    def test_days_in_a_share_of_draws_rise_with_the_share_and_repeat(self):
        jobs = [Job(f"s{k}", (1.0, 2.0, 6.0)) for k in range(12)]
        one, two = (calendar(jobs, Means(8.0)) for _ in range(2))
        self.assertLess(one.day(0.1), one.day(0.5))
        self.assertLess(one.day(0.5), one.day(0.9))
        self.assertEqual(one.day(0.5), two.day(0.5))
        self.assertAlmostEqual(one.day(0.5), one.finish, delta=0.12 * one.finish)

    def test_what_shortens_it_is_what_holds_it_up(self):
        late = [Job("wait", (1.0, 1.0, 1.0), ready_days=((30.0, 30.0, 30.0),)), Job("saw", (2.0, 2.0, 2.0))]
        self.assertIn("delivery of 30 days", shortens(late, Means(8.0), {})[0].words)
        busy = [Job(f"s{k}", (5.0, 5.0, 5.0)) for k in range(8)]
        self.assertIn("two hours a week", shortens(busy, Means(4.0), {})[0].words)
        prints = [Job(f"p{k}", (30.0, 30.0, 30.0), does=Does.PRINTER) for k in range(6)]
        self.assertIn("second printer", shortens(prints, Means(8.0), {})[0].words)
        self.assertEqual(shortens([], Means(8.0), {}), [])


if __name__ == "__main__":
    unittest.main()
