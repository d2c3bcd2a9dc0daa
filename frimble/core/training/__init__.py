"""Learning before it counts: drills with a hidden truth, how hard they are, when they come again, who agrees with whom."""
