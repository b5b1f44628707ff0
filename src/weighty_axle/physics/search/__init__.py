"""Packing and balancing with proof."""
