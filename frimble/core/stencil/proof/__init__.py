"""What a film will give on a mesh at a time, before anything is coated."""
