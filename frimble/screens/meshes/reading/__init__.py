"""Which mesh is this: a close photo read, and the scale strip that is laid on it."""
