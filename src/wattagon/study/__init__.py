"""What follows from a design: pure functions from a design and the stock to frozen results, and findings."""
