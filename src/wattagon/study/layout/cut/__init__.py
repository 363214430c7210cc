"""Parts that a layout needs cut or printed, a kind a file; outlines in mm."""
