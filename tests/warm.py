"""Loaded once by the process that all files of tests are forked from: what nearly all of them would load for themselves."""

import gc

from wattagon.design import catalogue
from wattagon.exchange import units
from wattagon.physics.ride.ride import warm_up
from wattagon.study.studies import STUDIES, loaded

for study in STUDIES:
    loaded(study.run)
units.warm()
catalogue.load()
warm_up()
gc.freeze()  # so that no round of collection in a child copies what all share
