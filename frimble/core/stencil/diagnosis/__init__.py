"""What went wrong with a stencil: from what is seen and what is on record to causes with their probabilities."""
