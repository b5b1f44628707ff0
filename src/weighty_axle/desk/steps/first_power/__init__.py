"""Step First power: view and instruments."""
