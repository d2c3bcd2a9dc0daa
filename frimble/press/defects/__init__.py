"""Where on the print something is wrong, and whether what was mended shows."""
