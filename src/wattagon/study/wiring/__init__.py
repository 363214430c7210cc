"""The wiring: every piece from cells to phase leads against the ride's currents by time, fuse, pre-charge, bus, control leads."""
