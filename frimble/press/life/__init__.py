"""A stencil's whole life on one page, and what became of a film's stencils."""
