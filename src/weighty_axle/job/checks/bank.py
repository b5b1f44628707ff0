"""What a bank cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.bank import Bank


def bank_problems(bank: Bank, place: str = "bank") -> Iterator[Problem]:
    """What packs cannot be: grouped unevenly, all out, or with cells whose voltages fall."""
    spec = bank.spec
    if len(bank.packs) % bank.series:
        yield Problem(f"{place}.packs", f"{len(bank.packs)} packs cannot be grouped by {bank.series} in series.")
    if not spec.cell_min_v < spec.cell_nominal_v < spec.cell_max_v:
        yield Problem(f"{place}.spec.cell_nominal_v", "Cell voltages must rise from lowest to nominal to highest.")
    strings = [bank.packs[index : index + bank.series] for index in range(0, len(bank.packs), bank.series)]
    if all(any(pack.out for pack in string) for string in strings):
        yield Problem(f"{place}.packs", "At least one string of packs must stay in service.")
