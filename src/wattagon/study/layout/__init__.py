"""Where the drive stands on its vehicle: does it fit, does it mesh."""
