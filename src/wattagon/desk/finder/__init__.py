"""The finder bench: what would meet the goals, out of all that stock and shelf hold."""
