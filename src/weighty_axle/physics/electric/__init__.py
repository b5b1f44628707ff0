"""Networks, phasors, conductors, protection, batteries, converters."""
