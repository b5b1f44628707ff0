"""Answers on demand of step Wiring."""
