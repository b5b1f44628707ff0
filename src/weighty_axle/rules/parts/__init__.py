"""Rules of step Parts."""

from weighty_axle.rules.parts import bought
from weighty_axle.rules.registry import rules_of

RULES = rules_of(bought)
