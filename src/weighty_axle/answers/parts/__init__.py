"""Parts list: everything that is bought, counted from the design."""
