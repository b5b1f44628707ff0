"""Rules of the bank: how long it lasts, what its packs may give, what series and parallel do."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.rules.registry import Hit, hit, rule, volts


def pack_tags(design: Design) -> tuple[str, ...]:
    """Tags of all packs, for findings about the whole bank."""
    return tuple(pack.tag for pack in design.job.bank.packs)


def _more_packs(design: Design, need: float, have: float) -> Edit | None:
    """Remedy that scales the parallel count, where the packs allow that many."""
    bank = design.job.bank
    parallel = math.ceil(design.bank.parallel * need / have - 1e-9) if have > 0 else 0
    count = parallel * bank.series
    return (
        set_pack_count(count) if design.bank.parallel < parallel <= bank.spec.parallel_limit and count <= 64 else None
    )


@rule("bank.days-short", "check", "On the busiest day the bank lasts {days}; the customer wants {wanted}.", PRACTICE)
def days_short(design: Design) -> Iterator[Hit]:
    """Autonomy below what the customer wants."""
    wanted, days = design.job.bank.days_wanted, design.bank.days
    if over(wanted, days.value):
        yield hit(
            *pack_tags(design),
            days=days,
            wanted=Given("", wanted, "days"),
            remedy=_more_packs(design, wanted, days.value),
        )


@rule(
    "bank.days-short-cold",
    "check",
    "On the coldest days the bank lasts {days}, heater and cold cells counted; the customer wants {wanted}.",
    PRACTICE,
)
def days_short_cold(design: Design) -> Iterator[Hit]:
    """Autonomy that is enough in mild air and not in the cold."""
    wanted, days = design.job.bank.days_wanted, design.cold.days
    if over(wanted, days.value) and not over(wanted, design.bank.days.value):
        yield hit(
            *pack_tags(design),
            days=days,
            wanted=Given("", wanted, "days"),
            remedy=_more_packs(design, wanted, days.value),
        )


def _over(design: Design, asked: Figure, limit: Figure) -> Iterator[Hit]:
    if over(asked.value, limit.value):
        yield hit(*pack_tags(design), asked=asked, limit=limit, remedy=_more_packs(design, asked.value, limit.value))


@rule("bank.discharge-over-limit", "stop", "At full load {asked} is drawn; the packs allow {limit}.", "pack datasheet")
def discharge_over_limit(design: Design) -> Iterator[Hit]:
    """Full inverter load above the packs' continuous limit."""
    yield from _over(design, design.bank.continuous_a, design.bank.discharge_limit_a)


@rule(
    "bank.surge-over-peak", "stop", "At surge {asked} is drawn; the packs allow {limit} for moments.", "pack datasheet"
)
def surge_over_peak(design: Design) -> Iterator[Hit]:
    """Surge above the packs' peak limit."""
    yield from _over(design, design.bank.surge_a, design.bank.peak_limit_a)


@rule(
    "bank.peak-too-short",
    "check",
    "The packs give their peak for {pack}; the inverters surge for {inverter}. Count on the continuous limit.",
    "pack and inverter datasheets",
)
def peak_too_short(design: Design) -> Iterator[Hit]:
    """Surge that lasts longer than the packs' peak and needs it."""
    pack, inverter = design.job.bank.spec, design.job.inverters.spec
    if pack.peak_s < inverter.surge_s and over(design.bank.surge_a.value, design.bank.discharge_limit_a.value):
        yield hit(*pack_tags(design), pack=Given("", pack.peak_s, "s"), inverter=Given("", inverter.surge_s, "s"))


@rule(
    "bank.one-pack-out",
    "check",
    "With one pack out the rest may give {limit}; at full load {asked} is drawn.",
    PRACTICE,
)
def one_pack_out(design: Design) -> Iterator[Hit]:
    """Full load with one pack lost."""
    asked, limit = design.bank.continuous_a, design.bank.one_pack_out_a
    if over(asked.value, limit.value) and not over(asked.value, design.bank.discharge_limit_a.value):
        yield hit(*pack_tags(design), asked=asked, limit=limit)


@rule("bank.series-forbidden", "stop", "{series} packs in series, but {pack} allows {limit}.", "pack datasheet")
def series_forbidden(design: Design) -> Iterator[Hit]:
    """More packs in series than they stand."""
    bank = design.job.bank
    if bank.series > bank.spec.series_limit:
        remedy = set_value("bank.series", 1, "One pack in series")
        yield hit(
            *pack_tags(design),
            series=str(bank.series),
            pack=bank.spec.name,
            limit=str(bank.spec.series_limit),
            remedy=remedy,
        )


@rule(
    "bank.parallel-over-limit",
    "stop",
    "{parallel} packs in parallel; the maker of {pack} allows {limit}.",
    "pack datasheet",
)
def parallel_over_limit(design: Design) -> Iterator[Hit]:
    """More packs in parallel than allowed."""
    spec, parallel = design.job.bank.spec, design.bank.parallel
    if parallel > spec.parallel_limit:
        remedy = set_pack_count(spec.parallel_limit * design.job.bank.series)
        yield hit(
            *pack_tags(design), parallel=str(parallel), pack=spec.name, limit=str(spec.parallel_limit), remedy=remedy
        )


@rule(
    "bank.over-inverter-voltage",
    "stop",
    "The bank reaches {highest}; {inverter} stands {limit} at most.",
    "nominal is not maximum: judged at the highest cell voltage",
)
def over_inverter_voltage(design: Design) -> Iterator[Hit]:
    """Highest bank voltage above the inverters' DC limit."""
    spec = design.job.inverters.spec
    if over(design.bank.max_v.value, spec.dc_max_v):
        yield hit(*_units(design), highest=design.bank.max_v, inverter=spec.name, limit=volts(spec.dc_max_v))


@rule(
    "bank.under-inverter-voltage",
    "stop",
    "The bank works down to {lowest}; {inverter} stops below {limit}.",
    "inverter datasheet",
)
def under_inverter_voltage(design: Design) -> Iterator[Hit]:
    """Lowest working voltage below the inverters' DC range."""
    spec = design.job.inverters.spec
    if design.job.inverters.units and over(spec.dc_min_v, design.bank.lowest_working_v.value):
        yield hit(*_units(design), lowest=design.bank.lowest_working_v, inverter=spec.name, limit=volts(spec.dc_min_v))


def _units(design: Design) -> tuple[str, ...]:
    return tuple(unit.tag for unit in design.job.inverters.units)


@rule(
    "bank.sag-at-surge",
    "stop",
    "At surge the bank sags to {sagged}; {inverter} stops below {limit}.",
    "textbook relation: source with resistance into a constant power",
)
def sag_at_surge(design: Design) -> Iterator[Hit]:
    """Voltage at surge below the inverters' DC range, or none at all."""
    spec, sagged = design.job.inverters.spec, design.bank.at_surge_v
    if design.job.inverters.units and over(spec.dc_min_v, sagged.value):
        yield hit(*pack_tags(design), sagged=sagged, inverter=spec.name, limit=volts(spec.dc_min_v))


@rule("bank.pack-out", "note", "{packs} out of service: {energy} usable, {limit} at most.", PRACTICE)
def pack_out(design: Design) -> Iterator[Hit]:
    """Packs taken out, so that nobody forgets them."""
    out = [pack for pack in design.job.bank.packs if pack.out]
    if out:
        remedy = set_value(f"bank.packs[{out[0].tag}].out", False, f"Put {out[0].tag} back")
        yield hit(
            *(pack.tag for pack in out),
            packs=", ".join(pack.tag for pack in out),
            energy=design.bank.usable_energy_wh,
            limit=design.bank.discharge_limit_a,
            remedy=remedy,
        )
