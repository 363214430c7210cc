"""The controller bench."""
