"""Rules of step Log."""

from weighty_axle.rules.log import kept
from weighty_axle.rules.registry import rules_of

RULES = rules_of(kept)
