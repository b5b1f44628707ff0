"""Printed pages, one part per step."""
