"""Step Cuts: view and instruments."""
