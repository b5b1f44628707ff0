"""Rules of step Settings."""

from weighty_axle.rules.registry import rules_of
from weighty_axle.rules.settings import entered, points

RULES = rules_of(points, entered)
