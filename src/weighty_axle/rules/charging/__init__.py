"""Rules of step Charging."""

from weighty_axle.rules.charging import alternators, converters, generators, low_side, mixes
from weighty_axle.rules.registry import rules_of

RULES = rules_of(mixes, alternators, generators, converters, low_side)
