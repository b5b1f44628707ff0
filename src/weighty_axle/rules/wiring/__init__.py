"""Rules of step Wiring."""

from weighty_axle.rules.registry import rules_of
from weighty_axle.rules.wiring import direct, fitted, runs

RULES = rules_of(runs, direct, fitted)
