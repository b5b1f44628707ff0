"""Step Tests: view and instruments."""
