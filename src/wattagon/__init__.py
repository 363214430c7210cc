"""Wattagon: design a scratch-built electric drive from hobby brushless motors."""

import os

# matrices here are small: threads of the algebra library take six times as long over them as one
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.1.0"
