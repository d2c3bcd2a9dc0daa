"""A bare mesh by photo: what is left on it is drawn onto its map of marks."""
