"""What a job must satisfy to be a job at all: bounds, references, order. Judgement of the design is in rules/."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator
from typing import get_type_hints

import msgspec
from msgspec import Struct

from weighty_axle.job.ac import FROM_INVERTERS, IMPLIED_INLET, IMPLIED_PANEL, Panel
from weighty_axle.job.model import MOST_LOADS, YEAR_DAYS, Bank, Charging, Job, Stay
from weighty_axle.job.parts import InverterSpec
from weighty_axle.job.survey import WAY_ENDS, Vehicle
from weighty_axle.job.tags import RESERVED, tagged


class Problem(Struct, frozen=True):
    """One thing wrong, with its place in the document ('' for the whole)."""

    place: str
    message: str

    def __str__(self) -> str:
        return f"{self.place}: {self.message}" if self.place else self.message


_PARTS = tuple((name, kind) for name, kind in get_type_hints(Job, include_extras=True).items())
"""Parts of a job with their types and bounds."""


class JobError(Exception):
    """A job that cannot be accepted; lists every problem with its place."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        super().__init__("\n".join(map(str, problems)))


def problems(job: Job, since: Job | None = None) -> list[Problem]:
    """Everything that makes this job unacceptable; empty when it is sound. What `since` holds already was judged then."""
    for name, kind in _PARTS:
        part = getattr(job, name)
        old = getattr(since, name) if since is not None else None
        if part is old:
            continue
        if name == "loads" and old is not None and len(part) <= MOST_LOADS:
            known = set(map(id, old))
            part = tuple(load for load in part if id(load) not in known)
        plain = msgspec.to_builtins(part)
        try:
            msgspec.convert(plain, kind)
        except msgspec.ValidationError as error:
            found = problem_from(str(error))
            return [Problem(_joined(name, found.place), found.message)]
        tiny = next(_tiny(plain, ""), None)
        if tiny is not None:
            return [Problem(_joined(name, tiny), f"It must be 0 or at least {_plain(LEAST)} in size.")]
    return list(_meaning(job))


LEAST = 1e-9
"""Smallest size of a number that means anything here; smaller ones are slips or damage, and dividing by them overflows."""


def _tiny(value: object, place: str) -> Iterator[str]:
    """Places of numbers that are nearly nothing, and not nothing."""
    if isinstance(value, float):
        if 0 < abs(value) < LEAST:
            yield place
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield from _tiny(inner, f"{place}.{key}")
    elif isinstance(value, list | tuple):
        for at, inner in enumerate(value):
            yield from _tiny(inner, f"{place}[{at}]")


def _joined(part: str, place: str) -> str:
    return f"{part}{'' if place.startswith(('[', '.')) or not place else '.'}{place}"


_BOUND = re.compile(r"Expected `(?:float|int|int \| float)` (>=|<=|>|<) (-?[\d.]+(?:e-?\d+)?)")
_LENGTH = re.compile(r"Expected `(str|array|object)` of length <= (\d+)")
_BOUND_WORDS = {">=": "at least", "<=": "at most", ">": "more than", "<": "less than"}


def _plain(value: float) -> str:
    """A bound as people write it, without powers of ten."""
    return f"{value + 0.0:.9f}".rstrip("0").rstrip(".")


def problem_from(text: str) -> Problem:
    """Problem from the decoder's own words, `Expected ... - at `$.bank.packs[0]``, with bounds as a sentence."""
    message, _, where = text.partition(" - at `")
    bound = _BOUND.match(message)
    if bound:
        message = f"It must be {_BOUND_WORDS[bound[1]]} {_plain(float(bound[2]))}."
    elif "of length >= 1" in message:
        message = "It must not be empty."
    elif longest := _LENGTH.match(message):
        message = f"It must have at most {longest[2]} {'letters' if longest[1] == 'str' else 'entries'}."
    elif "matching regex" in message and "A-Z" not in message:
        message = "It must not be blank."
    elif "matching regex" in message:
        message = "A tag is a letter and then letters, digits, _ and -."
    return Problem(where.rstrip("`").removeprefix("$").lstrip("."), message.replace("`", ""))


def _meaning(job: Job) -> Iterator[Problem]:
    yield from _tags(job)
    yield from vehicle_problems(job.vehicle)
    yield from load_problems(job)
    yield from stay_problems(job)
    yield from bank_problems(job.bank)
    yield from inverter_problems(job.inverters.spec)
    yield from ac_problems(job)
    yield from roof_problems(job)
    yield from charging_problems(job.charging)
    if job.site.record_low_c >= job.site.design_high_c:
        yield Problem("site.record_low_c", "The record low must be below the design high.")


def _tags(job: Job) -> Iterator[Problem]:
    seen: dict[str, str] = {}
    for word, one in tagged(job):
        place = f"{word} {one.tag}"
        if one.tag in RESERVED:
            yield Problem(place, f"{one.tag} has a meaning of its own; choose another tag.")
        if one.tag in seen:
            yield Problem(place, f"The tag {one.tag} is used twice: {seen[one.tag]} has it too; every item needs its own.")
        seen[one.tag] = f"a {word}" if word[0] not in "aeio" else f"an {word}"


def vehicle_problems(vehicle: Vehicle) -> Iterator[Problem]:
    """Axles, heights, bays and wire ways that cannot be."""
    groups = {group: [axle for axle in vehicle.axles if axle.group == group] for group in ("front", "rear")}
    for group, axles in groups.items():
        if not axles:
            yield Problem("vehicle.axles", f"No axle or coupling stands in the {group} group.")
        elif abs(sum(axle.share for axle in axles) - 1) > 1e-6:
            yield Problem("vehicle.axles", f"The shares of the {group} group must add up to 100 %.")
    if groups["front"] and groups["rear"]:
        front = max(axle.x_m for axle in groups["front"])
        rear = min(axle.x_m for axle in groups["rear"])
        if front >= rear:
            yield Problem("vehicle.axles", "Every front axle must stand ahead of every rear axle (wheel base of zero or less).")
    if not vehicle.skirt_m < vehicle.floor_m < vehicle.roof_m:
        yield Problem("vehicle.floor_m", "The heights must rise from skirt to floor to roof.")
    for bay in vehicle.bays:
        if bay.start_m >= bay.end_m or bay.bottom_m >= bay.top_m:
            yield Problem(f"vehicle.bays[{bay.tag}]", f"{bay.name} ends before it starts.")
    ends = {bay.tag for bay in vehicle.bays} | set(WAY_ENDS)
    for way in vehicle.ways:
        for end in {way.start, way.end} - ends:
            yield Problem(f"vehicle.ways[{way.tag}]", f"There is no bay {end}; a way runs between bays, ROOF and CAB.")


def load_problems(job: Job) -> Iterator[Problem]:
    """Painted days that name no kind of day or overlap."""
    kinds = {kind.tag for kind in job.day_kinds}
    for load in job.loads:
        for kind, spans in load.patterns.items():
            place = f"loads[{load.tag}].patterns.{kind}"
            if kind not in kinds:
                yield Problem(place, f"There is no day kind {kind}.")
            last = 0
            for span in spans:
                if span.end_min <= span.start_min or span.start_min < last:
                    yield Problem(place, "Painted stretches must follow one another without overlap.")
                    break
                last = span.end_min


def stay_problems(job: Job) -> Iterator[Problem]:
    """Stays that overlap, run past the year or name what is not there."""
    kinds, sources = {kind.tag for kind in job.day_kinds}, {source.tag for source in job.inverters.sources}
    before: Stay | None = None
    for stay in sorted(job.stays, key=lambda one: one.first_day):
        place = f"stays[{stay.tag}]"
        if stay.day_kind not in kinds:
            yield Problem(f"{place}.day_kind", f"There is no day kind {stay.day_kind}.")
        if stay.source and stay.source not in sources:
            yield Problem(f"{place}.source", f"There is no source {stay.source}.")
        if stay.first_day + stay.days > YEAR_DAYS + 1:
            yield Problem(f"{place}.days", f"The stay at {stay.place} runs past the end of the year; split it there.")
        if before is not None and stay.first_day < before.first_day + before.days:
            yield Problem(place, f"The stays at {before.place} and {stay.place} overlap.")
        before = stay


def bank_problems(bank: Bank) -> Iterator[Problem]:
    """What packs cannot be: grouped unevenly, all out, or with cells whose voltages fall."""
    spec = bank.spec
    if len(bank.packs) % bank.series:
        yield Problem("bank.packs", f"{len(bank.packs)} packs cannot be grouped by {bank.series} in series.")
    if not spec.cell_min_v < spec.cell_nominal_v < spec.cell_max_v:
        yield Problem("bank.spec.cell_nominal_v", "Cell voltages must rise from lowest to nominal to highest.")
    strings = [bank.packs[index : index + bank.series] for index in range(0, len(bank.packs), bank.series)]
    if all(any(pack.out for pack in string) for string in strings):
        yield Problem("bank.packs", "At least one string of packs must stay in service.")


def inverter_problems(inverter: InverterSpec) -> Iterator[Problem]:
    """What a datasheet of an inverter cannot say."""
    if inverter.full_load_efficiency > inverter.peak_efficiency:
        yield Problem("inverters.spec.full_load_efficiency", "Efficiency at full load cannot exceed the peak efficiency.")
    if inverter.surge_va < inverter.continuous_va:
        yield Problem("inverters.spec.surge_va", "Surge cannot be below the continuous rating.")
    points = inverter.overload
    if any(after.times <= point.times or after.seconds > point.seconds for point, after in itertools.pairwise(points)):
        yield Problem("inverters.spec.overload", "Overload points must rise in load and fall in time.")
    if inverter.dc_min_v >= inverter.dc_max_v:
        yield Problem("inverters.spec.dc_min_v", "The lowest DC voltage must be below the highest.")


def charging_problems(charging: Charging) -> Iterator[Problem]:
    """Chargers whose output nothing says."""
    for charger in charging.alternator_chargers:
        if charger.spec.output_w is None and charger.spec.output_a is None:
            yield Problem(f"charging.alternator_chargers[{charger.tag}].spec.output_a", f"{charger.tag} needs an output in A or in W.")


def ac_problems(job: Job) -> Iterator[Problem]:
    """References of the AC side: what each thing is fed from, is in, or belongs to must exist, and no feeder runs in a ring."""
    ac = job.ac
    inlets = {one.tag for one in ac.inlets} or {IMPLIED_INLET}
    panels = {one.tag: one for one in ac.panels}
    selectors, circuits = {one.tag for one in ac.selectors}, {one.tag for one in ac.circuits}
    units = {one.tag for one in job.inverters.units}
    for panel in ac.panels:
        place = f"ac.panels[{panel.tag}].fed_from"
        if panel.fed_from not in {*inlets, *selectors, *panels, *units, FROM_INVERTERS}:
            yield Problem(place, f"{panel.name} has no feeder: there is no {panel.fed_from}.")
        elif _in_a_ring(panel, panels):
            yield Problem(place, f"The feeder of {panel.name} comes back to it.")
    if ac.inverters_fed_from and ac.inverters_fed_from not in {*inlets, *selectors, *panels}:
        yield Problem("ac.inverters_fed_from", f"There is no {ac.inverters_fed_from} to feed the inverters.")
    for circuit in ac.circuits:
        if circuit.panel and circuit.panel not in (panels or {IMPLIED_PANEL}):
            yield Problem(f"ac.circuits[{circuit.tag}].panel", f"There is no panel {circuit.panel}.")
        if circuit.shares_neutral and circuit.shares_neutral not in circuits - {circuit.tag}:
            yield Problem(f"ac.circuits[{circuit.tag}].shares_neutral", f"There is no other circuit {circuit.shares_neutral}.")
    for load in job.loads:
        if load.circuit and load.circuit not in circuits:
            yield Problem(f"loads[{load.tag}].circuit", f"There is no circuit {load.circuit}.")
    for source in job.inverters.sources:
        if source.inlet and source.inlet not in inlets:
            yield Problem(f"inverters.sources[{source.tag}].inlet", f"There is no inlet {source.inlet}.")
    known = {*inlets, *units, *(panels or {IMPLIED_PANEL})}
    for selector in ac.selectors:
        place, names = f"ac.selectors[{selector.tag}]", [position.name for position in selector.positions]
        if len(set(names)) < len(names):
            yield Problem(f"{place}.positions", f"Two positions of {selector.name} have one name.")
        if selector.now not in names:
            yield Problem(f"{place}.now", f"{selector.name} has no position {selector.now}.")
        for name in [end for position in selector.positions for contact in position.contacts for end in (contact.start, contact.end)]:
            if name.split(".")[0] not in known or "." not in name:
                yield Problem(f"{place}.positions", f"{selector.name} has a contact to {name}, and there is no such thing; write IN1.L1 or INV1.in.")


def _in_a_ring(panel: Panel, panels: dict[str, Panel]) -> bool:
    """Whether following the feeders from a panel leads back to it."""
    feed = panel.fed_from
    for _ in panels:
        if feed == panel.tag:
            return True
        if feed not in panels:
            return False
        feed = panels[feed].fed_from
    return False


def roof_problems(job: Job) -> Iterator[Problem]:
    """Modules, strings, controllers and arrays that name what is not there, and datasheets that cannot be."""
    roof = job.roof
    if roof.start_m >= roof.end_m:
        yield Problem("roof.start_m", "The roof ends before it starts.")
    specs = {"roof.module": roof.module, **{f"roof.more_modules[{at}]": spec for at, spec in enumerate(roof.more_modules)}}
    specs |= {f"roof.remote[{one.tag}].module": one.module for one in roof.remote}
    for place, module in specs.items():
        if module.vmp_v >= module.voc_v:
            yield Problem(f"{place}.vmp_v", "Vmp must be below Voc.")
        if module.imp_a >= module.isc_a:
            yield Problem(f"{place}.imp_a", "Imp must be below Isc.")
    names = [roof.module.name, *(spec.name for spec in roof.more_modules)]
    if len(set(names)) < len(names):
        yield Problem("roof.more_modules", "Two module types have one name.")
    strings = {string.tag for string in roof.strings}
    controllers = {controller.tag for controller in roof.controllers}
    for one in roof.modules:
        if one.string and one.string not in strings:
            yield Problem(f"roof.modules[{one.tag}].string", f"There is no string {one.string}.")
        if one.kind and one.kind not in names:
            yield Problem(f"roof.modules[{one.tag}].kind", f"There is no module type {one.kind}.")
    stays = {stay.tag for stay in job.stays}
    for array in roof.remote:
        if array.controller not in controllers:
            yield Problem(f"roof.remote[{array.tag}].controller", f"There is no controller {array.controller}.")
        for stay in array.stays:
            if stay not in stays:
                yield Problem(f"roof.remote[{array.tag}].stays", f"There is no stay {stay}.")
    if roof.sky.air_c and len(roof.sky.air_c) != 12:
        yield Problem("roof.sky.air_c", "Air by month needs twelve values.")
    for string in roof.strings:
        if string.controller not in controllers:
            yield Problem(f"roof.strings[{string.tag}].controller", f"There is no controller {string.controller}.")
