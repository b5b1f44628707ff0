"""What a design costs, as far as prices are stated: everything of the parts list, without spares."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.answers.parts.needed import Need, needs
from weighty_axle.answers.wiring.conduit import cores_of
from weighty_axle.answers.wiring.schedule import Conductor
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.choices import ConductorChoice
from weighty_axle.job.models.document import Job


class BillRow(Struct, frozen=True, kw_only=True):
    """A part: how many of it, or how many metres; its price and all of it, None where no price is stated."""

    part: str
    kind: str
    count: float
    by_metre: bool
    price: float | None

    @property
    def total(self) -> float | None:
        """All of it."""
        return None if self.price is None else self.count * self.price


class Bill(Struct, frozen=True, kw_only=True):
    """All parts, and what those with a price come to."""

    rows: tuple[BillRow, ...]
    total: Figure
    unpriced: int


def bill(design: Design) -> Bill:
    """Parts of the whole job that are bought; what was on board is not among them.

    Source: the answers it is read from; prices as stated in the job.
    """
    job = design.whole
    prices = {one.part: one.amount for one in job.year.prices}
    counted: dict[str, float] = {}
    firsts: dict[str, Need] = {}
    for need in needs(design):
        part = need.priced_as if need.priced_as and need.part not in prices else need.part
        firsts.setdefault(part, need)
        counted[part] = counted.get(part, 0.0) + need.many
    rows = tuple(
        BillRow(
            part=part,
            kind=firsts[part].kind,
            count=round(count, 2),
            by_metre=firsts[part].by_metre,
            price=prices.get(part),
        )
        for part, count in counted.items()
    )
    known = tuple(row for row in rows if row.total is not None)
    return Bill(
        rows=rows,
        total=Figure.total(
            name=f"Parts cost, {job.year.currency}" if job.year.currency else "Parts cost",
            unit="money",
            formula="Σ count × price, and metres × price of a metre",
            inputs=tuple(Given(row.part, row.total or 0.0, "money") for row in known),
            source="prices as stated in the job",
            limit=f"{len(rows) - len(known)} of {len(rows)} parts have no price" if len(known) < len(rows) else "",
        ),
        unpriced=len(rows) - len(known),
    )


def part_of_conductor(design: Design, one: Conductor) -> str:
    """Name under which a conductor is bought: by its size, an AC cable by its cores, a roof cable as such."""
    if one.carries == "AC":
        return f"{one.size} cable, {cores_of(design, one)} cores"
    return f"{one.size} roof cable" if one.carries == "PV" else f"{one.size} conductor"


def price_of(job: Job, part: str) -> float | None:
    """Stated price of a part."""
    return next((one.amount for one in job.year.prices if one.part == part), None)


def price_of_run(design: Design, one: ConductorChoice, length_m: float) -> float | None:
    """What the conductors of a run cost, made of a choice; None where its price is not stated."""
    price = price_of(design.whole, f"{one.size} conductor")
    return None if price is None else price * 2 * length_m * one.count


def price_of_conductor(design: Design, one: Conductor) -> float | None:
    """What a conductor costs as long as it is; None where its price is not stated."""
    price = price_of(design.whole, part_of_conductor(design, one))
    return None if price is None else round(price * _metres(one), 2)


def _metres(one: Conductor) -> float:
    """Both poles of a DC way; a cable holds all its cores, a string's rope is both its ends already."""
    return one.length_m * one.count * (2 if one.carries == "DC" else 1)
