"""Step Roof: view and instrument."""
