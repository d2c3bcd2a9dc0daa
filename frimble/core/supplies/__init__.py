"""What the room uses up: how long it lasts, and by when to order."""
