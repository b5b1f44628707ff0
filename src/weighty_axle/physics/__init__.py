"""Textbook relations and solvers on plain numbers. Knows nothing of jobs, tables or screens."""
