"""Sun, sky, modules and their curves, shadows."""
