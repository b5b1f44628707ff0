"""A mix of a sweep as a change of the job: so many modules, packs, inverters and alternator chargers."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.answers.year.sweep import Point, charger_type, one_module_more
from weighty_axle.design.table import Design
from weighty_axle.job.edits.bank import GAP_M, set_pack_count
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.inverters import set_arrangement
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.stated import Place
from weighty_axle.job.tags import next_tag


def as_design(design: Design, point: Point) -> Edit:
    """One edit that makes the job so: packs in line behind the last, modules beside those of their strings, inverters
    beside the last and in the same stacking, chargers like the first one.

    Refused in a sentence where the roof has no room for so many modules.
    """

    def apply(job: Job) -> Job:
        if point.packs != len(job.bank.packs):
            job = set_pack_count(point.packs).apply(job)
        if point.inverters != len(job.inverters.units) and job.inverters.units:
            job = set_arrangement(job.inverters.spec, point.inverters, job.inverters.stacking).apply(job)
        job = _with_modules(job, point.modules)
        return _with_chargers(design, job, point.chargers)

    return Edit(mix_words(point), apply)


def mix_words(point: Point) -> str:
    """A mix in words."""
    counts = (
        (point.modules, "module"),
        (point.packs, "pack"),
        (point.inverters, "inverter"),
        (point.chargers, "alternator charger"),
    )
    return ", ".join(f"{count} {word}{'s' if count != 1 else ''}" for count, word in counts)


def change_words(design: Design, point: Point) -> str:
    """What a mix has more or less of than the design, in words."""
    job = design.job
    chargers = sum(end.by_engine and end.gives_a.value > 0 for end in design.ends)
    has = (
        (point.modules - len(job.roof.modules), "module"),
        (point.packs - len(job.bank.packs), "pack"),
        (point.inverters - len(job.inverters.units), "inverter"),
        (point.chargers - chargers, "alternator charger"),
    )
    parts = [
        f"{abs(more)} {word}{'s' if abs(more) != 1 else ''} {'more' if more > 0 else 'less'}"
        for more, word in has
        if more
    ]
    return ", ".join(parts) or "the design as it is"


def _with_modules(job: Job, count: int) -> Job:
    """The last modules go; new ones come string by string, the shortest first."""
    while len(job.roof.modules) > count:
        last = job.roof.modules[-1]
        strings = tuple(
            replace(one, order=tuple(tag for tag in one.order if tag != last.tag)) for one in job.roof.strings
        )
        job = replace(job, roof=replace(job.roof, modules=job.roof.modules[:-1], strings=strings))
    while len(job.roof.modules) < count:
        job = one_module_more(job)
    return job


def _with_chargers(design: Design, job: Job, count: int) -> Job:
    own = [end.converter.tag for end in design.ends if end.by_engine and end.gives_a.value]
    gone = set(own[count:])
    kept = tuple(one for one in job.converters if one.tag not in gone)
    job = replace(job, converters=kept) if gone else job
    first = next((one for one in job.converters if one.tag in own), None)
    for _ in range(count - len(own)):
        where = job.converters[-1].place if job.converters else job.wiring.board.place
        spec = charger_type(design)
        place = Place(x_m=round(where.x_m + spec.size.length_m + GAP_M, 3), y_m=where.y_m, z_m=where.z_m)
        tag = next_tag(job, "converter")
        made = (
            replace(first, tag=tag, place=place)
            if first is not None
            else Converter(tag=tag, spec=spec, start=VEHICLE, place=place)
        )
        job = replace(job, converters=(*job.converters, made))
    return job
