"""The drive bench: the pull map, what flows against speed, goals, levers and the parts of a variant."""
