"""The build of a variant: its parts, what has to fit first, the steps, and when it could roll."""
