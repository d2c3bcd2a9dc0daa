"""How to: what is done at each station, in plain words, with pictures; the same text as a printed handbook."""
