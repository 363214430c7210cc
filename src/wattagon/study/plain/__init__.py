"""Every field term in plain words, with this design's own number."""
