"""What is handed over, as open data: settings with what stands in units, changes, checks and tests with their repeats,
cards, the owner's page.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from weighty_axle.answers.first_power.cards import cards
from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.lesson import lesson
from weighty_axle.answers.proving.trials import repeats, trials
from weighty_axle.answers.settings.setting import Setting
from weighty_axle.answers.settings.sheet import all_settings, changes
from weighty_axle.design.table import Design

Data = dict[str, Any]


def settings_data(design: Design) -> list[Data]:
    """Every setting with what stands in its unit."""
    return [_setting(one) for one in all_settings(design)]


def changes_data(design: Design) -> list[Data]:
    """Every change after commissioning: setting, old, new, day, who, why."""
    return [
        {
            "setting": one.setting,
            "old": one.old,
            "new": one.entry.said,
            "on": one.entry.on,
            "by": one.entry.by,
            "why": one.entry.why,
        }
        for one in changes(design)
    ]


def _setting(one: Setting) -> Data:
    return {
        "key": one.key,
        "unit_tag": one.group,
        "setting": one.words,
        "value": one.value if one.value is not None else one.word,
        "unit": one.unit,
        "reason": one.why,
        "source": one.source,
        "harm": one.hurts,
        "entered": [{"said": each.said, "on": each.on, "by": each.by, "why": each.why} for each in one.entries],
        "verdict": one.verdict,
        "says": one.says,
    }


def checks_data(found: Iterable[Check]) -> list[Data]:
    """Checks or tests with band, reading, verdict and diagnosis."""
    return [
        {
            "key": one.key,
            "group": one.group,
            "check": one.words,
            "predicted": one.wanted.value if one.wanted is not None else None,
            "low": one.low,
            "high": one.high if one.high is not None and math.isfinite(one.high) else None,
            "unit": one.unit,
            "read": one.reading.value if one.reading is not None else None,
            "done": one.reading is not None,
            "on": one.reading.on if one.reading is not None else "",
            "by": one.reading.by if one.reading is not None else "",
            "verdict": one.verdict,
            "says": one.says,
        }
        for one in found
    ]


def cards_data(design: Design) -> list[Data]:
    """Cards step by step."""
    return [
        {
            "key": card.key,
            "title": card.title,
            "when": card.when,
            "steps": [{"tag": step.tag, "do": step.do, "see": step.see, "if_not": step.if_not} for step in card.steps],
        }
        for card in cards(design)
    ]


def handover_data(design: Design) -> Data:
    """All of it; tests with every reading that was taken."""
    found = trials(design)
    made = checks_data(found)
    for data, one in zip(made, found, strict=True):
        data["repeats"] = [{"read": each.value, "on": each.on, "by": each.by} for each in repeats(design, one.key)]
    said = design.whole.proving.handover
    return {
        "job": design.whole.name,
        "vehicle": design.whole.vehicle.description,
        "handed_over": {"by": said.by, "licence": said.licence, "to": said.to, "on": said.on, "open": said.left_open},
        "settings": settings_data(design),
        "changes": changes_data(design),
        "checks": checks_data(checks(design)),
        "tests": made,
        "cards": cards_data(design),
        "lesson": [{"title": one.title, "lines": list(one.lines)} for one in lesson(design)],
    }
