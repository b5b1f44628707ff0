"""Step Settings, on demand: the sheet of every unit, what stands in it, and what the drop under load makes of it."""
