"""Rules of step Bank."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.data_chain import data_chain
from weighty_axle.design.derive import Design
from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.joining import joining
from weighty_axle.design.sharing import TAKE_OFF_WORDS, PackState, sharing
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.bank import Links
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts
from weighty_axle.units import conductor_words


def _packs(design: Design) -> tuple[str, ...]:
    return tuple(pack.tag for pack in design.job.bank.packs)


def _more_packs(design: Design, need: float, have: float) -> Edit | None:
    """Remedy that scales the parallel count, where the packs allow that many."""
    bank = design.job.bank
    parallel = math.ceil(design.bank.parallel * need / have - 1e-9) if have > 0 else 0
    count = parallel * bank.series
    return set_pack_count(count) if design.bank.parallel < parallel <= bank.spec.parallel_limit and count <= 64 else None


@rule("bank.days-short", "check", "On the busiest day the bank lasts {days}; the customer wants {wanted}.", PRACTICE)
def days_short(design: Design) -> Iterator[Hit]:
    """Autonomy below what the customer wants."""
    wanted, days = design.job.bank.days_wanted, design.bank.days
    if over(wanted, days.value):
        yield hit(*_packs(design), days=days, wanted=Given("", wanted, "days"), remedy=_more_packs(design, wanted, days.value))


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
        yield hit(*_packs(design), days=days, wanted=Given("", wanted, "days"), remedy=_more_packs(design, wanted, days.value))


def _over(design: Design, asked: Figure, limit: Figure) -> Iterator[Hit]:
    if over(asked.value, limit.value):
        yield hit(*_packs(design), asked=asked, limit=limit, remedy=_more_packs(design, asked.value, limit.value))


@rule("bank.discharge-over-limit", "stop", "Inverters at full load draw {asked}; the packs' BMS allow {limit}.", "pack datasheet")
def discharge_over_limit(design: Design) -> Iterator[Hit]:
    """Full inverter load above the packs' continuous limit."""
    yield from _over(design, design.bank.continuous_a, design.bank.discharge_limit_a)


@rule("bank.surge-over-peak", "stop", "Inverters at surge draw {asked}; the packs' BMS allow {limit} for moments.", "pack datasheet")
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
        yield hit(*_packs(design), pack=Given("", pack.peak_s, "s"), inverter=Given("", inverter.surge_s, "s"))


@rule("bank.one-pack-out", "check", "With one pack out the rest may give {limit}; the inverters at full load draw {asked}.", PRACTICE)
def one_pack_out(design: Design) -> Iterator[Hit]:
    """Full load with one pack lost."""
    asked, limit = design.bank.continuous_a, design.bank.one_pack_out_a
    if over(asked.value, limit.value) and not over(asked.value, design.bank.discharge_limit_a.value):
        yield hit(*_packs(design), asked=asked, limit=limit)


@rule("bank.series-forbidden", "stop", "{series} packs in series, but the BMS of {pack} allows {limit}.", "pack datasheet")
def series_forbidden(design: Design) -> Iterator[Hit]:
    """More packs in series than the BMS stands."""
    bank = design.job.bank
    if bank.series > bank.spec.series_limit:
        remedy = set_value("bank.series", 1, "One pack in series")
        yield hit(*_packs(design), series=str(bank.series), pack=bank.spec.name, limit=str(bank.spec.series_limit), remedy=remedy)


@rule("bank.parallel-over-limit", "stop", "{parallel} packs in parallel; the maker of {pack} allows {limit}.", "pack datasheet")
def parallel_over_limit(design: Design) -> Iterator[Hit]:
    """More packs in parallel than allowed."""
    spec, parallel = design.job.bank.spec, design.bank.parallel
    if parallel > spec.parallel_limit:
        remedy = set_pack_count(spec.parallel_limit * design.job.bank.series)
        yield hit(*_packs(design), parallel=str(parallel), pack=spec.name, limit=str(spec.parallel_limit), remedy=remedy)


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


@rule("bank.under-inverter-voltage", "stop", "The bank works down to {lowest}; {inverter} stops below {limit}.", "inverter datasheet")
def under_inverter_voltage(design: Design) -> Iterator[Hit]:
    """Lowest working voltage below the inverters' DC range."""
    spec = design.job.inverters.spec
    if over(spec.dc_min_v, design.bank.lowest_working_v.value):
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
    if over(spec.dc_min_v, sagged.value):
        yield hit(*_packs(design), sagged=sagged, inverter=spec.name, limit=volts(spec.dc_min_v))


@rule(
    "bank.cold-charging", "check", "The cells may get as cold as {low}: no charging below {limit} in the cell.", PRACTICE,
    "Insulate the box and heat it, or let the BMS block charging and tell the customer when.",
)  # fmt: skip
def cold_charging(design: Design) -> Iterator[Hit]:
    """Frost that nothing keeps off."""
    spec, coldest = design.job.bank.spec, design.cold.coldest_c
    if coldest.value < spec.charge_low_c:
        yield hit(*_packs(design), low=coldest, limit=Given("", spec.charge_low_c, "degC"))


@rule("bank.cold-discharging", "stop", "The cells may get as cold as {low}; the packs give nothing below {limit}.", "pack datasheet")
def cold_discharging(design: Design) -> Iterator[Hit]:
    """Colder than the packs work at all."""
    spec, coldest = design.job.bank.spec, design.cold.coldest_c
    if coldest.value < spec.discharge_low_c:
        yield hit(*_packs(design), low=coldest, limit=Given("", spec.discharge_low_c, "degC"))


@rule(
    "bank.cold-stored", "note", "Stored without heat the cells get as cold as {low}: no charging below {limit}, not by the sun either.", PRACTICE,
    "See that the BMS blocks charging in frost, or open the modules' isolators for storage.",
)  # fmt: skip
def cold_stored(design: Design) -> Iterator[Hit]:
    """A bank that is warm in use and frozen in store, with modules that would charge it."""
    spec, stored = design.job.bank.spec, design.cold.stored_c
    if stored.value < spec.charge_low_c <= design.cold.coldest_c.value and design.job.roof.controllers and not spec.heated:
        yield hit(*_packs(design), low=stored, limit=Given("", spec.charge_low_c, "degC"))


@rule("bank.heater-weak", "check", "The box needs {need} at the coldest; its heater gives {have}.", "textbook relation: U A dT")
def heater_weak(design: Design) -> Iterator[Hit]:
    """A heater that does not hold the box."""
    have, need = design.job.bank.box.heater_w, design.cold.heater_w
    if 0 < have < need.value and not design.job.bank.spec.heated:
        remedy = set_value("bank.box.heater_w", float(math.ceil(need.value / 10) * 10), f"Heater of {math.ceil(need.value / 10) * 10} W")
        yield hit(*_packs(design), need=need, have=Given("", have, "W"), remedy=remedy)


@rule(
    "bank.hot-charging",
    "check",
    "The hottest bay reaches {high}; the packs charge up to {limit}: leave air between them, vent the bay.",
    "pack datasheet",
)
def hot_charging(design: Design) -> Iterator[Hit]:
    """Bay hotter than the packs charge."""
    high, limit = design.job.site.bay_high_c, design.job.bank.spec.charge_high_c
    if high > limit:
        yield hit(*_packs(design), high=Given("", high, "degC"), limit=Given("", limit, "degC"))


# ---- sharing, links, own fuses -------------------------------------------------------------------------------

SERIES_APART_CELL_V = 0.0125
"""Difference per cell up to which blocks may be joined in series: 0.05 V on a 12 V block. Source: common practice, no source."""
UNEVEN = 1.1
"""Largest share over the mean from which sharing counts as uneven. Source: common practice, no source."""


@rule(
    "bank.sharing-uneven",
    "check",
    "{pack} carries {part} of the mean current, {how}: it ages first, and the bank gives {limit} in all.",
    "textbook relation: Kirchhoff's laws",
)
def sharing_uneven(design: Design) -> Iterator[Hit]:
    """One string far above the mean; the remedy is the way of linking that shares best."""
    shared = design.bank.sharing
    if shared.spread <= UNEVEN:
        return
    bank, states = design.job.bank, tuple(PackState(pack.tag, pack.resistance_factor, pack.out) for pack in design.job.bank.packs)
    links = bank.links if design.bank.links_known else Links()
    spreads = {way: sharing(bank.spec, bank.series, states, links, way).spread for way in TAKE_OFF_WORDS}
    best = min(spreads, key=lambda way: spreads[way])
    remedy = set_value("bank.links.take_off", best, f"Link the packs by {TAKE_OFF_WORDS[best]}") if spreads[best] < shared.spread - 0.01 else None
    yield hit(
        shared.first,
        pack=shared.first,
        part=design.bank.spread_share,
        how=TAKE_OFF_WORDS[shared.take_off],
        limit=design.bank.discharge_limit_a,
        remedy=remedy,
    )


@rule("bank.link-size", "check", "The links' conductor {size} is not in this job's ampacity table; its current is not judged.", "table of ampacities")
def link_size(design: Design) -> Iterator[Hit]:
    """Links of an unknown or foreign size."""
    if _link_ampacity(design) is None:
        main = design.wiring.main.chosen
        remedy = set_value("bank.links.size", main.size, f"Links of {conductor_words(main.size)}") if main else None
        yield hit(size=conductor_words(design.job.bank.links.size), remedy=remedy)


def _link_ampacity(design: Design) -> float | None:
    size = design.job.bank.links.size
    return next((one.ampacity_a for one in design.wiring.main.candidates if one.size == size and one.count == 1), None)


@rule("bank.link-ampacity", "stop", "{link} carries {current}{state}; {size} may carry {ampacity}.", "table of ampacities")
def link_ampacity(design: Design) -> Iterator[Hit]:
    """The busiest link or lead above its conductor's ampacity, every pack in or any one out; bars and terminals are not cable."""
    ampacity, cable = _link_ampacity(design), design.bank.cable
    if ampacity is None or cable is None:
        return
    total = max(design.bank.continuous_a, design.charging.into_bank_a, key=lambda one: one.value)
    lost = cable.one_out > cable.share
    share = max(cable.share, cable.one_out)
    given = (total, Given("Its share of the bank's current", share, "1"))
    current = Figure(
        "Busiest link or lead", share * total.value, "A", "bank current × share by Kirchhoff's laws", given, "textbook relation (nodal analysis)"
    )
    if over(current.value, ampacity):
        yield hit(
            link=f"{cable.name[0].upper()}{cable.name[1:]}",
            current=current,
            state=" with one pack out" if lost else "",
            size=conductor_words(design.job.bank.links.size),
            ampacity=Given("", ampacity, "A"),
            remedy=_wider_links(design, current.value),
        )


@rule(
    "bank.link-under-fuse",
    "stop",
    "A pack's own fuse of {fuse} guards links and leads of {size}, which may carry {ampacity}: they burn before it opens.",
    "NEC 240.4 (conductor protected at its ampacity), recalled",
)
def link_under_fuse(design: Design) -> Iterator[Hit]:
    """Conductors at a pack thinner than its own fuse."""
    ampacity, fuse = _link_ampacity(design), design.job.bank.spec.fuse_a
    if ampacity is not None and fuse is not None and design.bank.cable is not None and over(fuse, ampacity):
        size = conductor_words(design.job.bank.links.size)
        yield hit(*_packs(design), fuse=amps(fuse), size=size, ampacity=Given("", ampacity, "A"), remedy=_wider_links(design, fuse))


def _wider_links(design: Design, need_a: float) -> Edit | None:
    """Links that carry a current and the packs' own fuses."""
    need = max(need_a, design.job.bank.spec.fuse_a or 0.0)
    wide = next((one for one in design.wiring.main.candidates if one.count == 1 and one.ampacity_a >= need), None)
    return set_value("bank.links.size", wide.size, f"Links of {conductor_words(wide.size)}") if wide else None


@rule(
    "bank.series-unequal",
    "check",
    "{low} at {low_v} is to be joined in series with {high} at {high_v}: the fuller one is full long before the other.",
    PRACTICE,
    "Charge each alone to full and let it rest before they are joined; a balancer across blocks in series keeps them alike.",
)
def series_unequal(design: Design) -> Iterator[Hit]:
    """Packs of one string whose measured voltages differ by more than the meter's error and the table's: series blocks are not joined unequal."""
    bank = design.job.bank
    for at in range(0, len(bank.packs), bank.series):
        measured = [(pack.open_v, pack.tag) for pack in bank.packs[at : at + bank.series] if pack.open_v is not None]
        if bank.series > 1 and len(measured) > 1:
            (low_v, low), (high_v, high) = min(measured), max(measured)
            if high_v - low_v > SERIES_APART_CELL_V * bank.spec.cells_in_series:
                yield hit(low, high, low=low, low_v=volts(low_v), high=high, high_v=volts(high_v))


@rule("bank.bar-full", "stop", "{strings} strings on bars of {ways} ways.", "geometry")
def bar_full(design: Design) -> Iterator[Hit]:
    """More leads than the bars have ways."""
    links, strings = design.job.bank.links, design.bank.parallel
    if links.take_off in ("bar_equal", "bar_unequal") and strings > links.bar_ways:
        yield hit(
            *_packs(design),
            strings=str(strings),
            ways=str(links.bar_ways),
            remedy=set_value("bank.links.bar_ways", strings, f"Bars of {strings} ways"),
        )


@rule("bank.pack-fuse-missing", "check", "{pack} has no fuse or breaker of its own; in parallel each needs one.", PRACTICE)
def pack_fuse_missing(design: Design) -> Iterator[Hit]:
    """Several strings, no own protection."""
    spec = design.job.bank.spec
    if spec.fuse_a is None and design.bank.parallel > 1:
        yield hit(*_packs(design), pack=spec.name)


@rule("bank.pack-fuse-small", "stop", "{pack} carries {current} at full load; its own fuse of {fuse} is under 1.25 times that.", PRACTICE)
def pack_fuse_small(design: Design) -> Iterator[Hit]:
    """Own fuse under 1.25 times the busiest string's current."""
    fuse, shared = design.job.bank.spec.fuse_a, design.bank.sharing
    busiest = max((one.share for one in shared.strings), default=0.0) * design.bank.continuous_a.value
    if fuse is not None and over(1.25 * busiest, fuse):
        yield hit(shared.first, pack=shared.first, current=amps(busiest), fuse=amps(fuse))


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


@rule(
    "bank.join-apart",
    "stop",
    "{packs} must not be joined yet: {current} would flow at first, {allowed} is allowed.",
    "textbook relation: difference ÷ loop resistance",
)
def join_apart(design: Design) -> Iterator[Hit]:
    """Measured voltages too far apart."""
    if sum(pack.open_v is not None for pack in design.job.bank.packs) < 2:
        return
    apart = [pack for pack in joining(design).packs if not pack.joins]
    if apart:
        worst = max(apart, key=lambda pack: pack.current_a.value)
        yield hit(
            *(pack.tag for pack in apart),
            packs=", ".join(pack.tag for pack in apart),
            current=worst.current_a,
            allowed=amps(design.job.bank.join_a or design.job.bank.spec.charge_a),
        )


@rule("bank.address-twice", "stop", "{packs} have the same address {address}; each needs its own.", PRACTICE)
def address_twice(design: Design) -> Iterator[Hit]:
    """Two packs that answer to one address."""
    by_address: dict[int, list[str]] = {}
    for link in data_chain(design.job.bank.packs):
        by_address.setdefault(link.address, []).append(link.tag)
    for address, tags in by_address.items():
        if len(tags) > 1:
            yield hit(
                *tags,
                packs=" and ".join(tags),
                address=str(address),
                remedy=set_value(f"bank.packs[{tags[-1]}].address", None, f"{tags[-1]} gets the next address"),
            )


@rule(
    "bank.set-points-lfp",
    "stop",
    "The settings sheet is computed for LFP cells; {pack} is of another chemistry: use its maker's set points.",
    "pack datasheet",
)
def set_points_lfp(design: Design) -> Iterator[Hit]:
    """Cells whose voltages the settings step does not know."""
    if design.job.bank.spec.chemistry != "lfp":
        yield hit(*_packs(design), pack=design.job.bank.spec.name)


@rule(
    "bank.ripple", "check", "At the lowest voltage the inverters draw {mean} with {swing} swinging on it, {effective} effective; the packs allow {limit}.",
    "textbook relation: single-phase power swings about its mean",
)  # fmt: skip
def ripple_over(design: Design) -> Iterator[Hit]:
    """Effective current, ripple counted, above what the packs allow for good."""
    swing, limit = design.ripple, design.bank.discharge_limit_a
    if over(swing.effective_a.value, limit.value):
        tags = tuple(pack.tag for pack in design.job.bank.packs)
        yield hit(*tags, mean=swing.mean_a, swing=swing.swing_a, effective=swing.effective_a, limit=limit)
