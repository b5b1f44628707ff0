"""Rules of step Place."""

from weighty_axle.rules.place import axles, clear, heat, holds, room, ways
from weighty_axle.rules.registry import rules_of

RULES = rules_of(axles, clear, heat, holds, room, ways)
