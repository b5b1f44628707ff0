"""One package per step: its view and its instrument."""
