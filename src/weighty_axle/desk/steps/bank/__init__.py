"""Step Bank: view and instrument."""
