"""Rules of step Tests."""

from weighty_axle.rules.proving import acceptance
from weighty_axle.rules.registry import rules_of

RULES = rules_of(acceptance)
