"""A drive in time: plant, course, the compiled loop, and the record of a run."""
