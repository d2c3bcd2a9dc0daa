"""What every table of the shop shares: rows that stay as they were written, and what a column may hold."""

from frimble.people.records.append_only import AppendOnly, AppendOnlyQuerySet, Attributed

__all__ = ["AppendOnly", "AppendOnlyQuerySet", "Attributed"]
