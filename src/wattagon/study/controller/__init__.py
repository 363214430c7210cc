"""The controller: its settings with their reasons, the throttle and what the rider feels, and what it does when something fails."""
