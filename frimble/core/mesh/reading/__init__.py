"""Which mesh is this: thread count, angle, opening and thread from a close photo against light."""
