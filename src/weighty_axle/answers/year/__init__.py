"""Answers about a year on the road, asked for on demand."""
