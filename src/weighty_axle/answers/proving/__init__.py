"""Tests: what is predicted for each, what was measured, and what the difference means."""
