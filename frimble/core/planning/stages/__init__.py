"""What a screen goes through on its way to press, and how long each part of it takes."""
