"""Field terms in plain words, those on the screen first."""
