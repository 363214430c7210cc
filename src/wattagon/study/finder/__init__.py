"""The finder: every combination of stock that could meet the goals of a brief."""
