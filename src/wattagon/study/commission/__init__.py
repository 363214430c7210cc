"""Bringing a build to life step by step: what is accepted of this design, what was read, what has to be read again."""
