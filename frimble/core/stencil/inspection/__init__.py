"""A finished stencil against the film it was made from, by a photo."""
