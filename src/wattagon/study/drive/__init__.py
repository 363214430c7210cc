"""The drive: its edge, goals, the levers that change it, and what is judged of it."""
