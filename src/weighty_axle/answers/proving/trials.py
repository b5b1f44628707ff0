"""Acceptance tests of the whole job: each reading with the band the network and the meters predict, the verdict, and a
diagnosis from the same network where a reading is out of it.
"""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.proving.ac_trials import ac_trials
from weighty_axle.answers.proving.charge_trials import charge_trials
from weighty_axle.answers.proving.load_trials import load_trials
from weighty_axle.design.table import Design
from weighty_axle.job.models.proving import Reading

GROUPS = (
    "Step loads",
    "Drops",
    "Sharing",
    "AC side",
    "Arrays",
    "Chargers and converters",
    "Engine",
    "Run hot",
    "Sources",
)
"""Groups of tests, in the order they are made."""


def trials(design: Design) -> tuple[Check, ...]:
    """Every test of the house's system and of those beside it, in the order they are made.

    Source: predictions from the design; bands from usual meters, common practice, no source.
    """
    found = tuple(one for own in (design, *design.others) for one in _of(own))
    return tuple(one for group in GROUPS for one in found if one.group == group)


def _of(own: Design) -> Iterator[Check]:
    yield from load_trials(own)
    yield from ac_trials(own)
    if not own.system.shares_bank:
        yield from charge_trials(own)


def repeats(design: Design, key: str) -> tuple[Reading, ...]:
    """All readings of a test, the latest last.

    Source: the job.
    """
    return tuple(one for one in design.whole.proving.trials if one.check == key)
