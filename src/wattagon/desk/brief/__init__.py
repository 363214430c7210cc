"""The brief bench: the vehicle drawn with its measures, how each is known, goals and the shelf."""
