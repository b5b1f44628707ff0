"""What was found."""

from __future__ import annotations

from typing import Any

from weighty_axle.exports.pages.page import PackPages
from weighty_axle.rules.registry import Severity

SEVERITY_WORDS: dict[Severity, str] = {"stop": "STOP", "check": "CHECK", "note": "NOTE"}
_MOST_FINDINGS = 400
"""Findings that are printed; nobody reads thousands of them on paper."""


def pages(on: PackPages) -> list[Any]:
    """Every finding, worst first, with what would put it right."""
    rows = [["", "Finding", "Concerns", "What would put it right"]]
    rows += [
        [
            SEVERITY_WORDS[finding.rule.severity],
            finding.sentence(on.system),
            ", ".join(finding.tags),
            " or ".join(remedy.label for remedy in finding.remedies) or finding.rule.advice,
        ]
        for finding in on.findings[:_MOST_FINDINGS]
    ]
    left = len(on.findings) - _MOST_FINDINGS
    more = (
        [on.text(f"{left} more findings, none worse than the last of these, are in findings.json.")] if left > 0 else []
    )
    return [on.text("Findings", on.head), on.table(rows, (0.1, 0.5, 0.17, 0.23)), *more]
