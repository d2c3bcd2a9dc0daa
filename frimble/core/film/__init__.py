"""Film positives: densities, how well they hold out light, and what they cost."""
