"""Findings: what is over, tight, clear or not checked, why, and what would cure it."""
