"""The shop's own step-test film: its geometry, its drawing, and how it is written to files."""
