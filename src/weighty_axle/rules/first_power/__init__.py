"""Rules of step First power."""

from weighty_axle.rules.first_power import before
from weighty_axle.rules.registry import rules_of

RULES = rules_of(before)
