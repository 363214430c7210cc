"""The history of a build: what is due, what is suspect, and what it says."""
