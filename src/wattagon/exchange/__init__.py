"""Other people's units and formats."""
