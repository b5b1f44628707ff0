"""The first page: whose job it is, the cautions, where the design stands."""

from __future__ import annotations

from typing import Any

from weighty_axle.exports.letters import unprintable_words
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.rules.registry import SEVERITIES

CAUTIONS = (
    "This program helps a competent person. It does not approve an installation.",
    "Local electrical codes, vehicle rules, makers' manuals and licensed trades outrank everything printed here.",
    "Bank terminals cannot be switched off: cover them, use insulated tools, wear no metal.",
    "Solar arrays are live whenever there is light.",
    "120, 230 and 240 V AC kill. Prove dead before touching; test every residual-current device.",
    "Mind gas and fuel lines, lifting, work at height, and hydrogen from old lead-acid banks.",
    "Table values marked 'recalled' are written from memory: check them against your own copy.",
)


def pages(on: PackPages) -> list[Any]:
    """Whose job, cautions, counts."""
    job = on.design.job
    flow = [
        on.text(job.name, on.title),
        on.text(f"{job.vehicle.description} · {job.customer}"),
        on.text(f"Design as of {on.today.isoformat()}"),
        on.text("Before anything else", on.head),
    ]
    flow += [on.text(f"– {line}") for line in CAUTIONS]
    counts = [sum(finding.rule.severity == severity for finding in on.findings) for severity in SEVERITIES]
    flow.append(on.text("Where the design stands", on.head))
    flow.append(on.text(f"{counts[0]} at Stop, {counts[1]} at Check, {counts[2]} notes."))
    if counts[0]:
        flow.append(on.text("Do not build before every Stop is put right."))
    missing = unprintable_words(job)
    return [*flow, on.text(missing, on.small)] if missing else flow
