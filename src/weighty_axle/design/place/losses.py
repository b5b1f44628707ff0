"""What loses heat in which bay, and how much at full load."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.ways import bay_at
from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.inverters import Group, Inverters, InverterSpec
from weighty_axle.job.models.roof import Roof, spec_of
from weighty_axle.job.models.vehicle import Bay, Vehicle
from weighty_axle.physics.electric.converters import LossCurve, fit_loss

NOON_SHARE = 0.8
"""Of their rating that modules give at noon. Source: common practice, no source."""

Kind = Literal["inverter", "controller", "engine", "converter", "pack"]


class Source(NamedTuple):
    """What loses heat in a bay: how many of a kind, their loss at full load [W], loss curve and derating where they are
    inverters, and whether they are of the system that is worked on, which has so many
    units.
    """

    kind: Kind
    tags: tuple[str, ...]
    full_w: float
    curve: LossCurve | None = None
    rated_w: float = 0.0
    full_to_c: float = math.inf
    derate_per_c: float = 0.0
    own: bool = True
    units: int = 1


class BayLoad(NamedTuple):
    """A bay with what loses heat in it, what that weighs, and the hottest air its packs stand."""

    bay: Bay
    sources: tuple[Source, ...]
    mass_kg: float
    packs_to_c: float


def bay_loads(
    vehicle: Vehicle,
    items: tuple[Item, ...],
    inverters: Inverters,
    whole: Inverters,
    groups: tuple[Group, ...],
    converters: tuple[Converter, ...],
    bank: Bank,
    ratings: BankRatings,
) -> tuple[BayLoad, ...]:
    """What loses heat in which bay. Stays as it is while things move within their bays.

    Source: datasheets; controllers at 97 %, common practice.
    """
    own = {unit.tag for unit in inverters.units}
    specs = {unit.tag: stack.spec for stack in (whole, *(group.inverters for group in groups)) for unit in stack.units}
    specs |= {unit.tag: inverters.spec for unit in inverters.units}
    changing = {one.tag: one for one in converters}
    packs = {pack.tag for pack in bank.packs}
    full_a = sum(inverters.spec.continuous_va for _ in inverters.units) / (
        inverters.spec.full_load_efficiency * ratings.lowest_working_v.value
    )
    pack_w = bank.spec.resistance_ohm * (full_a / max(1, ratings.parallel)) ** 2
    by: dict[str, list[Item]] = {}
    for item in items:
        bay = bay_at(vehicle, item.place)
        if bay is not None and item.kind in ("pack", "inverter", "controller", "converter"):
            by.setdefault(bay.tag, []).append(item)
    found = []
    for bay in vehicle.bays:
        here = by.get(bay.tag, [])
        sources: dict[tuple[object, ...], Source] = {}
        for item in here:
            if item.kind == "inverter":
                one = _inverter(item.tag, specs[item.tag], len(own) if item.tag in own else 0)
            elif item.kind == "controller":
                one = Source("controller", (item.tag,), 0.0)
            elif item.kind == "converter":
                one = _converter(changing[item.tag], ratings)
            elif item.tag in packs:
                one = Source("pack", (item.tag,), pack_w, rated_w=len(own) * inverters.spec.continuous_va)
            else:
                continue
            key = one._replace(tags=())
            was = sources.get(key)
            sources[key] = one if was is None else was._replace(tags=(*was.tags, *one.tags))
        if sources:
            to_c = bank.spec.charge_high_c if any(item.tag in packs for item in here) else math.inf
            found.append(BayLoad(bay, tuple(sources.values()), sum(item.mass_kg for item in here), to_c))
    return tuple(found)


def _inverter(tag: str, spec: InverterSpec, units: int) -> Source:
    curve = fit_loss(
        no_load_w=spec.no_load_w,
        peak_efficiency=spec.peak_efficiency,
        full_load_efficiency=spec.full_load_efficiency,
        rated_w=spec.continuous_va,
    )
    full_w = curve.loss_w(spec.continuous_va)
    return Source(
        "inverter", (tag,), full_w, curve, spec.continuous_va, spec.full_to_c, spec.derate_per_c, units > 0, units
    )


def _converter(one: Converter, ratings: BankRatings) -> Source:
    spec = one.spec
    volts = spec.output_v or ratings.nominal_v.value
    out_w = spec.output_w if spec.output_w is not None else (spec.output_a or 0.0) * volts
    kind: Kind = "engine" if one.works == "engine" else "converter"
    return Source(kind, (one.tag,), out_w * (1 / spec.efficiency - 1))


def noon_w(roof: Roof) -> dict[str, float]:
    """What each controller carries at noon on a clear day [W]: four fifths of its modules' rating.

    Source: common practice, no source.
    """
    controllers = {string.tag: string.controller for string in roof.strings}
    found: dict[str, float] = {}
    for module in roof.modules:
        if module.string in controllers:
            tag = controllers[module.string]
            found[tag] = found.get(tag, 0.0) + NOON_SHARE * spec_of(roof, module).pmp_w
    return found
