"""Tests mirror the rooms of src; windows are drawn offscreen."""

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
