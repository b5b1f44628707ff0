"""Rules of step Wiring."""

from weighty_axle.rules.registry import rules_of
from weighty_axle.rules.wiring import (
    cords,
    direct,
    earthing,
    fitted,
    flow,
    guards,
    house,
    joints,
    precharge,
    runs,
    signals,
)

RULES = rules_of(runs, flow, guards, direct, house, precharge, joints, signals, earthing, cords, fitted)
