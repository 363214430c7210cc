"""A report of what the benches show: gathered bench by bench, written as HTML, PDF or Markdown."""
