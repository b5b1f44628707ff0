"""Rules of step Roof."""

from weighty_axle.rules.registry import rules_of
from weighty_axle.rules.roof import elsewhere, fixings, inputs, layout, protection, strings

RULES = rules_of(elsewhere, strings, inputs, protection, layout, fixings)
