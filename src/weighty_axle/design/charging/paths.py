"""Ways energy takes from bar to bar: converters, and chargers behind inverters; rounds it can go for nothing."""

from __future__ import annotations

from typing import NamedTuple

from msgspec.structs import replace

from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import FROM_INVERTERS, AcSide, Group, Inverters
from weighty_axle.job.systems import System, bar_tag


class ChargerLoad(NamedTuple):
    """A charger on the AC side: its tag, the bar it charges, and the bar whose inverters feed it; empty where it hangs
    before them.
    """

    tag: str
    charges: str
    fed_by: str


class Way(NamedTuple):
    """A step energy can take: from bar to bar, by what, and whether only while the engine runs."""

    start: str
    end: str
    tags: tuple[str, ...]
    by_engine: bool


def behind_inverters(ac: AcSide, inverters: Inverters, load: Load) -> bool:
    """Whether a load hangs on what the inverters feed: by its circuit's panel and what feeds that, as stated."""
    circuit = next((one for one in ac.circuits if one.tag == load.circuit), None)
    panels = {one.tag: one.fed_from for one in ac.panels}
    units = {unit.tag for unit in inverters.units}
    at = circuit.panel if circuit is not None else ""
    for _ in range(len(panels) + 1):
        if at not in panels:
            return not at or at == FROM_INVERTERS or at in units
        at = panels[at]
    return True


def charger_loads(
    loads: tuple[Load, ...], groups: tuple[Group, ...], ac: AcSide, inverters: Inverters, house: str
) -> tuple[ChargerLoad, ...]:
    """Every load of a whole job that is a charger of a bar."""
    found = []
    for load in loads:
        if not load.charges:
            continue
        own = next(
            (one for one in groups if load.on == one.tag or any(part.tag == load.circuit for part in one.ac.circuits)),
            None,
        )
        side, units, bar = (own.ac, own.inverters, own.bar or house) if own is not None else (ac, inverters, house)
        behind = bool(units.units) and behind_inverters(side, units, load)
        found.append(ChargerLoad(load.tag, load.charges, bar if behind else ""))
    return tuple(found)


def charged(loads: tuple[Load, ...]) -> tuple[Load, ...]:
    """Loads that are chargers, without their days: what they give does not hang on when they are painted."""
    return tuple(replace(load, patterns={}) for load in loads if load.charges)


def ways(job: Job, chargers: tuple[ChargerLoad, ...]) -> tuple[Way, ...]:
    """Every step from bar to bar."""
    found = []
    for one in job.converters:
        start, end, engine = bar_tag(job, one.start), bar_tag(job, one.end), one.works == "engine"
        found.append(Way(start, end, (one.tag,), engine))
        if one.both_ways:
            found.append(Way(end, start, (one.tag,), engine))
    found += [Way(one.fed_by, one.charges, (one.tag,), by_engine=False) for one in chargers if one.fed_by]
    return tuple(found)


def feeding(job: Job, chargers: tuple[ChargerLoad, ...], system: System) -> tuple[str, ...]:
    """Bars from which energy gets to a system's bar by any number of steps; itself first."""
    there, found = ways(job, chargers), [system.bar]
    for at in found:
        found += [one.start for one in there if one.end == at and one.start not in found]
    return tuple(found)


def rounds(job: Job, chargers: tuple[ChargerLoad, ...]) -> tuple[tuple[Way, ...], ...]:
    """Every round energy can go, each once, from the bar that comes first by name; one thing that carries both ways is
    no round by itself.
    """
    there = ways(job, chargers)
    found: list[tuple[Way, ...]] = []

    def walk(way: tuple[Way, ...]) -> None:
        begin, at = way[0].start, way[-1].end
        if at == begin:
            if len({one.tags for one in way}) == len(way):
                found.append(way)
            return
        for one in there:
            if one.start == at and one.end >= begin and all(one.end != passed.end for passed in way):
                walk((*way, one))

    for one in there:
        if one.end >= one.start:
            walk((one,))
    return tuple(found)
