"""Rules of step Inverters."""

from weighty_axle.rules.inverters import legs, panels, states
from weighty_axle.rules.registry import rules_of

RULES = states.DANGERS + rules_of(states, panels, legs)
