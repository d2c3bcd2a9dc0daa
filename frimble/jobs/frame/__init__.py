"""What stands round every page: the line of stops, what runs, and the floor that both are told from."""
