"""One simulated screen: light under a film, what hardens, what stands after the wash, and what is seen through it."""
