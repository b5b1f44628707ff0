"""Step Settings: view and instrument."""
