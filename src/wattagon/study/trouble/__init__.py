"""Trouble: from a symptom, the likely causes for this design, and the one test that tells them apart."""
