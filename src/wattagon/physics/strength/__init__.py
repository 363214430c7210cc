"""What shafts, hubs, bearings, bolts, brackets and printed parts bear.  SI throughout; sources stand at each equation."""
