"""The bench of logs: what was measured over what was predicted, and what it teaches."""
