"""The Qt window.  It shows what the studies say and edits the design through the session alone."""
