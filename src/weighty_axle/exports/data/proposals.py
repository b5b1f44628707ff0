"""Proposals as job files, each with its reasons."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from msgspec.structs import replace

from weighty_axle.job.files import store
from weighty_axle.studies.propose import Proposal
from weighty_axle.units import show


def proposal_lines(one: Proposal) -> Iterator[str]:
    """A proposal in words: its year, what it costs, every choice with its reason, what limits it, what is left."""
    result, cost = one.result, one.bill
    missing, runs = show(result.missing_share.value, "1"), show(result.generator_h.value, "h")
    yield f"{missing} missing in the year, generator {runs}"
    if cost.total.value:
        yield f"parts cost {show(cost.total.value, 'money')}" + (f"; {cost.total.limit}" if cost.total.limit else "")
    yield from (f"{choice.what}: {choice.why}" for choice in one.choices)
    yield one.limits
    yield from (f"STOP {finding.sentence()}" for finding in one.stops)


def write_proposal(one: Proposal, folder: Path) -> Path:
    """Write a proposal as a job file of its level's name; its reasons stand in the design's own words."""
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{one.level.name.lower()}.axle"
    store.save(replace(one.job, design_name=one.level.name, design_why=" ".join(proposal_lines(one))[:1900]), path)
    return path
