"""A report of a design as one HTML file or as Markdown; what stands in it is gathered elsewhere."""
