"""Step Parts: view and instruments."""
