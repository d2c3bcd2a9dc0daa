"""A bare mesh by a photo against light: emulsion left, ghosts, holes."""
