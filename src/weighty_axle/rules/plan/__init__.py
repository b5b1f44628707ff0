"""Rules of step Plan."""

from weighty_axle.rules.plan import building
from weighty_axle.rules.registry import rules_of

RULES = rules_of(building)
