"""Boats: hull, propeller, shafts, and what they ask of a drive."""
