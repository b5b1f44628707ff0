"""Step Place: view and instrument."""
