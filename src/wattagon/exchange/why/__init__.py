"""Results by the names that the terminal's JSON gives them, each with its working."""
