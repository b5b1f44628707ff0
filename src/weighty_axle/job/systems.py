"""Systems of a job: each bank with what hangs on its bar, each inverter group; every one seen as a job of its own.

A job of one bank and one group is one system and is seen as it is. With more bars or groups each is worked on as if it
were alone (`part_of`), and what was changed there goes back into the whole (`put_back`).
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from msgspec.structs import replace

from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import AcSide, Group, Inverters
from weighty_axle.job.models.roof import Roof
from weighty_axle.job.models.settings import Settings
from weighty_axle.job.models.wiring import Bar, Board, DcCircuit

HOUSE = ""
"""Key of the first system: the house bar with its bank and the first inverters."""


class System(NamedTuple):
    """One system: its key (empty, a bar's tag or a group's), its name, the bar it is on, and whether it only shares the
    bank of that bar.
    """

    key: str
    name: str
    bar: str
    shares_bank: bool = False


def systems(job: Job) -> tuple[System, ...]:
    """The house first, then bars with banks, then groups that share a bank."""
    found = [System(HOUSE, "House", job.wiring.board.tag)]
    found += [System(bar.tag, bar.name, bar.tag) for bar in job.bars if bar.bank is not None]
    for group in job.groups:
        if _own_group(job, bar_tag(job, group.bar)) is not group:
            found.append(System(group.tag, group.name, bar_tag(job, group.bar), shares_bank=True))
    return tuple(found)


def bar_tag(job: Job, said: str) -> str:
    """Tag of a bar as stated: empty is the house bar."""
    return said or job.wiring.board.tag


def bar_of(job: Job, tag: str) -> Bar | None:
    """A bar beside the house bar; None for the house bar and what is not stated."""
    return next((bar for bar in job.bars if bar.tag == tag), None)


def _own_group(job: Job, tag: str) -> Group | None:
    """The group that is a bar's own: the first on it; on the house bar the first inverters are."""
    if tag == job.wiring.board.tag:
        return None
    return next((group for group in job.groups if group.bar == tag), None)


def fed_by(job: Job, tag: str) -> str:
    """The bar with a bank that feeds a bar: itself where it has one, else what its converters start from."""
    for _ in range(len(job.bars) + 1):
        bar = bar_of(job, tag)
        if bar is None or bar.bank is not None:
            return tag
        start = next((one.start for one in job.converters if one.end == tag), HOUSE)
        tag = bar_tag(job, start)
    return job.wiring.board.tag


def circuit_bar(job: Job, circuit: DcCircuit) -> str:
    """The bar a DC circuit hangs on as its switches stand."""
    panel = next((one for one in job.dc.panels if one.tag == circuit.panel), None)
    if panel is None:
        return bar_tag(job, circuit.bar)
    switch = next((one for one in job.dc.switches if one.feeds == panel.tag), None)
    return switch.now if switch is not None else bar_tag(job, panel.bar)


def load_bar(job: Job, load: Load) -> str:
    """The bar a DC load hangs on: its circuit's, the one it names, or the house bar."""
    circuit = next((one for one in job.dc.circuits if one.tag == load.circuit), None)
    if circuit is not None:
        return circuit_bar(job, circuit)
    return load.on if bar_of(job, load.on) is not None else job.wiring.board.tag


def _system_of(job: Job, load: Load) -> str:
    """Key of the system a load belongs to."""
    if load.supply.startswith("DC"):
        tag = fed_by(job, load_bar(job, load))
        return HOUSE if tag == job.wiring.board.tag else tag
    for group in job.groups:
        if load.on == group.tag or any(one.tag == load.circuit for one in group.ac.circuits):
            return group.bar if group is _own_group(job, bar_tag(job, group.bar)) else group.tag
    return HOUSE


def part_of(job: Job, key: str) -> Job:
    """One system as a job of its own; `converters`, `dc`, `bars` and `groups` stay those of the whole."""
    if not job.bars and not job.groups:
        return job
    loads = tuple(load for load in job.loads if _system_of(job, load) == key)
    if key == HOUSE:
        house = job.wiring.board.tag
        alone = all(bar_tag(job, one.bar) == house for one in job.roof.controllers)
        roof = job.roof if alone else _roof_of(job, (house,), unstrung=True)
        return replace(job, loads=loads if len(loads) < len(job.loads) else job.loads, roof=roof)
    group = next((one for one in job.groups if one.tag == key), None)
    bar = bar_of(job, bar_tag(job, group.bar) if group is not None else key)
    own = group or _own_group(job, key)
    inverters, ac = (own.inverters, own.ac) if own is not None else (_no_inverters(job), AcSide())
    ac = replace(ac, storage=job.ac.storage)  # one switch puts all of it to sleep
    # What was found on board is judged once, with the house.
    seen = replace(job, loads=loads, inverters=inverters, ac=ac, existing=())
    if bar is None or bar.bank is None:
        return replace(seen, roof=_roof_of(job, (job.wiring.board.tag,) if group is None else ()))
    return replace(
        seen,
        bank=bar.bank,
        roof=_roof_of(job, (bar.tag,) if group is None else ()),
        wiring=replace(job.wiring, board=bar, main_lead_m=None),
        settings=Settings(full_charge=bar.full_charge, own_values=bar.own_values),
        charging=replace(
            job.charging,
            system_limit_a=bar.charge_limit_a,
            alternators=tuple(one for one in job.charging.alternators if one.bar == bar.tag),
        ),
    )


def _no_inverters(job: Job) -> Inverters:
    """What stands where a bar has no inverters."""
    return replace(job.inverters, stacking="single", units=(), sources=())


def _roof_of(job: Job, bars: tuple[str, ...], *, unstrung: bool = False) -> Roof:
    """The roof with only what charges some bars; with modules on no string where these are asked for."""
    roof = job.roof
    controllers = tuple(one for one in roof.controllers if bar_tag(job, one.bar) in bars)
    tags = {one.tag for one in controllers}
    strings = tuple(one for one in roof.strings if one.controller in tags)
    strung = {one.tag for one in strings}
    return replace(
        roof,
        controllers=controllers,
        strings=strings,
        modules=tuple(one for one in roof.modules if one.string in strung or (unstrung and not one.string)),
        remote=tuple(one for one in roof.remote if one.controller in tags),
    )


# ---- back into the whole -------------------------------------------------------------------------------------


def put_back(job: Job, key: str, changed: Job) -> Job:
    """The whole with one system changed as `changed`, which was made of `part_of(job, key)`."""
    if not job.bars and not job.groups:
        return changed
    seen = part_of(job, key)
    loads = _merged(job.loads, seen.loads, changed.loads)
    if key == HOUSE:
        roof = changed.roof if seen.roof is job.roof else _roof_back(job.roof, seen.roof, changed.roof)
        return replace(changed, loads=loads, roof=roof)
    whole = replace(
        changed,
        loads=loads,
        existing=(*job.existing, *changed.existing),
        bank=job.bank,
        inverters=job.inverters,
        ac=replace(job.ac, storage=changed.ac.storage),
        roof=_roof_back(job.roof, seen.roof, changed.roof),
        wiring=replace(changed.wiring, board=job.wiring.board, main_lead_m=job.wiring.main_lead_m),
        settings=job.settings,
        charging=job.charging,
    )
    group = next((one for one in whole.groups if one.tag == key), None) or _own_group(whole, key)
    if group is not None:
        new = replace(group, inverters=changed.inverters, ac=replace(changed.ac, storage=group.ac.storage))
        whole = replace(whole, groups=tuple(new if one is group else one for one in whole.groups))
    bar = bar_of(whole, bar_tag(whole, group.bar) if group is not None else key)
    if bar is None or bar.bank is None:
        return replace(
            whole, bank=changed.bank, settings=changed.settings, wiring=changed.wiring, charging=changed.charging
        )
    board = {name: getattr(changed.wiring.board, name) for name in Board.__struct_fields__}
    new_bar = replace(
        bar,
        **board,
        bank=changed.bank,
        full_charge=changed.settings.full_charge,
        own_values=changed.settings.own_values,
        charge_limit_a=changed.charging.system_limit_a,
    )
    return replace(whole, bars=tuple(new_bar if one.tag == bar.tag else one for one in whole.bars))


def _merged(all_old: tuple[Load, ...], seen: tuple[Load, ...], new: tuple[Load, ...]) -> tuple[Load, ...]:
    """All loads with those of one system replaced: each new one where the old one of its tag stood, the rest behind."""
    if seen is all_old or len(seen) == len(all_old):
        return new
    if seen is new:
        return all_old
    mine = {load.tag for load in seen}
    places = iter(new)
    kept = [next(places, None) if load.tag in mine else load for load in all_old]
    return (*(load for load in kept if load is not None), *places)


def _roof_back(roof: Roof, seen: Roof, changed: Roof) -> Roof:
    """The whole roof with one system's parts replaced."""

    def back(name: str) -> tuple[object, ...]:
        mine = {one.tag for one in getattr(seen, name)}
        return (*(one for one in getattr(roof, name) if one.tag not in mine), *getattr(changed, name))

    parts = ("controllers", "strings", "modules", "remote")
    return replace(
        changed,
        **{
            name: getattr(roof, name) if getattr(seen, name) == getattr(changed, name) else back(name) for name in parts
        },
    )


def converters_into(job: Job, bar: str) -> Iterable[tuple[str, bool]]:
    """Tags of converters that can carry into a bar, and whether by carrying back."""
    for one in job.converters:
        if bar_tag(job, one.end) == bar:
            yield one.tag, False
        elif one.both_ways and bar_tag(job, one.start) == bar:
            yield one.tag, True
