"""The wiring bench: one line from cells to phase leads, as long, thick and warm as it is."""
