"""The one chart kit: axes, curves, labels on lines, flags and marks, painted by hand; for screen and for vector files alike."""
