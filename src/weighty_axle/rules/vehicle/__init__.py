"""Rules of step Vehicle."""

from weighty_axle.rules.registry import rules_of

RULES = rules_of()
