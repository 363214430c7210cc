"""Logs of any layout: tables, tracks, what was timed by hand."""
