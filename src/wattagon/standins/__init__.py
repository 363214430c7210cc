"""Simulated devices to rehearse on; no Qt.  They speak a protocol of our own and look like no known device."""
