"""Changes made on sheets: any value at any path, entries added and taken away, datasheets of one type at once."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit, value_at, with_value
from weighty_axle.job.edits.inverters import fit_stacking, legs_for, open_dead_legs, remove_part, remove_unit
from weighty_axle.job.models.charging import VEHICLE
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.roof import RemoteArray
from weighty_axle.job.stated import Stated
from weighty_axle.units import QuantityError

_TYPE = re.compile(r"^(.*?(?:\.spec|roof\.module|roof\.remote\[[^\]]+\]\.module))(\..+)$")
"""A path into a datasheet: the datasheet itself, and the rest."""


def set_stated(path: str, value: Any, label: str) -> Edit:
    """Another value at a path of the job as stated.

    Within a datasheet it changes every part of that very type: parts with one datasheet are of one type.
    """
    inner = _TYPE.match(path)

    def apply(job: Job) -> Job:
        if inner is None:
            stated: Job = with_value(job, path, value) if value is not None else _cleared(job, path)
            return _settled(stated, path)
        old: Stated = value_at(job, inner[1])
        new = with_value(old, inner[2].lstrip("."), value) if value is not None else _cleared(old, inner[2].lstrip("."))
        return _settled(with_type(job, old, new), path)

    return Edit(label, apply, path=path, system=WHOLE)


def _cleared(owner: Any, path: str) -> Any:
    """With None at a path: an optional value that is not stated any more, never an entry gone."""
    way, _, name = path.rpartition(".")
    inner = value_at(owner, way) if way else owner
    changed = replace(inner, **{name: None})
    return with_value(owner, way, changed) if way else changed


def with_type(job: Job, old: Stated, new: Stated) -> Job:
    """The job with a datasheet replaced wherever it is that of a part."""

    def changed(owner: Any, name: str) -> Any:
        return replace(owner, **{name: new}) if getattr(owner, name) == old else owner

    def stack(one: Inverters) -> Inverters:
        made: Inverters = changed(one, "spec")
        return made

    def several(ones: tuple[Any, ...], name: str) -> tuple[Any, ...]:
        return tuple(changed(one, name) for one in ones)

    roof = changed(job.roof, "module")
    remote: tuple[RemoteArray, ...] = several(roof.remote, "module")
    return replace(
        job,
        bank=changed(job.bank, "spec"),
        inverters=stack(job.inverters),
        bars=tuple(replace(bar, bank=changed(bar.bank, "spec")) if bar.bank is not None else bar for bar in job.bars),
        groups=tuple(replace(group, inverters=stack(group.inverters)) for group in job.groups),
        converters=several(job.converters, "spec"),
        roof=replace(roof, controllers=several(roof.controllers, "spec"), remote=remote),
    )


def add_entry(path: str, made: Stated, title: str) -> Edit:
    """One more entry of a list."""

    def apply(job: Job) -> Job:
        return _settled(with_value(job, path, (*value_at(job, path), made)), path)

    return Edit(f"Add {getattr(made, 'tag', '') or title.lower()}", apply, path=path, system=WHOLE)


_CAREFUL: tuple[tuple[str, Callable[[str], Edit]], ...] = (
    ("inverters.units[", remove_unit),
    ("ac.inlets[", remove_part),
    ("ac.panels[", remove_part),
    ("ac.circuits[", remove_part),
    ("ac.selectors[", remove_part),
)
"""Entries whose going leaves others to be put right."""


def remove_entry(path: str, words: str) -> Edit:
    """Take an entry of a list, or a part that need not be stated, away."""
    key = path.rpartition("[")[2].rstrip("]")
    for begins, careful in _CAREFUL:
        if path.startswith(begins):
            made = careful(key)
            return Edit(made.label, made.apply, system="")

    def apply(job: Job) -> Job:
        if not path.endswith("]"):
            cleared: Job = _cleared(job, path)
            return cleared
        return _without(_settled(with_value(job, path, None), path), key)

    return Edit(f"Remove {words}", apply, path=path, system=WHOLE)


def _without(job: Job, tag: str) -> Job:
    """Without what names a thing that is gone: loads and circuits go back to the plainest."""
    dc = replace(
        job.dc,
        panels=tuple(replace(one, bar="") if one.bar == tag else one for one in job.dc.panels),
        circuits=tuple(
            replace(one, panel="" if one.panel == tag else one.panel, bar="" if one.bar == tag else one.bar)
            for one in job.dc.circuits
        ),
        switches=tuple(one for one in job.dc.switches if one.feeds != tag and tag not in one.bars),
    )
    gone = {tag}
    circuits = {one.tag for one in job.ac.circuits} | {one.tag for one in dc.circuits}
    circuits |= {one.tag for group in job.groups for one in group.ac.circuits}
    loads = tuple(
        replace(
            load,
            circuit=load.circuit if load.circuit in circuits else "",
            on="" if load.on in gone else load.on,
            charges="" if load.charges in gone else load.charges,
        )
        if not gone.isdisjoint((load.on, load.charges)) or (load.circuit and load.circuit not in circuits)
        else load
        for load in job.loads
    )
    controllers = tuple(
        replace(one, bar="" if one.bar == tag else one.bar, unit="" if one.unit == tag else one.unit)
        for one in job.roof.controllers
    )
    alternators = tuple(replace(one, bar=VEHICLE) if one.bar == tag else one for one in job.charging.alternators)
    charging = replace(job.charging, alternators=alternators)
    left = {one.tag for one in dc.switches}
    stages = tuple(
        replace(
            one,
            without=tuple(out for out in one.without if out != tag),
            stands={switch: bar for switch, bar in one.stands.items() if switch in left and bar != tag},
        )
        for one in job.stages
    )
    return replace(
        job,
        dc=dc,
        loads=loads,
        roof=replace(job.roof, controllers=controllers),
        charging=charging,
        stages=stages,
        assemblies=tuple(
            replace(one, items=tuple(part for part in one.items if part != tag)) if tag in one.items else one
            for one in job.assemblies
        ),
        outlets=tuple(
            replace(
                one,
                start=job.wiring.board.tag if one.start == tag else one.start,
                serves=tuple(served for served in one.serves if served != tag),
            )
            if one.start == tag or tag in one.serves
            else one
            for one in job.outlets
        ),
        signals=tuple(one for one in job.signals if tag not in (one.start, one.end)),
        ladings=tuple(replace(one, takes_from="") if one.takes_from == tag else one for one in job.ladings),
        holds=tuple(
            replace(one, items=tuple(held for held in one.items if held != tag)) if tag in one.items else one
            for one in job.holds
        ),
        groups=tuple(replace(group, bar="") if group.bar == tag else group for group in job.groups),
        converters=tuple(one for one in job.converters if tag not in (one.start, one.end)),
    )


def _settled(job: Job, path: str) -> Job:
    """What hangs on a value put right with it: lines of inverters after another stacking or unit, where a switch
    stands after other bars.
    """
    if path.startswith("dc.switches[") and path.endswith("].bars"):
        switches = tuple(one if one.now in one.bars else replace(one, now=one.bars[0]) for one in job.dc.switches)
        return replace(job, dc=replace(job.dc, switches=switches))
    of_group = re.fullmatch(r"groups\[([^\]]+)\]\.(inverters\.(?:stacking|units))", path)
    if of_group:
        group = next(one for one in job.groups if one.tag == of_group[1])
        seen = _settled(replace(job, inverters=group.inverters, ac=group.ac), of_group[2])
        new = replace(group, inverters=seen.inverters, ac=seen.ac)
        return replace(job, groups=tuple(new if one is group else one for one in job.groups))
    if path in ("inverters.stacking", "inverters.units"):
        inverters = job.inverters
        if path.endswith("units") and inverters.stacking == "single" and len(inverters.units) > 1:
            return fit_stacking(job).apply(job)
        units = legs_for(inverters.stacking, inverters.units)
        return open_dead_legs(replace(job, inverters=replace(inverters, units=units)))
    return job


def read_values(text: str, *, numbers: bool) -> tuple[Any, ...]:
    """Values in a row from typed text: apart by spaces, commas or semicolons; numbers keep a decimal comma.

    Raises: QuantityError with a sentence.
    """
    parts = [one for one in re.split(r"[\s;]+|,\s+" if numbers else r"[\s;,]+", text.strip()) if one]
    if not numbers:
        return tuple(parts)
    try:
        return tuple(float(one.replace(",", ".").rstrip("%")) / (100 if one.endswith("%") else 1) for one in parts)
    except ValueError:
        raise QuantityError(f"“{text.strip()[:40]}” is not a row of numbers, apart by spaces.") from None


def values_words(values: tuple[Any, ...]) -> str:
    """Values in a row as they are typed."""
    return " ".join(f"{one:g}" if isinstance(one, float) else str(one) for one in values)
