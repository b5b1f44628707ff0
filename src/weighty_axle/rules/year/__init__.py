"""Rules of step Year."""

from weighty_axle.rules.registry import rules_of
from weighty_axle.rules.year import stays

RULES = rules_of(stays)
