"""What the room loses and why, and what it tried against it."""
