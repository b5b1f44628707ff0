"""Stages of a conversion: the job as it stands at each, and what feeds what then."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.charging import Stage
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.systems import bar_of, bar_tag, fed_by, load_bar


class StageBar(Struct, frozen=True, kw_only=True):
    """One bar at a stage: its bank, what feeds it, and the DC loads on it."""

    tag: str
    name: str
    bank: str
    fed_by: tuple[str, ...]
    loads: tuple[str, ...]


def usual_stages(job: Job) -> tuple[Stage, ...]:
    """The stages as stated; where none are and there are either-or switches, one for each way the first stands."""
    if job.stages or not job.dc.switches:
        return job.stages
    first = job.dc.switches[0]
    ways = sorted(first.bars, key=lambda bar: bar != first.now)
    return tuple(
        Stage(tag=f"SG{at + 1}", name=f"{first.name} at {bar}", stands={first.tag: bar}) for at, bar in enumerate(ways)
    )


def stage_job(job: Job, stage: Stage) -> Job:
    """The job as it stands at a stage: switches as they stand, and without what is not there yet.

    The last pack of a bank stays: a bank without packs is no bank.
    """
    out = set(stage.without)

    def bank(one: Bank) -> Bank:
        packs = tuple(replace(pack, out=True) if pack.tag in out else pack for pack in one.packs)
        return one if all(pack.out for pack in packs) else replace(one, packs=packs)

    def stack(one: Inverters) -> Inverters:
        units = tuple(unit for unit in one.units if unit.tag not in out)
        stacking = one.stacking if len(units) == len(one.units) else "single"
        return replace(one, units=units, stacking=stacking)

    switches = tuple(replace(one, now=stage.stands.get(one.tag, one.now)) for one in job.dc.switches)
    controllers = tuple(one for one in job.roof.controllers if one.tag not in out)
    left = {one.tag for one in controllers}
    strings = tuple(one for one in job.roof.strings if one.controller in left)
    strung = {one.tag for one in strings}
    return replace(
        job,
        bank=bank(job.bank),
        inverters=stack(job.inverters),
        bars=tuple(replace(bar, bank=bank(bar.bank)) if bar.bank is not None else bar for bar in job.bars),
        groups=tuple(replace(group, inverters=stack(group.inverters)) for group in job.groups),
        converters=tuple(one for one in job.converters if one.tag not in out),
        dc=replace(job.dc, switches=switches),
        stages=(),
        roof=replace(
            job.roof,
            controllers=controllers,
            strings=strings,
            remote=tuple(one for one in job.roof.remote if one.controller in left),
            modules=tuple(
                one if one.string in strung or not one.string else replace(one, string="") for one in job.roof.modules
            ),
        ),
    )


def stage_bars(job: Job) -> tuple[StageBar, ...]:
    """What feeds what, bar by bar, in a job as it stands."""
    found = []
    for tag in (job.wiring.board.tag, *(bar.tag for bar in job.bars)):
        stated = bar_of(job, tag)
        bank = job.bank if stated is None else stated.bank
        role = {"house": "bank", "starting": "starting battery", "kept": "kept bank", "trial": "bank on trial"}
        fed = [one.tag for one in job.converters if bar_tag(job, one.end) == tag]
        fed += [f"{one.tag} back" for one in job.converters if one.both_ways and bar_tag(job, one.start) == tag]
        fed += [one.tag for one in job.roof.controllers if bar_tag(job, one.bar) == tag]
        stacks = [(job.inverters, ""), *((group.inverters, group.bar) for group in job.groups)]
        fed += [unit.tag for one, on in stacks if bar_tag(job, on) == tag and one.sources for unit in one.units]
        fed += [one.tag for one in job.charging.alternators if one.bar == tag]
        loads = [load.tag for load in job.loads if load.supply.startswith("DC") and load_bar(job, load) == tag]
        found.append(
            StageBar(
                tag=tag,
                name=stated.name if stated is not None else job.wiring.board.name,
                bank=f"{role[bank.role]}, {bank.spec.name}" if bank is not None else f"fed from {fed_by(job, tag)}",
                fed_by=tuple(fed),
                loads=tuple(loads),
            )
        )
    return tuple(found)


def changes(before: Job, after: Job) -> tuple[str, ...]:
    """What is to be changed between two stages, in words: what comes, what goes, what is turned."""
    words = []
    was, now = _there(before), _there(after)
    came, went = [tag for tag in now if tag not in was], [tag for tag in was if tag not in now]
    words += [f"{' '.join(came)} go{'es' if len(came) == 1 else ''} in"] if came else []
    words += [f"{' '.join(went)} come{'s' if len(went) == 1 else ''} out"] if went else []
    stood = {one.tag: one.now for one in before.dc.switches}
    words += [
        f"{one.tag} from {stood[one.tag]} to {one.now}"
        for one in after.dc.switches
        if one.tag in stood and stood[one.tag] != one.now
    ]
    return tuple(words)


def _there(job: Job) -> list[str]:
    """Tags of packs, units, controllers and converters that are in service."""
    banks = (job.bank, *(bar.bank for bar in job.bars if bar.bank is not None))
    stacks = (job.inverters, *(group.inverters for group in job.groups))
    return [
        *(pack.tag for one in banks for pack in one.packs if not pack.out),
        *(unit.tag for one in stacks for unit in one.units),
        *(one.tag for one in job.roof.controllers),
        *(one.tag for one in job.converters),
    ]
