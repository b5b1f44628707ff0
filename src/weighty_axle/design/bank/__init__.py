"""Energy, currents and links of the bank."""
