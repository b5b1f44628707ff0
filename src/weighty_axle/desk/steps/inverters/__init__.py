"""Step Inverters: view and instrument."""
