"""The pack: bricks, volts against every rating, currents, schools, charging, cell checks."""
