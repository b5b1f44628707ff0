"""Step Charging: what all sources together push into the bank, and what the alternator can spare."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.figures import PRACTICE, SAME, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.sources import SourceRow
from weighty_axle.design.roof.elsewhere import RemoteResult
from weighty_axle.design.roof.strings import RoofResult
from weighty_axle.job.models.charging import AlternatorChargerSpec, Charging
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.roof import Roof


class Mix(Struct, frozen=True, kw_only=True):
    """Sources that can charge at one time, and their sum."""

    name: str
    parts: tuple[Figure, ...]
    total_a: Figure


class ChargingResult(Struct, frozen=True, kw_only=True):
    """Every mix of sources against the bank; the alternator's budget where there is one."""

    mixes: tuple[Mix, ...]
    worst_a: Figure
    into_bank_a: Figure
    safe_limit_a: Figure
    alternator_budget_a: Figure | None
    alternator_demand_a: Figure | None


def charging(
    stated: Charging,
    inverters: Inverters,
    ladder: tuple[SourceRow, ...],
    bank: BankRatings,
    roof: RoofResult,
    remote: tuple[RemoteResult, ...],
    stated_roof: Roof,
) -> ChargingResult:
    """Sum of charge sources against the bank's limit; arrays elsewhere are all set up at once, on the road those on a
    trailer.

    Source: textbook relations; alternator share as stated in the job.
    """
    sun = Figure.total(
        name="Sun",
        unit="A",
        formula="Σ output of the controllers",
        inputs=tuple(controller.output_a for controller in roof.controllers),
        source=TEXTBOOK,
    )
    shore = _shore(inverters, ladder, bank)
    chargers = stated.alternator_chargers
    engine = Figure(
        name="Alternator",
        value=sum(charger_output_a(charger.spec, bank.lowest_working_v.value) for charger in chargers),
        unit="A",
        formula="Σ output of the alternator chargers, what is rated in watts ÷ lowest working voltage",
        inputs=(
            *(
                Given(charger.tag, charger_output_a(charger.spec, bank.lowest_working_v.value), "A")
                for charger in chargers
            ),
            bank.lowest_working_v,
        ),
        source="charger datasheet",
    )
    set_up = _elsewhere("Arrays elsewhere", remote, stated_roof, roof, bank)
    towed_tags = {array.tag for array in stated_roof.remote if array.where == "trailer"}
    towed = _elsewhere(
        "Arrays on the trailer", tuple(array for array in remote if array.tag in towed_tags), stated_roof, roof, bank
    )
    parked, driving = ((one,) if one.value > 0 else () for one in (set_up, towed))
    mixes = [
        _mix("Parked in sun", sun, *parked),
        _mix("Hooked up, night", shore),
        _mix("Hooked up in sun", sun, *parked, shore),
    ]
    if chargers:
        mixes += [
            _mix("Driving in sun", sun, *driving, engine),
            _mix("Hooked up, engine running", sun, *parked, shore, engine),
        ]
    worst = max((mix.total_a for mix in mixes), key=lambda one: one.value)
    limit = Given("System charge limit", stated.system_limit_a if stated.system_limit_a is not None else math.inf, "A")
    budget, demand = _alternator(stated, bank)
    return ChargingResult(
        mixes=tuple(mixes),
        worst_a=worst,
        into_bank_a=Figure.least(
            name="Charge into the bank, worst case",
            unit="A",
            formula="largest sum of sources, at most the system charge limit",
            inputs=(worst, limit),
            source=TEXTBOOK,
        ),
        safe_limit_a=Figure(
            name="Safe system charge limit",
            value=float(math.floor(min(bank.charge_limit_a.value, bank.one_pack_out_charge_a.value) * (1 + SAME))),
            unit="A",
            formula="the lower of the bank's charge limit with every pack in and with any one out, rounded down",
            inputs=(bank.charge_limit_a, bank.one_pack_out_charge_a),
            source=PRACTICE,
        ),
        alternator_budget_a=budget,
        alternator_demand_a=demand,
    )


def _elsewhere(
    name: str, arrays: tuple[RemoteResult, ...], stated: Roof, roof: RoofResult, bank: BankRatings
) -> Figure:
    """What arrays elsewhere add to what the roof alone makes the controllers give, each still at most its rating."""
    added = []
    for controller, alone in zip(stated.controllers, roof.controllers, strict=True):
        rated_w = sum(array.rated_w.value for array in arrays if array.controller == controller.tag)
        both_a = min(controller.spec.output_a, (alone.rated_w.value + rated_w) / bank.lowest_working_v.value)
        added.append(Given(f"Added at {controller.tag}", both_a - alone.output_a.value, "A"))
    return Figure(
        name=name,
        value=sum(one.value for one in added),
        unit="A",
        formula=(
            "Σ (rated power of roof and arrays ÷ lowest working voltage, at most the controller's rating) − output "
            "with the roof alone"
        ),
        inputs=(*added, *(array.rated_w for array in arrays), bank.lowest_working_v),
        source=TEXTBOOK,
        limit="all set up at once",
    )


def _mix(name: str, *parts: Figure) -> Mix:
    return Mix(
        name=name,
        parts=parts,
        total_a=Figure.total(
            name=f"Charge current, {name.lower()}",
            unit="A",
            formula="sum of the sources",
            inputs=parts,
            source=TEXTBOOK,
        ),
    )


def charger_output_a(spec: AlternatorChargerSpec, low_v: float) -> float:
    """Most current of a charger [A]: its rating in amperes, or in watts at the lowest working voltage; the less of
    both.
    """
    return min(
        math.inf if spec.output_a is None else spec.output_a,
        math.inf if spec.output_w is None else spec.output_w / low_v,
    )


def charger_output_w(spec: AlternatorChargerSpec, high_v: float) -> float:
    """Most power of a charger [W]: its rating in watts, or in amperes at the highest voltage; the less of both."""
    return min(
        math.inf if spec.output_a is None else spec.output_a * high_v,
        math.inf if spec.output_w is None else spec.output_w,
    )


def _shore(inverters: Inverters, ladder: tuple[SourceRow, ...], bank: BankRatings) -> Figure:
    """What the inverter-chargers put into the bank, as far as any socket lets them; at the lowest working voltage that
    is most.
    """
    spec, units = inverters.spec, Given("Units", len(inverters.units), "count")
    rating = Given("Charger rating of one", spec.charge_a, "A")
    rated = units.value * rating.value
    if not ladder:
        return Figure(
            name="Shore",
            value=rated,
            unit="A",
            formula="inverter-chargers × charger rating",
            inputs=(units, rating),
            source="inverter datasheet",
            limit="no source is stated yet",
        )
    stated = {source.tag: source for source in inverters.sources}
    given = {
        row.tag: min(stated[row.tag].limit_a, stated[row.tag].amps) * stated[row.tag].volts * row.lines_own
        for row in ladder
    }
    best = max(given, key=lambda tag: given[tag])
    power, efficiency = (
        Given(f"Let through at {stated[best].name}", given[best], "W"),
        Given("Efficiency", spec.peak_efficiency, "1"),
    )
    socket_a = power.value * efficiency.value / bank.lowest_working_v.value
    return Figure(
        name="Shore",
        value=min(rated, socket_a),
        unit="A",
        formula=(
            "inverter-chargers × charger rating, at most the strongest source × efficiency ÷ lowest working voltage"
        ),
        inputs=(units, rating, power, efficiency, bank.lowest_working_v),
        source="inverter datasheet",
        limit=stated[best].name if socket_a < rated else "",
    )


def _alternator(stated: Charging, bank: BankRatings) -> tuple[Figure | None, Figure | None]:
    alternator = stated.alternator
    if alternator is None:
        return None, None
    rated, share, vehicle = (
        Given("Nameplate", alternator.rated_a, "A"),
        Given("Share, hot and slow", alternator.hot_share, "1"),
        Given("Vehicle's own loads", alternator.vehicle_a, "A"),
    )
    budget = Figure(
        name="Alternator can spare",
        value=alternator.rated_a * alternator.hot_share - alternator.vehicle_a,
        unit="A",
        formula="nameplate × hot share − vehicle loads",
        inputs=(rated, share, vehicle),
        source=PRACTICE,
        limit="half to two thirds of nameplate when hot and slow",
    )
    takes = [
        (charger.tag, charger_output_w(charger.spec, bank.max_v.value) / charger.spec.efficiency)
        for charger in stated.alternator_chargers
    ]
    taken = sum(watts for _, watts in takes) / alternator.volts
    demand = Figure(
        name="Alternator chargers take",
        value=taken,
        unit="A",
        formula="Σ output ÷ efficiency ÷ alternator voltage",
        inputs=(
            *(Given(f"{tag} takes", watts, "W") for tag, watts in takes),
            Given("Alternator voltage", alternator.volts, "V"),
        ),
        source="charger datasheet",
    )
    return budget, demand
