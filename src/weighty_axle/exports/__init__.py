"""Drawings, prints and tables of a design; no Qt here."""
