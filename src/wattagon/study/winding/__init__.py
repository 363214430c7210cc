"""The motor's winding: what is in it, what would give another kv, how it is wound and what proves it."""
