"""Asked of the bank."""
