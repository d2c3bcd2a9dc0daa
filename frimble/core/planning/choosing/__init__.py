"""Which screen for which colour: what speaks for and against each, and the choice for many at once."""
