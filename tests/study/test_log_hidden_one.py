"""A hundred logs of which all is hidden."""

import unittest

from tests.study.log_cover import HiddenCase


class HiddenTests(HiddenCase):
    seeds = range(100)


if __name__ == "__main__":
    unittest.main()
