"""Step Wiring: view and instrument."""
