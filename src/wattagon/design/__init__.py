"""What the user states: the design tree, its file, its schema, the stock catalogue and edits."""
