"""Rules of step Cuts."""

from weighty_axle.rules.cuts import lengths
from weighty_axle.rules.registry import rules_of

RULES = rules_of(lengths)
