"""Step Charging: view and instrument."""
