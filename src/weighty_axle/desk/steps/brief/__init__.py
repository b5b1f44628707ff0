"""Step Brief: view and instrument."""
