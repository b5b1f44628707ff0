"""Changes to variants: kept beside the design, turned to, taken parts from."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit, EditRefusedError
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.parts import DESIGN_PARTS
from weighty_axle.job.models.variants import FedAs, Variant
from weighty_axle.job.systems import bar_of

MOST_VARIANTS = 12
PART_WORDS: dict[str, tuple[str, ...]] = {
    "Bank": ("bank",),
    "Inverters and AC": ("inverters", "ac"),
    "Roof": ("roof",),
    "Charging": ("charging", "converters"),
    "Wiring": ("wiring",),
    "Settings": ("settings",),
}
"""Parts that are taken from one design into another, with what belongs together."""


def as_variant(job: Job, name: str, why: str = "") -> Variant:
    """The design that is worked on as a variant."""
    feeds = tuple(
        FedAs(load=one.tag, supply=one.supply, circuit=one.circuit, on=one.on, charges=one.charges) for one in job.loads
    )
    parts: dict[str, Any] = {part: getattr(job, part) for part in DESIGN_PARTS}
    return Variant(name=name, why=why, feeds=feeds, **parts)


def with_design(job: Job, variant: Variant) -> Job:
    """A job with a variant's design: the survey stays; sockets that stays plug in to are kept; loads are fed as they
    were in the variant, those it does not know as far as what feeds them is there.
    """
    parts: dict[str, Any] = {part: getattr(variant, part) for part in DESIGN_PARTS}
    known = {one.tag for one in variant.inverters.sources}
    used = {stay.source for stay in job.stays}
    kept = tuple(one for one in job.inverters.sources if one.tag in used and one.tag not in known)
    inlets = {one.tag for one in variant.ac.inlets}
    kept = tuple(one if one.inlet in inlets else replace(one, inlet="") for one in kept)
    if variant.inverters.units:
        parts["inverters"] = replace(variant.inverters, sources=(*variant.inverters.sources, *kept))
    made = replace(job, **parts)
    feeds = {one.load: one for one in variant.feeds}
    sources = {one.tag for one in made.inverters.sources}
    return replace(
        made,
        loads=tuple(_fed(made, load, feeds.get(load.tag)) for load in job.loads),
        stays=tuple(stay if stay.source in sources else replace(stay, source="") for stay in job.stays),
    )


def _fed(job: Job, load: Load, as_before: FedAs | None) -> Load:
    if as_before is not None:
        own = as_before
        load = replace(load, supply=own.supply, circuit=own.circuit, on=own.on, charges=own.charges)
    circuits = {one.tag for ac in (job.ac, *(group.ac for group in job.groups)) for one in ac.circuits}
    circuits |= {one.tag for one in job.dc.circuits}
    places = {group.tag for group in job.groups}
    there = {name: name in places or bar_of(job, name) is not None for name in (load.on, load.charges)}
    return replace(
        load,
        circuit=load.circuit if load.circuit in circuits else "",
        on=load.on if there[load.on] else "",
        charges=load.charges if there[load.charges] else "",
    )


def keep_as(name: str, why: str = "") -> Edit:
    """Keep the design as it is now beside the one that is worked on, under a name of its own."""

    def apply(job: Job) -> Job:
        if name in names(job):
            raise EditRefusedError(f"There is a design called {name} already.")
        if len(job.variants) >= MOST_VARIANTS:
            raise EditRefusedError(f"At most {MOST_VARIANTS} variants; drop one first.")
        return replace(job, variants=(*job.variants, as_variant(job, name, why)))

    return Edit(f"Keep this design as {name}", apply, system=WHOLE)


def turn_to(name: str) -> Edit:
    """Work on a variant; the design worked on until now takes its place among the variants."""

    def apply(job: Job) -> Job:
        found = variant_of(job, name)
        before = as_variant(job, job.design_name, job.design_why)
        others = tuple(before if one.name == name else one for one in job.variants)
        made = with_design(job, found)
        return replace(made, variants=others, design_name=found.name, design_why=found.why)

    return Edit(f"Turn to {name}", apply, system=WHOLE)


def drop(name: str) -> Edit:
    """Drop a variant."""

    def apply(job: Job) -> Job:
        found = variant_of(job, name)
        return replace(job, variants=tuple(one for one in job.variants if one is not found))

    return Edit(f"Drop {name}", apply, system=WHOLE)


def add_variant(changed: Job, name: str, why: str) -> Edit:
    """Put the design of a changed job beside the one that is worked on."""

    def apply(job: Job) -> Job:
        if name in names(job):
            raise EditRefusedError(f"There is a design called {name} already.")
        if len(job.variants) >= MOST_VARIANTS:
            raise EditRefusedError(f"At most {MOST_VARIANTS} variants; drop one first.")
        return replace(job, variants=(*job.variants, as_variant(changed, name, why)))

    return Edit(f"Add {name}", apply, system=WHOLE)


def take_part(name: str, part: str) -> Edit:
    """Take one part of a variant into the design that is worked on."""

    def apply(job: Job) -> Job:
        found = variant_of(job, name)
        mixed = as_variant(job, name)
        own: dict[str, Any] = {one: getattr(found, one) for one in PART_WORDS[part]}
        return with_design(job, replace(mixed, **own))

    return Edit(f"{part} of {name}", apply, system=WHOLE)


def names(job: Job) -> tuple[str, ...]:
    """Names of all designs, the one that is worked on first."""
    return (job.design_name, *(one.name for one in job.variants))


def variant_of(job: Job, name: str) -> Variant:
    """A variant by its name. Raises EditRefusedError where there is none."""
    found = next((one for one in job.variants if one.name == name), None)
    if found is None:
        raise EditRefusedError(f"There is no design called {name} any more.")
    return found


def job_of(job: Job, name: str) -> Job:
    """The job with one of its designs; the one that is worked on as it is."""
    return job if name == job.design_name else with_design(job, variant_of(job, name))
