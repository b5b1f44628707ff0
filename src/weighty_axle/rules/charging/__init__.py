"""Rules of step Charging."""

from weighty_axle.rules.charging import converters, mixes
from weighty_axle.rules.registry import rules_of

RULES = rules_of(mixes, converters)
