"""Steps that bring a document of an older format version to the present one, in order; each is a pure dict change."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Document = dict[str, Any]


def _one_to_two(document: Document) -> Document:
    """Version 1 kept a load's day as 24 hourly levels; version 2 keeps painted stretches in minutes."""
    loads = []
    for load in document.get("loads", []):
        patterns = {}
        for kind, hours in load.get("hours", {}).items():
            spans: list[list[float]] = []
            for hour, level in enumerate(hours):
                if not level:
                    continue
                if spans and spans[-1][1] == hour * 60 and spans[-1][2] == level:
                    spans[-1][1] = hour * 60 + 60
                else:
                    spans.append([hour * 60, hour * 60 + 60, level])
            patterns[kind] = spans
        loads.append({**{key: value for key, value in load.items() if key != "hours"}, "patterns": patterns})
    return {**document, "loads": loads, "format_version": 2}


STEPS: dict[int, Callable[[Document], Document]] = {1: _one_to_two}
"""Version a step starts from -> the step; it ends one version later."""
