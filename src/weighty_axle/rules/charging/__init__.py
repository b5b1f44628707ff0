"""Rules of step Charging."""

from weighty_axle.rules.charging import mixes
from weighty_axle.rules.registry import rules_of

RULES = rules_of(mixes)
