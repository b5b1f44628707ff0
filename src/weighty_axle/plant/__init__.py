"""The simulated plant: the design stepped in time on the program's own physics, with switches, faults, consequences."""
