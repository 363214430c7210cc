"""Whether a drive holds: the load path from rotor to ground and back to the frame, what gives way first, how to prove it."""
