"""Logs: what was measured, laid over what was predicted, and what it teaches."""
