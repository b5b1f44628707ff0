"""Asked of the AC side."""
