"""Rules of what protects and carries the roof's circuits: string fuses, cables."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.roof.protection import sun_cable_a
from weighty_axle.design.table import Design
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
    for guard in design.protection:
        if guard.fuse_a is not None:
            yield hit(
                guard.controller,
                *guard.beside,
                string=guard.weakest,
                back=guard.back_a,
                controller=guard.controller,
                limit=amps(guard.reverse_a.value),
                fuse=guard.fuse_a,
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
    for guard in design.protection:
        if guard.fuse_a is not None and not guard.fuse_fits:
            yield hit(
                guard.controller,
                *guard.beside,
                controller=guard.controller,
                fuse=guard.fuse_a,
                limit=amps(guard.series_fuse_a.value),
            )


@rule("roof.drop", "check", "The cable of {controller} on the roof loses {drop}; {limit} is usual at most.", PRACTICE)
def roof_drop(design: Design) -> Iterator[Hit]:
    """Cable on the roof that loses too much."""
    for guard in design.protection:
        if guard.cable is not None and over(guard.cable.drop_share.value, ROOF_DROP_SHARE):
            yield hit(
                guard.controller, controller=guard.controller, drop=guard.cable.drop_share, limit=share(ROOF_DROP_SHARE)
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
    for guard in design.protection:
        if guard.cable is None or guard.cable.carries_a is None:
            continue
        own = {string.tag for string in design.roof.strings if string.controller == guard.controller}
        isc = max(spec_of(roof, module).isc_a for module in roof.modules if module.string in own)
        if over(1.56 * isc, guard.cable.carries_a.value):
            yield hit(
                guard.controller,
                size=roof.cable,
                limit=guard.cable.carries_a,
                what=f"a string of {guard.controller}",
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
    for array in roof.remote:
        if not _known(array.size, key):
            yield hit(array.tag, what=f"The cable to {array.name}", size=array.size)


def _known(size: str, key: str) -> bool:
    return ohm_per_m(size) > 0 and sun_cable_a(size, key) is not None
