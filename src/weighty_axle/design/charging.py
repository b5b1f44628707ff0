"""Step Charging: what all sources together push into the bank, and what the alternator can spare."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank import BankRatings
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.remote import RemoteResult
from weighty_axle.design.roof import RoofResult
from weighty_axle.job.ac import Inverters
from weighty_axle.job.model import Charging
from weighty_axle.job.roof import Roof


class Mix(Struct, frozen=True):
    """Sources that can charge at one time, and their sum."""

    name: str
    parts: tuple[Figure, ...]
    total_a: Figure


class ChargingResult(Struct, frozen=True):
    """Every mix of sources against the bank; the alternator's budget where there is one."""

    mixes: tuple[Mix, ...]
    worst_a: Figure
    into_bank_a: Figure
    safe_limit_a: Figure
    alternator_budget_a: Figure | None
    alternator_demand_a: Figure | None


def charging(
    stated: Charging, inverters: Inverters, bank: BankRatings, roof: RoofResult, remote: tuple[RemoteResult, ...], stated_roof: Roof
) -> ChargingResult:
    """Sum of charge sources against the bank's limit; arrays elsewhere are all set up at once, on the road those on a trailer.

    Source: textbook relations; alternator share as stated in the job.
    """
    sun = Figure(
        "Sun",
        sum(one.output_a.value for one in roof.controllers),
        "A",
        "Σ output of the controllers",
        tuple(one.output_a for one in roof.controllers),
        TEXTBOOK,
    )
    spec = inverters.spec
    shore = Figure(
        "Shore",
        len(inverters.units) * spec.charge_a,
        "A",
        "inverter-chargers × charger rating",
        (Given("Units", len(inverters.units), "count"), Given("Charger rating of one", spec.charge_a, "A")),
        "inverter datasheet",
    )
    chargers = stated.alternator_chargers
    engine = Figure(
        "Alternator",
        sum(one.spec.output_w for one in chargers) / bank.lowest_working_v.value,
        "A",
        "Σ output of the alternator chargers ÷ lowest working voltage",
        (*(Given(one.tag, one.spec.output_w, "W") for one in chargers), bank.lowest_working_v),
        "charger datasheet",
    )
    set_up = _elsewhere("Arrays elsewhere", remote, stated_roof, roof, bank)
    towed_tags = {one.tag for one in stated_roof.remote if one.where == "trailer"}
    towed = _elsewhere("Arrays on the trailer", tuple(one for one in remote if one.tag in towed_tags), stated_roof, roof, bank)
    parked, driving = ((one,) if one.value > 0 else () for one in (set_up, towed))
    mixes = [_mix("Parked in sun", sun, *parked), _mix("Hooked up, night", shore), _mix("Hooked up in sun", sun, *parked, shore)]
    if chargers:
        mixes += [_mix("Driving in sun", sun, *driving, engine), _mix("Hooked up, engine running", sun, *parked, shore, engine)]
    worst = max((mix.total_a for mix in mixes), key=lambda one: one.value)
    limit = Given("System charge limit", stated.system_limit_a if stated.system_limit_a is not None else math.inf, "A")
    return ChargingResult(
        tuple(mixes), worst,
        Figure("Charge into the bank, worst case", min(worst.value, limit.value), "A", "largest sum of sources, at most the system charge limit", (worst, limit), TEXTBOOK),
        Figure("Safe system charge limit", float(math.floor(bank.charge_limit_a.value)), "A", "bank charge limit, rounded down", (bank.charge_limit_a,), PRACTICE),
        *_alternator(stated),
    )  # fmt: skip


def _elsewhere(name: str, arrays: tuple[RemoteResult, ...], stated: Roof, roof: RoofResult, bank: BankRatings) -> Figure:
    """What arrays elsewhere add to what the roof alone makes the controllers give, each still at most its rating."""
    added = []
    for controller, alone in zip(stated.controllers, roof.controllers, strict=True):
        rated_w = sum(one.rated_w.value for one in arrays if one.controller == controller.tag)
        both_a = min(controller.spec.output_a, (alone.rated_w.value + rated_w) / bank.lowest_working_v.value)
        added.append(Given(f"Added at {controller.tag}", both_a - alone.output_a.value, "A"))
    return Figure(
        name, sum(one.value for one in added), "A", "Σ (rated power of roof and arrays ÷ lowest working voltage, at most the controller's rating) − output with the roof alone",
        (*added, *(one.rated_w for one in arrays), bank.lowest_working_v), TEXTBOOK, "all set up at once",
    )  # fmt: skip


def _mix(name: str, *parts: Figure) -> Mix:
    return Mix(name, parts, Figure(f"Charge current, {name.lower()}", sum(part.value for part in parts), "A", "sum of the sources", parts, TEXTBOOK))


def _alternator(stated: Charging) -> tuple[Figure | None, Figure | None]:
    alternator = stated.alternator
    if alternator is None:
        return None, None
    rated, share, vehicle = (
        Given("Nameplate", alternator.rated_a, "A"),
        Given("Share, hot and slow", alternator.hot_share, "1"),
        Given("Vehicle's own loads", alternator.vehicle_a, "A"),
    )
    budget = Figure(
        "Alternator can spare",
        alternator.rated_a * alternator.hot_share - alternator.vehicle_a,
        "A",
        "nameplate × hot share − vehicle loads",
        (rated, share, vehicle),
        PRACTICE,
        "half to two thirds of nameplate when hot and slow",
    )
    taken = sum(one.spec.output_w / one.spec.efficiency for one in stated.alternator_chargers) / alternator.volts
    demand = Figure(
        "Alternator chargers take",
        taken,
        "A",
        "Σ output ÷ efficiency ÷ alternator voltage",
        (
            *(Given(f"{one.tag} takes", one.spec.output_w / one.spec.efficiency, "W") for one in stated.alternator_chargers),
            Given("Alternator voltage", alternator.volts, "V"),
        ),
        "charger datasheet",
    )
    return budget, demand
