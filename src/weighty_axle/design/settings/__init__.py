"""Set points."""
