"""The strength bench: the load path on one axis of wheel torque, and how to prove it."""
