"""Weighty Axle: design, proof, build pack and hand-over of 24 V and 48 V vehicle power systems."""

__version__ = "0.1.0"
