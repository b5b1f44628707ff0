"""Rules of step Bank."""

from weighty_axle.rules.bank import cold, datasheet, joining, links, packs, ripple, set_points
from weighty_axle.rules.registry import rules_of

RULES = rules_of(packs, cold, links, joining, ripple, set_points, datasheet)
