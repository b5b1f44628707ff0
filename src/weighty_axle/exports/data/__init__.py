"""Open data."""
