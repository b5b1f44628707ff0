"""The rule of the chemistry the set points are for."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.table import Design
from weighty_axle.rules.bank.packs import pack_tags
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "bank.set-points-lfp",
    "stop",
    "The settings sheet does not know the cells of {pack} (NMC): use its maker's set points.",
    "pack datasheet",
)
def set_points_lfp(design: Design) -> Iterator[Hit]:
    """Cells whose voltages the settings step does not know."""
    if design.job.bank.spec.chemistry == "nmc":
        yield hit(*pack_tags(design), pack=design.job.bank.spec.name)
