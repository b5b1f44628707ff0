"""How conductors side by side share a run's current when they were not cut alike."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import Run


class Side(Struct, frozen=True, kw_only=True):
    """One conductor of a run: its length, what it carries of the run's current, what it may."""

    run: str
    length_m: float
    carries_a: Figure
    may_a: float


def sides_of(design: Design, run: Run) -> tuple[Side, ...]:
    """Conductors of a run by their own resistance, lugs counted; none where they are not stated one by one.

    Source: textbook relation (conductances in parallel).
    """
    stated = {one.run: one.lengths_m for one in design.job.wiring.abreast}.get(run.tag, ())
    if run.chosen is None or len(stated) != run.chosen.count:
        return ()
    metre = ohm_per_m(run.chosen.size, design.job.wiring.insulation_c)
    lugs = 2 * design.job.bank.links.lug_ohm
    each = [metre * length + lugs for length in stated]
    together = sum(1 / ohm for ohm in each)
    return tuple(
        Side(
            run=run.tag,
            length_m=length,
            carries_a=Figure.product(
                name=f"{run.tag}, conductor {at + 1} carries",
                unit="A",
                formula="current of the run × its conductance over that of all",
                inputs=(run.current_a, Given("Its part of the conductance", 1 / ohm / together, "1")),
                source=TEXTBOOK,
            ),
            may_a=run.ampacity_a.value / run.chosen.count,
        )
        for at, (length, ohm) in enumerate(zip(stated, each, strict=True))
    )
