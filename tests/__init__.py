"""Tests mirror the rooms of src; windows are drawn offscreen."""

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the program has it, also where a test loads numpy first
