"""Rules of what holds the modules: pull, load on the roof, members under the feet."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "roof.fixing-pull",
    "stop",
    "At road speed one fixing is pulled with {pull}; it may take {limit}: {needed} fixings each.",
    PRACTICE,
)
def fixing_pull(design: Design) -> Iterator[Hit]:
    """Wind lift above what the fixings hold."""
    stated, held = design.job.roof.fixing, design.fixings
    if over(held.pull_n.value, stated.allowed_n):
        remedy = (
            set_value("roof.fixing.each", int(held.needed_count.value), f"{held.needed_count.value:.0f} fixings each")
            if held.needed_count.value <= 40
            else None
        )
        yield hit(
            pull=held.pull_n,
            limit=Given("", stated.allowed_n, "N"),
            needed=f"{held.needed_count.value:.0f}",
            remedy=remedy,
        )


@rule("roof.roof-load", "check", "The modules weigh {load} on the roof; it is stated for {limit}.", PRACTICE)
def roof_load(design: Design) -> Iterator[Hit]:
    """More weight on the roof's skin than it is stated for."""
    stated, held = design.job.roof.fixing, design.fixings
    if over(held.roof_load_kg_per_m2.value, stated.allowed_roof_kg_per_m2):
        yield hit(load=held.roof_load_kg_per_m2, limit=Given("", stated.allowed_roof_kg_per_m2, "kg_per_m2"))


@rule(
    "roof.off-members",
    "check",
    "{count} modules lie over fewer than two roof members: {modules}.",
    PRACTICE,
    "Shift them, or lay rails from member to member.",
)
def off_members(design: Design) -> Iterator[Hit]:
    """Modules whose fixings find nothing to hold in."""
    tags = design.fixings.off_members
    if tags:
        yield hit(*tags, count=str(len(tags)), modules=", ".join(tags))
