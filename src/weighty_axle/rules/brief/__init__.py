"""Rules of step Brief."""

from weighty_axle.rules.brief import day, equipment
from weighty_axle.rules.registry import rules_of

RULES = rules_of(day, equipment)
