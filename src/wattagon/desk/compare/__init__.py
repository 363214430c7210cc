"""Two to four drives of a vehicle over each other: edges, goals, findings, and only what differs."""
