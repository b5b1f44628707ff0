"""Shared widgets and painters of the desk."""
