"""Drawings in metres and on paper."""
