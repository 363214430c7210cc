"""Rides: runs and courses simulated, and what is judged of them."""
