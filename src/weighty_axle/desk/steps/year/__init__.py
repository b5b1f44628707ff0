"""Step Year: view and instruments."""
