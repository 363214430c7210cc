"""Tooth-coil windings: which slots and poles go together, what a rewind changes, sensors, what a fault looks like."""
