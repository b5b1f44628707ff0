"""How a run lies: the warmest air it passes through, and how many runs lie beside it."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from msgspec.structs import replace

from weighty_axle.design.place.heat import HeatResult
from weighty_axle.design.ways import Path
from weighty_axle.job.models.vehicle import Site, Vehicle, WireWay
from weighty_axle.job.models.wiring import Wiring

ENGINE_C, ROOF_C = 70.0, 60.0
"""Air around cables beside an engine, and under a roof in the sun [degC]. Source: common practice, no source."""


SHORT_WAY_M = 0.6
"""Up to this length a way is a sleeve that runs may share without warming one another.

Source: NEC (NFPA 70) 2023 310.15(C)(1)(b) (nipples to 24 in), recalled.
"""


class Laid(NamedTuple):
    """What ways do to the runs in them: air [degC] by way, and two-wire runs by way."""

    air_c: dict[str, float]
    runs: dict[str, int]


def air_in_ways(vehicle: Vehicle, heat: HeatResult, site: Site) -> dict[str, float]:
    """Air around the cables of every way at its warmest [degC].

    Source: bays as their heat is computed; engine and roof common practice, no source.
    """
    bays = {one.tag: one.peak_c.value for one in heat.bays}
    found = {}
    for way in vehicle.ways:
        warmest = max((bays[end] for end in (way.start, way.end) if end in bays), default=site.design_high_c)
        found[way.tag] = {
            "engine": max(ENGINE_C, site.design_high_c),
            "roof": max(ROOF_C, site.design_high_c),
            "bay": warmest,
            "outside": site.design_high_c,
            "living": 0.0,
        }[way.zone]
    return found


def runs_in_ways(paths: Iterable[Path | None]) -> dict[str, int]:
    """Two-wire runs in every way that is longer than a sleeve."""
    found: dict[str, int] = {}
    for path in paths:
        for way in ways_on(path):
            if way.length_m > SHORT_WAY_M:
                found[way.tag] = found.get(way.tag, 0) + 1
    return found


def ways_on(path: Path | None) -> tuple[WireWay, ...]:
    """The ways of a path; none where there is no path."""
    return path.ways if path is not None else ()


def in_place(stated: Wiring, ways: tuple[WireWay, ...], laid: Laid) -> Wiring:
    """The wiring as what goes through some ways lies: never in cooler air or with fewer runs beside it than is stated
    for all.
    """
    air = max((stated.ambient_c, *(laid.air_c.get(way.tag, 0.0) for way in ways)))
    together = max((stated.runs_together, *(laid.runs.get(way.tag, 0) for way in ways)))
    if air == stated.ambient_c and together == stated.runs_together:
        return stated
    return replace(stated, ambient_c=air, runs_together=together)
