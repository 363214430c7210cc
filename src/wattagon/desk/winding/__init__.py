"""The winding bench: the stator coil by coil, what would give another kv, sensors, readings."""
