"""Rules of what protects and carries the roof's circuits: string fuses, cables."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.derive import Design
from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.roof.protection import sun_cable_a
from weighty_axle.design.wiring.conductors import ohm_per_m
from weighty_axle.job.models.roof import spec_of
from weighty_axle.rules.registry import Hit, amps, hit, rule, share

ROOF_DROP_SHARE = 0.02
"""Share of the voltage that cables on the roof may lose. Source: common practice, no source."""


@rule(
    "roof.string-fuses",
    "check",
    (
        "{string} may get {back} back from its neighbours on {controller}; its modules stand {limit}: a fuse of {fuse} "
        "in each string."
    ),
    "NEC (NFPA 70) 2023 690.9(A), recalled",
)
def string_fuses(design: Design) -> Iterator[Hit]:
    """Strings side by side that can drive more back into one than its modules stand."""
    for one in design.protection:
        if one.fuse_a is not None:
            yield hit(
                one.controller,
                *one.beside,
                string=one.weakest,
                back=one.back_a,
                controller=one.controller,
                limit=amps(one.reverse_a.value),
                fuse=one.fuse_a,
            )


@rule(
    "roof.string-fuse-too-large",
    "stop",
    (
        "{controller}: strings need fuses of {fuse}, above the {limit} their modules stand; put fewer strings side by "
        "side."
    ),
    "NEC (NFPA 70) 2023 690.9(B), recalled",
)
def string_fuse_too_large(design: Design) -> Iterator[Hit]:
    """No fuse protects the modules and carries their current."""
    for one in design.protection:
        if one.fuse_a is not None and not one.fuse_fits:
            yield hit(
                one.controller,
                *one.beside,
                controller=one.controller,
                fuse=one.fuse_a,
                limit=amps(one.series_fuse_a.value),
            )


@rule("roof.drop", "check", "The cable of {controller} on the roof loses {drop}; {limit} is usual at most.", PRACTICE)
def roof_drop(design: Design) -> Iterator[Hit]:
    """Cable on the roof that loses too much."""
    for one in design.protection:
        if one.cable is not None and over(one.cable.drop_share.value, ROOF_DROP_SHARE):
            yield hit(
                one.controller, controller=one.controller, drop=one.cable.drop_share, limit=share(ROOF_DROP_SHARE)
            )


@rule(
    "roof.cable-small",
    "stop",
    "{size} in the sun may carry {limit}; {what} asks for {asked}.",
    "NEC (NFPA 70) 2023 690.8(B), recalled",
)
def cable_small(design: Design) -> Iterator[Hit]:
    """Cable in the sun too thin for 1.56 times the short-circuit current."""
    roof = design.job.roof
    for one in design.protection:
        if one.cable is None or one.cable.carries_a is None:
            continue
        own = {string.tag for string in design.roof.strings if string.controller == one.controller}
        isc = max(spec_of(roof, module).isc_a for module in roof.modules if module.string in own)
        if over(1.56 * isc, one.cable.carries_a.value):
            yield hit(
                one.controller,
                size=roof.cable,
                limit=one.cable.carries_a,
                what=f"a string of {one.controller}",
                asked=amps(1.56 * isc),
            )
    for array in roof.remote:
        limit, asked = (
            sun_cable_a(array.size, design.job.wiring.ampacity_table),
            1.56 * array.module.isc_a * array.parallel,
        )
        if limit is not None and over(asked, limit.value):
            yield hit(array.tag, size=array.size, limit=limit, what=array.name, asked=amps(asked))


@rule(
    "roof.cable-unknown",
    "stop",
    "{what} is of {size}: no table says what it loses and may carry in the sun, so neither is judged.",
    PRACTICE,
)
def cable_unknown(design: Design) -> Iterator[Hit]:
    """A cable in the sun of a size the tables do not list."""
    roof = design.job.roof
    key = design.job.wiring.ampacity_table
    if roof.strings and not _known(roof.cable, key):
        yield hit(what="The cable on the roof", size=roof.cable)
    for one in roof.remote:
        if not _known(one.size, key):
            yield hit(one.tag, what=f"The cable to {one.name}", size=one.size)


def _known(size: str, key: str) -> bool:
    return ohm_per_m(size) > 0 and sun_cable_a(size, key) is not None
