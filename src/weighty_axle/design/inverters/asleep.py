"""Put to sleep: what stays alive behind the storage switch, and what it takes from the bank in a month."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.cold import ColdResult
from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.bank import Pack, PackSpec
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverters, Storage
from weighty_axle.job.models.roof import Controller
from weighty_axle.job.systems import bar_tag

MONTH_H = 730.0
"""Hours of a month: a twelfth of 8760."""


class Sleeper(Struct, frozen=True, kw_only=True):
    """One thing that takes power while the vehicle sleeps, and whether the storage switch leaves it alive."""

    tag: str
    name: str
    watts: float
    alive: bool
    why: str


class StorageResult(Struct, frozen=True, kw_only=True):
    """Everything that could drain the bank asleep; sums with the storage switch off and, to compare, left on."""

    sleepers: tuple[Sleeper, ...]
    alive_w: Figure
    month_wh: Figure
    month_share: Figure
    awake_month_wh: Figure
    lasts_days: Figure


def storage(
    stated: Storage,
    loads: tuple[Load, ...],
    inverters: Inverters,
    packs: tuple[Pack, ...],
    pack: PackSpec,
    controllers: tuple[Controller, ...],
    whole: Job,
    bar: str,
    bank: BankRatings,
    cold: ColdResult,
) -> StorageResult:
    """Drain of the sleeping vehicle.

    Source: sums of what was stated; own consumption of packs and controllers: common practice, no source.
    """
    alive = set(stated.alive)
    count = sum(not pack.out for pack in packs)
    found = []
    if pack.managed:  # lead-acid has no electronics of its own
        found.append(
            Sleeper(
                tag=packs[0].tag,
                name=f"BMS of {count} pack{'s' if count > 1 else ''}",
                watts=stated.pack_w * count,
                alive=True,
                why="inside the packs, before every switch",
            )
        )
    spec = inverters.spec
    found += [
        Sleeper(
            tag=unit.tag,
            name=spec.name,
            watts=spec.off_w if stated.switch or inverters.remote_switch else spec.no_load_w,
            alive=unit.tag in alive or not stated.switch,
            why="switched off" if stated.switch or inverters.remote_switch else "nothing turns it off",
        )
        for unit in inverters.units
    ]
    found += [
        Sleeper(
            tag=controller.tag,
            name=controller.spec.name,
            watts=stated.controller_w,
            alive=controller.tag in alive or not stated.switch,
            why="its own supply at night",
        )
        for controller in controllers
    ]
    found += [
        Sleeper(
            tag=one.tag,
            name=one.spec.name,
            watts=one.spec.own_w,
            alive=one.tag in alive or not stated.switch,
            why="its own draw",
        )
        for one in whole.converters
        if bar_tag(whole, one.start) == bar and one.spec.own_w and one.works != "engine"
    ]
    for load in loads:
        watts = load.standby_w * load.count or (load.running_w * load.count * load.duty if load.must_run else 0.0)
        if load.supply in DC_VOLTS and watts:
            found.append(
                Sleeper(
                    tag=load.tag,
                    name=load.name,
                    watts=watts,
                    alive=load.tag in alive or not stated.switch,
                    why="must run" if load.must_run else "standby",
                )
            )
    if cold.asleep_w.value:
        found.append(
            Sleeper(
                tag=packs[0].tag,
                name="Heater of the bank's box",
                watts=cold.asleep_w.value,
                alive=True,
                why="mean of the coldest month",
            )
        )
    sleepers = tuple(found)
    left = [sleeper for sleeper in sleepers if sleeper.alive]
    alive_w = Figure.total(
        name="Taken asleep",
        unit="W",
        formula="Σ of what stays alive",
        inputs=tuple(Given(f"{one.tag} {one.name}", one.watts, "W") for one in left),
        source=PRACTICE,
    )
    # Cold cells hold some of it back: it is counted as in the coldest month.
    usable = min(bank.usable_energy_wh, cold.usable_stored_wh, key=lambda one: one.value)
    month = Figure(
        name="Taken asleep in a month",
        value=alive_w.value * MONTH_H,
        unit="Wh",
        formula="power × 730 h",
        inputs=(alive_w,),
        source=TEXTBOOK,
    )
    awake = sum(sleeper.watts for sleeper in sleepers)
    lasts = usable.value / alive_w.value / 24 if alive_w.value else math.inf
    return StorageResult(
        sleepers=sleepers,
        alive_w=alive_w,
        month_wh=month,
        month_share=Figure.quotient(
            name="Share of the bank taken in a month",
            by_zero=math.inf,
            unit="1",
            formula="month's energy ÷ usable energy",
            inputs=(month, usable),
            source=TEXTBOOK,
        ),
        awake_month_wh=Figure(
            name="Taken in a month with the switch left on",
            value=awake * MONTH_H,
            unit="Wh",
            formula="power of everything × 730 h",
            inputs=tuple(Given(f"{sleeper.tag} {sleeper.name}", sleeper.watts, "W") for sleeper in sleepers),
            source=TEXTBOOK,
        ),
        lasts_days=Figure(
            name="Asleep the bank lasts",
            value=lasts,
            unit="days",
            formula="usable energy ÷ power ÷ 24 h",
            inputs=(usable, alive_w),
            source=TEXTBOOK,
            limit="from full; self-discharge of the cells comes on top",
        ),
    )
