"""The DC runs."""
