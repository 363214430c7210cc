"""What is handed on: one set of papers for the workshop, and a bundle in which private things are left out by choice."""
