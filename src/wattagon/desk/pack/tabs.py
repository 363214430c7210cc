"""The pages under the picture of the pack, in order."""

from __future__ import annotations

from wattagon.desk.pack.tab import Tab
from wattagon.desk.pack.tabs_told import BricksTab, ChecksTab, OthersTab, SchoolTab
from wattagon.desk.pack.tabs_use import ChargingTab, Currents

TABS: tuple[type[Tab], ...] = (Currents, ChargingTab, ChecksTab, SchoolTab, BricksTab, OthersTab)
