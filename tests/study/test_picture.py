"""A picture under the drawing: two points fix it, perspective makes what is traced on it less well known."""

import math
import random
import unittest

from wattagon.design.tree import Picture, Pinned
from wattagon.errors import InputError
from wattagon.study.layout.picture import lies, traced, wrong_m


def pinned(*pins, **told):
    made = tuple(Pinned(column=c, row=r, ahead=x, other=z) for c, r, x, z in pins)
    return Picture(file="side.png", pins=made, **told)


class PictureTest(unittest.TestCase):
    def test_two_points_fix_any_turn_and_scale(self):
        rng = random.Random(7)
        for _ in range(200):
            scale, turn = rng.uniform(2e-4, 5e-3), rng.uniform(-math.pi, math.pi)
            x0, z0 = rng.uniform(-1, 1), rng.uniform(-1, 1)

            def world(column, row, scale=scale, turn=turn, x0=x0, z0=z0):
                x, up = scale * column, -scale * row  # rows grow downwards
                return x0 + x * math.cos(turn) - up * math.sin(turn), z0 + x * math.sin(turn) + up * math.cos(turn)

            points = [(rng.uniform(0, 2000), rng.uniform(0, 1500)) for _ in range(3)]
            if math.dist(*points[:2]) < 150.0:
                continue
            found = lies(pinned(*((*point, *world(*point)) for point in points[:2])))
            for got, wanted in zip(found.metres(*points[2]), world(*points[2]), strict=True):
                self.assertAlmostEqual(got, wanted, 9)
            for got, wanted in zip(found.pixels(*world(*points[2])), points[2], strict=True):
                self.assertAlmostEqual(got, wanted, 5)
            self.assertAlmostEqual(found.m_per_px, scale, 12)

    def test_less_than_two_points_scale_nothing_and_two_at_one_place_are_refused(self):
        self.assertIsNone(lies(pinned((10, 10, 0.0, 0.0))))
        with self.assertRaisesRegex(InputError, "well apart"):
            lies(pinned((10, 10, 0.0, 0.0), (800, 10, 0.005, 0.0)))
        with self.assertRaisesRegex(InputError, "well apart"):
            lies(pinned((10, 10, 0.0, 0.0), (12, 10, 0.5, 0.0)))
        with self.assertRaisesRegex(InputError, "view is below"):
            Picture(file="x.png", view="below")

    def test_perspective_grows_with_the_distance_from_the_middle(self):
        picture = pinned((0, 0, -0.2, 0.0), (1000, 0, 0.2, 0.0), distance=2.0, depth=0.1, pinned_within=0.001)
        self.assertAlmostEqual(wrong_m(picture, 0.0, 0.0), 0.001)
        self.assertAlmostEqual(wrong_m(picture, 0.2, 0.0), 0.001 + 0.2 * 0.05)
        self.assertAlmostEqual(wrong_m(picture, 0.0, 0.4), 0.002 + 0.4 * 0.05)
        edge = traced(picture, (0.0, 0.1), (0.2, 0.1))
        self.assertAlmostEqual(edge.tolerance, round(wrong_m(picture, 0.2, 0.1), 4))
        self.assertEqual((edge.x, edge.z, edge.x2, edge.z2), (0.0, 0.1, 0.2, 0.1))


if __name__ == "__main__":
    unittest.main()
