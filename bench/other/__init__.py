"""Shops whose laws differ from the program's models; none of them or of their seeds is looked at while a rule is tuned."""
