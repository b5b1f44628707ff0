"""Step Bank: energy three ways, currents against the packs' limits, autonomy."""

from __future__ import annotations

import math

from msgspec import Struct
from msgspec.structs import asdict

from weighty_axle.design.bank.links import TAKE_OFF_WORDS, Cable, PackState, Sharing, one_out, sharing, strings_of
from weighty_axle.design.beside import Beside
from weighty_axle.design.brief.day import BriefResult
from weighty_axle.design.brief.draws import DC_CHANNEL
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.bank import Links, PackSpec
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.physics.electric.batteries import VoltageCollapseError, current_for_power, prospective_current_a
from weighty_axle.reference.cells import CELL_POINTS

CELL_MOHM_AH = (25.0, 400.0)
"""Resistance of a cell with its part of the pack times its capacity [mΩ Ah]: what datasheets state lies well within.

Source: common practice, no source.
"""
LEAST_CELL_MOHM_AH = 50.0
"""The same at best, counted on for fault currents where the datasheet's value cannot be right.

Source: common practice, no source.
"""


def cell_mohm_ah(spec: PackSpec) -> float:
    """Resistance of a pack per cell, times its capacity [mΩ Ah]: alike for small and large cells."""
    return spec.resistance_ohm * 1000 / spec.cells_in_series * spec.capacity_ah


def _fault_ohm(spec: PackSpec) -> Given:
    """Resistance of a pack that a fault current is judged with: a slip upwards must not hide a fuse that cannot break
    it.
    """
    if cell_mohm_ah(spec) <= CELL_MOHM_AH[1]:
        return Given("Pack resistance", spec.resistance_ohm, "ohm")
    return Given(
        "Least plausible pack resistance", LEAST_CELL_MOHM_AH / 1000 * spec.cells_in_series / spec.capacity_ah, "ohm"
    )


class BankRatings(Struct, frozen=True, kw_only=True):
    """What the packs give and allow as one battery: the ceilings every other step uses.

    Does not depend on the loads.
    """

    cells: int
    parallel: int
    working: int
    sharing: Sharing
    links_known: bool
    spread_share: Figure
    nominal_v: Figure
    max_v: Figure
    lowest_working_v: Figure
    capacity_ah: Figure
    nominal_energy_wh: Figure
    usable_energy_wh: Figure
    equivalent_12v_ah: Figure
    charge_limit_a: Figure
    discharge_limit_a: Figure
    peak_limit_a: Figure
    resistance_ohm: Figure
    least_resistance_ohm: Figure
    fault_pack_ohm: float
    prospective_a: Figure
    one_pack_out_a: Figure
    one_pack_out_charge_a: Figure
    cable: Cable | None
    mass_kg: Figure


class BankResult(BankRatings, frozen=True, kw_only=True):
    """The ratings, and what this job's loads and inverters ask of them."""

    days: Figure
    continuous_a: Figure
    surge_a: Figure
    at_surge_v: Figure
    c_rate: Figure


def bank(ratings: BankRatings, inverters: Inverters, brief: BriefResult, beside: tuple[Beside, ...]) -> BankResult:
    """Autonomy and currents asked of a bank.

    Source: textbook relations; see docs/methods.md.
    """
    usable, need = ratings.usable_energy_wh, brief.energy_per_day_wh
    lasting = usable.value / need.value if need.value else math.inf
    continuous, surge = _inverter_currents(inverters, ratings.lowest_working_v, brief, beside)
    return BankResult(
        **asdict(ratings),
        days=Figure(
            name="Days without sun or hook-up",
            value=lasting,
            unit="days",
            formula="usable energy ÷ energy out of the bank per day",
            inputs=(usable, need),
            source=TEXTBOOK,
        ),
        continuous_a=continuous,
        surge_a=surge,
        at_surge_v=_sagged(ratings, inverters, beside),
        c_rate=Figure.quotient(
            name="C-rate at full inverter load",
            unit="per h",
            formula="bank current ÷ capacity",
            inputs=(continuous, ratings.capacity_ah),
            source=TEXTBOOK,
        ),
    )


def bank_ratings(
    spec: PackSpec, series: int, packs: tuple[PackState, ...], usable_share: float, links: Links
) -> BankRatings:
    """Everything that follows from packs, how they are linked, series and parallel alone.

    Strings with a pack taken out do not count.

    Source: textbook relations; limits from the pack's datasheet; shares by design.sharing.
    """
    strings = strings_of(packs, series)
    parallel = sum(not any(pack.out for pack in string) for string in strings)
    cells = spec.cells_in_series * series
    shared, known = _shared(spec, series, packs, links)
    p, s = Given("Strings working", parallel, "count"), Given("Cells in series", cells, "count")
    spread = Figure(
        name="Busiest string over the mean",
        value=shared.spread,
        unit="1",
        formula="largest current of a string ÷ mean, by Kirchhoff's laws",
        inputs=(
            p,
            Given("Pack resistance", spec.resistance_ohm, "ohm"),
            Given("Resistance between the terminals", shared.ohm, "ohm"),
        ),
        source="textbook relation (nodal analysis)",
        limit=TAKE_OFF_WORDS[shared.take_off],
    )

    def volts(name: str, cell_v: float, why: str) -> Figure:
        return Figure.product(
            name=name,
            unit="V",
            formula="cells in series × cell voltage",
            inputs=(s, Given("Cell voltage", cell_v, "V")),
            source=why,
        )

    def limit(name: str, each_a: float) -> Figure:
        given = (p, Given("Limit of one pack", each_a, "A"), spread)
        return Figure(
            name=name,
            value=shared.total_a(each_a),
            unit="A",
            formula="strings working × limit of one ÷ busiest over the mean",
            inputs=given,
            source="pack datasheet",
            limit=f"{shared.first} reaches its limit first" if shared.spread > 1.001 else "",
        )

    nominal = volts("Bank voltage, nominal", spec.cell_nominal_v, TEXTBOOK)
    highest = volts("Bank voltage, highest", spec.cell_max_v, "pack datasheet; nominal is not maximum")
    capacity = Figure.product(
        name="Bank capacity",
        unit="Ah",
        formula="strings working × capacity of one",
        inputs=(p, Given("Capacity of one", spec.capacity_ah, "Ah")),
        source=TEXTBOOK,
    )
    energy = Figure.product(
        name="Bank energy, nominal",
        unit="Wh",
        formula="nominal voltage × capacity",
        inputs=(nominal, capacity),
        source=TEXTBOOK,
    )
    resistance = Figure(
        name="Bank resistance",
        value=shared.ohm,
        unit="ohm",
        formula="voltage lost between the terminals per ampere, by Kirchhoff's laws",
        inputs=(p, Given("Pack resistance", spec.resistance_ohm, "ohm"), Given("Packs in series", series, "count")),
        source="textbook relation (nodal analysis)",
        limit="packs in service with their ageing, links and leads",
    )
    # A fault does not wait for a pack to age, and one taken out may be put back: the least resistance makes the most
    # current.
    each = _fault_ohm(spec)
    least = Figure(
        name="Bank resistance for a fault",
        value=1 / sum(1 / sum(each.value * min(1.0, pack.resistance_factor) for pack in string) for string in strings),
        unit="ohm",
        formula="1 ÷ (sum over all strings of 1 ÷ packs' resistance)",
        inputs=(Given("Strings", len(strings), "count"), each, Given("Packs in series", series, "count")),
        source=TEXTBOOK,
        limit="every pack in, none aged; links and leads left out on purpose: they only lower the current",
    )
    # Which string hurts most by its loss depends on links and ageing (it need not be the busiest), so each is tried.
    usual = links if known else Links(take_off=links.take_off)
    lost = one_out(spec, series, packs, usual, shared)
    largest_share = max(lost.strings, default=math.inf)
    charge_limit = limit("Bank charge limit", spec.charge_a)
    return BankRatings(
        cells=cells,
        parallel=len(strings),
        working=parallel,
        sharing=shared,
        links_known=known,
        spread_share=spread,
        nominal_v=nominal,
        max_v=highest,
        lowest_working_v=volts("Bank voltage, lowest working", CELL_POINTS[spec.chemistry].cut_out, PRACTICE),
        capacity_ah=capacity,
        nominal_energy_wh=energy,
        usable_energy_wh=Figure.product(
            name="Bank energy, usable",
            unit="Wh",
            formula="nominal energy × usable share",
            inputs=(energy, Given("Usable share", usable_share, "1")),
            source=TEXTBOOK,
        ),
        equivalent_12v_ah=Figure(
            name="Bank in 12 V ampere-hours",
            value=energy.value / 12.8,
            unit="Ah",
            formula="nominal energy ÷ 12.8 V",
            inputs=(energy,),
            source=PRACTICE,
        ),
        charge_limit_a=charge_limit,
        discharge_limit_a=limit("Bank discharge limit", spec.discharge_a),
        peak_limit_a=limit("Bank peak limit", spec.peak_a),
        resistance_ohm=resistance,
        least_resistance_ohm=least,
        fault_pack_ohm=each.value,
        prospective_a=Figure(
            name="Short-circuit current at the bank",
            value=prospective_current_a(open_circuit_v=highest.value, resistance_ohm=least.value),
            unit="A",
            formula="highest voltage ÷ bank resistance for a fault",
            inputs=(highest, least),
            source=TEXTBOOK,
        ),
        one_pack_out_a=Figure(
            name="Discharge limit with one pack out",
            value=spec.discharge_a / largest_share,
            unit="A",
            formula="limit of one ÷ largest share of a string, with each string out in turn: the least of them",
            inputs=(
                p,
                Given("Limit of one pack", spec.discharge_a, "A"),
                *([Given("Largest share of a string", largest_share, "1")] if lost.strings else []),
            ),
            source="textbook relation (nodal analysis)",
            limit="" if lost.strings else "there is no other string",
        ),
        one_pack_out_charge_a=Figure(
            name="Charge limit with one pack out",
            value=spec.charge_a / largest_share if lost.strings else charge_limit.value,
            unit="A",
            formula="limit of one ÷ largest share of a string, with each string out in turn: the least of them",
            inputs=(
                Given("Limit of one pack", spec.charge_a, "A"),
                Given("Largest share of a string", largest_share, "1"),
            )
            if lost.strings
            else (charge_limit,),
            source="textbook relation (nodal analysis)",
            limit="" if lost.strings else "there is no other string: with it out nothing charges",
        ),
        cable=lost.cable,
        mass_kg=Figure.product(
            name="Bank mass",
            unit="kg",
            formula="packs × mass of one",
            inputs=(Given("Packs", len(packs), "count"), Given("Mass of one", spec.mass_kg, "kg")),
            source=TEXTBOOK,
        ),
    )


def _shared(spec: PackSpec, series: int, packs: tuple[PackState, ...], links: Links) -> tuple[Sharing, bool]:
    """Sharing as linked, and whether the conductor of the links is known; an unknown one is taken as the usual size and
    said by a rule.
    """
    try:
        return sharing(spec, series, packs, links), True
    except ValueError:
        return sharing(spec, series, packs, Links(take_off=links.take_off)), False


def _sagged(ratings: BankRatings, inverters: Inverters, beside: tuple[Beside, ...]) -> Figure:
    """Voltage at the bank's terminals while all inverters surge; 0 when the bank cannot give that power at all."""
    others = tuple(one.surge_w for one in beside)
    power_w = len(inverters.units) * inverters.spec.surge_va / inverters.spec.full_load_efficiency
    power_w += sum(one.value for one in others)
    lowest, resistance = ratings.lowest_working_v, ratings.resistance_ohm
    try:
        current_a = current_for_power(power_w=power_w, open_circuit_v=lowest.value, resistance_ohm=resistance.value)
        volts, limit = (
            lowest.value - resistance.value * current_a,
            "bank nearly empty, with its links; the main run comes on top",
        )
    except VoltageCollapseError as error:
        volts, limit = 0.0, f"voltage collapse: {error}"
    return Figure(
        name="Bank voltage at surge",
        value=volts,
        unit="V",
        formula="V − R I with I = (V − √(V² − 4 R P)) ÷ 2 R",
        inputs=(lowest, resistance, Given("Power into the inverters", power_w, "W"), *others),
        source=TEXTBOOK,
        limit=limit,
    )


def _inverter_currents(
    inverters: Inverters, lowest: Figure, brief: BriefResult, beside: tuple[Beside, ...]
) -> tuple[Figure, Figure]:
    spec, count = inverters.spec, len(inverters.units)
    dc_w = max((max(profile.running_w.values[DC_CHANNEL]) for profile in brief.profiles.values()), default=0.0)
    dc = Given("DC loads together", dc_w, "W")
    fulls, surges = tuple(one.full_w for one in beside), tuple(one.surge_w for one in beside)
    more = " + others on the bank" if beside else ""
    units = Given("Inverters", count, "count")
    full = Given("Efficiency at full load", spec.full_load_efficiency, "1")
    continuous = Figure(
        name="Bank current, inverters at full load",
        value=(count * spec.continuous_va / spec.full_load_efficiency + dc_w + sum(one.value for one in fulls))
        / lowest.value,
        unit="A",
        formula=f"(units × rating ÷ efficiency + DC loads{more}) ÷ lowest working voltage",
        inputs=(units, Given("Rating of one", spec.continuous_va, "W"), full, dc, lowest, *fulls),
        source=TEXTBOOK,
        limit=(
            "rating taken as watts: power factor 1; a single-phase inverter draws it with a ripple of twice the mains "
            "frequency on top"
        ),
    )
    surge = Figure(
        name="Bank current, inverters at surge",
        value=(count * spec.surge_va / spec.full_load_efficiency + dc_w + sum(one.value for one in surges))
        / lowest.value,
        unit="A",
        formula=f"(units × surge ÷ efficiency + DC loads{more}) ÷ lowest working voltage",
        inputs=(units, Given("Surge of one", spec.surge_va, "W"), full, dc, lowest, *surges),
        source=TEXTBOOK,
    )
    return continuous, surge
