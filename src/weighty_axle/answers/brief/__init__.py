"""Asked of the brief."""
