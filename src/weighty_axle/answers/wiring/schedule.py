"""Every conductor of a system as it is made and landed: battery runs, DC ways, AC feeders and circuits, strings."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from weighty_axle.answers.kept import kept
from weighty_axle.answers.wiring.cords import cords_of
from weighty_axle.answers.wiring.joints import WayEnd, joints
from weighty_axle.design.cables import AC_FEEDER_M, CIRCUIT_M, cores, feeder_cores
from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.roof.geometry import rope_m
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.guards import Guard
from weighty_axle.reference.hardware import glands
from weighty_axle.reference.tables import fuse_kinds

Carries = Literal["DC", "AC", "PV"]


class Conductor(Struct, frozen=True, kw_only=True):
    """A conductor, or both poles of one: where from and to, what of, how long, what guards it, what it drops, and what
    both its ends are landed with. `drop_share` is None where nothing is known of it, `fuse_a` where nothing guards it.
    """

    tag: str
    carries: Carries
    words: str
    start: str
    end: str
    size: str
    count: int
    length_m: float
    fuse_a: float | None
    guard: str
    current_a: float
    drop_share: float | None
    start_on: str
    end_on: str
    start_nm: float | None
    end_nm: float | None


@kept(
    "system",
    "ac",
    "circuits",
    "guards.guards",
    "house",
    "job.ac",
    "job.inverters",
    "job.practice",
    "job.roof",
    "panels",
    "protection",
    "roof.strings",
    asks=(joints,),
)
def schedule(design: Design) -> tuple[Conductor, ...]:
    """Every conductor of a system; of a group that shares a bank its AC side only.

    Source: the answers it is read from.
    """
    if design.system.shares_bank:
        return tuple(_alternating(design))
    return (*_direct(design), *_alternating(design), *_strings(design))


def guard_words(one: Guard) -> str:
    """What guards a way, in words."""
    kinds = fuse_kinds()
    return kinds[one.kind].name if one.kind in kinds else "breaker"


def _direct(design: Design) -> Iterator[Conductor]:
    guards = {one.tag: one for one in design.guards.guards}
    flows = {one.tag: one for one in design.flow.ways}
    for one in joints(design):
        guard, flow = guards[one.tag], flows[one.tag]
        yield Conductor(
            tag=one.tag,
            carries="DC",
            words=one.words,
            start=one.start.at,
            end=one.end.at,
            size=one.size,
            count=one.count,
            length_m=one.length_m,
            fuse_a=guard.rated_a,
            guard=guard_words(guard),
            current_a=one.amps,
            drop_share=flow.drop_share.value if flow.told else None,
            start_on=_on(one.start),
            end_on=_on(one.end),
            start_nm=_nm(one.start),
            end_nm=_nm(one.end),
        )


def _on(end: WayEnd) -> str:
    return ", ".join(one for one in (end.fitting, f"shrink {end.shrink}" if end.shrink else "") if one)


def _nm(end: WayEnd) -> float | None:
    return end.torque_nm.value if end.torque_nm is not None else None


def _alternating(design: Design) -> Iterator[Conductor]:
    """Nothing where no inverters are: the panel that is implied then is none."""
    if not design.job.inverters.units:
        return
    for cord in cords_of(design):
        yield Conductor(
            tag=cord.tag,
            carries="AC",
            words=f"cord to {cord.inlet.name}",
            start="what it is plugged in to",
            end=cord.inlet.tag,
            size=cord.size,
            count=1,
            length_m=cord.length_m.value,
            fuse_a=cord.inlet.amps,
            guard="breaker where it is plugged in",
            current_a=cord.inlet.amps,
            drop_share=cord.drop_share.value,
            start_on="plug",
            end_on="connector",
            start_nm=None,
            end_nm=None,
        )
    stated = {one.tag: one for one in design.ac.panels}
    within = feeder_cores(design.job.ac, design.job.inverters)
    for panel in design.panels.panels:
        own = stated[panel.tag]
        lands = f"gland {gland(outer_mm(own.size, within[panel.tag]))}, ferrules under screws"
        yield Conductor(
            tag=panel.tag,
            carries="AC",
            words=f"feeder of {panel.name}",
            start=own.fed_from,
            end=panel.tag,
            size=own.size,
            count=1,
            length_m=design.house.length_m(panel.tag, AC_FEEDER_M).value,
            fuse_a=own.breaker_a,
            guard="breaker",
            current_a=panel.feeder_a.value,
            drop_share=panel.drop_share.value,
            start_on=lands,
            end_on=lands,
            start_nm=None,
            end_nm=None,
        )
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        around = outer_mm(circuit.circuit.size, cores(len(circuit.lines)))
        lands = f"gland {gland(around)}, ferrules under screws"
        yield Conductor(
            tag=circuit.tag,
            carries="AC",
            words=circuit.name,
            start=circuit.panel,
            end=", ".join(circuit.loads) or "not used yet",
            size=circuit.circuit.size,
            count=1,
            length_m=design.house.length_m(circuit.tag, CIRCUIT_M).value,
            fuse_a=circuit.circuit.breaker_a,
            guard=_breaker_words(circuit.circuit.poles, circuit.circuit.rcd_ma),
            current_a=result.running_a.value,
            drop_share=result.drop_share.value,
            start_on=lands,
            end_on="socket's screws" if circuit.circuit.outlets else "ferrules or splices",
            start_nm=None,
            end_nm=None,
        )


def gland(cable_mm: float) -> str:
    """The smallest gland that holds a cable; the largest there is for one beyond the table.

    Source: reference/glands.json.
    """
    rows = glands().rows
    return next((row.thread for row in rows if row.least_mm <= cable_mm <= row.most_mm), rows[-1].thread)


def _breaker_words(poles: int, rcd_ma: float) -> str:
    words = f"breaker, {poles} pole{'s' if poles > 1 else ''}"
    return f"{words}, {rcd_ma:g} mA" if rcd_ma else words


def _strings(design: Design) -> Iterator[Conductor]:
    guards = {one.controller: one for one in design.protection}
    roof = design.job.roof
    for string in design.roof.strings:
        guard = guards.get(string.controller)
        if not string.modules or guard is None:
            continue
        yield Conductor(
            tag=string.tag,
            carries="PV",
            words=f"{len(string.modules)} modules to {string.controller}",
            start=string.modules[0],
            end=string.controller,
            size=roof.cable,
            count=1,
            length_m=rope_m(roof, string.controller, string.modules),
            fuse_a=guard.fuse_a.value if guard.fuse_a is not None else None,
            guard="string fuse" if guard.fuse_a is not None else "none needed",
            current_a=guard.isolator_a.value,
            drop_share=guard.cable.drop_share.value if guard.cable is not None else None,
            start_on="plugs of one make, sealed",
            end_on=f"two glands {gland(outer_mm(roof.cable))}, isolator, ferrules",
            start_nm=None,
            end_nm=None,
        )
