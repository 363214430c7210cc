"""The layout bench: the drive to scale on its vehicle."""
