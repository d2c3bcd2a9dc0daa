"""What the work costs, in the shop's own money."""
