"""Weights and places."""
