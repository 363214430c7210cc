"""The bench of trouble."""
