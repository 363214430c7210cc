"""The ride bench: runs and courses, simulated, scrubbed and laid over each other."""
