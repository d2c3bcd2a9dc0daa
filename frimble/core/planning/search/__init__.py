"""The search for a plan: an order at once, parts put anew, and what is proven."""
