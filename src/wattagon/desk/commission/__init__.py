"""The bench of commissioning."""
