"""Variants, versions and what-ifs side by side."""
