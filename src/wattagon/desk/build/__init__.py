"""The bench of parts and steps."""
