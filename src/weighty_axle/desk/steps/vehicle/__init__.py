"""Step Vehicle: view and instrument."""
