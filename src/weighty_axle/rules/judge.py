"""judge(design) -> findings: every rule of every step, worst first."""

from __future__ import annotations

from weighty_axle.design.derive import Design
from weighty_axle.rules import ac_side, bank, brief, charging, equipment, inverters, place, roof, settings, wiring
from weighty_axle.rules.registry import RULES, SEVERITIES, STEPS, Finding

# Importing a step's module registers its rules; the tuple keeps the order of the work in sight.
STEP_MODULES = (brief, equipment, bank, inverters, ac_side, roof, charging, place, wiring, settings)


def judge(design: Design) -> tuple[Finding, ...]:
    """All findings, Stop before Check before Note, within each in the order of the work."""
    found = [Finding(rule, hit.tags, hit.values, hit.remedy) for rule in RULES for hit in rule.check(design)]
    return tuple(sorted(found, key=lambda one: (SEVERITIES.index(one.rule.severity), STEPS.index(one.rule.step))))
