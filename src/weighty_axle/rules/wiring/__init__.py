"""Rules of step Wiring."""

from weighty_axle.rules.registry import rules_of
from weighty_axle.rules.wiring import direct, fitted, flow, guards, joints, precharge, runs

RULES = rules_of(runs, flow, guards, direct, precharge, joints, fitted)
