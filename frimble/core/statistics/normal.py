"""Bounds of the normal law that intervals of this shop are made with."""

# Nine times in ten a normal value lies within so many standard deviations of its mean.
# Source: tables of the normal law, 0.95 quantile.
Z_90 = 1.6449
