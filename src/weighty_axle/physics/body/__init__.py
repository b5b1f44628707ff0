"""Axles and wind."""
