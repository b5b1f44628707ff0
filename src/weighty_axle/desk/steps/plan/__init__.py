"""Step Plan: view and instruments."""
