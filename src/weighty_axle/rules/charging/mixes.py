"""Rules of step Charging."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.rules.registry import Hit, amps, hit, rule


def _limit(design: Design) -> Edit:
    safe = design.charging.safe_limit_a.value
    return set_value("charging.system_limit_a", safe, f"Limit all charging to {safe:g} A")


@rule(
    "charging.sum-over-bank",
    "stop",
    "All sources together give {total} ({mix}); the bank takes {limit}.",
    "pack datasheet",
)
def sum_over_bank(design: Design) -> Iterator[Hit]:
    """Sum of sources above the bank without a system limit."""
    worst, limit = design.charging.worst_a, design.bank.charge_limit_a
    if design.job.charging.system_limit_a is None and over(worst.value, limit.value):
        mix = next(one.name for one in design.charging.mixes if one.total_a is worst)
        yield hit(total=worst, mix=mix.lower(), limit=limit, remedy=_limit(design))


@rule("charging.limit-over-bank", "stop", "The system charge limit is {set}; the bank takes {limit}.", "pack datasheet")
def limit_over_bank(design: Design) -> Iterator[Hit]:
    """System limit above the bank's."""
    chosen = design.job.charging.system_limit_a
    if chosen is not None and over(chosen, design.bank.charge_limit_a.value):
        yield hit(set=amps(chosen), limit=design.bank.charge_limit_a, remedy=_limit(design))


@rule(
    "charging.over-one-pack-out",
    "check",
    "Charging reaches {charge}; with one pack out the rest take {limit}.",
    "pack datasheet",
)
def over_one_pack_out(design: Design) -> Iterator[Hit]:
    """Charging that is right for all packs and too much once one drops out."""
    charge, limit = design.charging.into_bank_a, design.bank.one_pack_out_charge_a
    if over(charge.value, limit.value) and not over(charge.value, design.bank.charge_limit_a.value):
        yield hit(charge=charge, limit=limit, remedy=_limit(design))


@rule("charging.source-over-bank", "stop", "{source} alone gives {amps}; the bank takes {limit}.", "pack datasheet")
def source_over_bank(design: Design) -> Iterator[Hit]:
    """One source above the bank's limit."""
    limit = design.bank.charge_limit_a
    seen = set()
    for mix in design.charging.mixes:
        for part in mix.parts:
            if part.name not in seen and over(part.value, limit.value):
                seen.add(part.name)
                yield hit(source=part.name, amps=part, limit=limit)


@rule("charging.no-sun", "note", "No modules charge the bank.", PRACTICE)
def no_sun(design: Design) -> Iterator[Hit]:
    """A job without solar charging, on the roof or elsewhere."""
    if not design.system.key and not design.job.roof.modules and not design.job.roof.remote:
        yield hit()
