"""Asked of the roof."""
