"""The parts list: every part once, with spares, packs, mass, price, and how far it is against the design now."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date, timedelta

from msgspec import Struct

from weighty_axle.answers.cuts.reels import bought_m, reel_m
from weighty_axle.answers.parts.needed import Need, needs
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.build import Build, PartState, Status
from weighty_axle.reference.hardware import UsualPart, usual_parts

STATUS_WORDS: dict[Status, str] = {"to_order": "to order", "ordered": "ordered", "here": "here", "fitted": "fitted"}
"""How a status is said."""


class PartLine(Struct, frozen=True, kw_only=True):
    """A part: how many the design wants, how many are bought with spares and whole packs, what all of it weighs and
    costs (None where nothing is stated), how far it is, and when it comes (None: it is here, or nobody has said).

    `differs` says what is to be done where what was ordered is not what the design wants now; empty: nothing. `late`
    says that it was to be here.
    """

    part: str
    kind: str
    of: tuple[str, ...]
    by_metre: bool
    wanted: Figure
    to_buy: Figure
    pack_of: float
    priced_as: str
    price: float | None
    mass_kg: float | None
    status: Status
    counted: float | None
    lead_days: int
    due: date | None
    supplier: str
    other: str
    differs: str
    late: bool

    @property
    def total(self) -> float | None:
        """What all that is bought costs."""
        return None if self.price is None else self.price * self.to_buy.value

    @property
    def here(self) -> bool:
        """Whether it can be worked with."""
        return self.status in ("here", "fitted")


class PartsList(Struct, frozen=True, kw_only=True):
    """All parts; those that were bought and are in no design any more; what it costs and weighs."""

    lines: tuple[PartLine, ...]
    left_over: tuple[PartState, ...]
    cost: Figure
    mass_kg: Figure

    def line(self, part: str) -> PartLine | None:
        """A part by its name."""
        return next((one for one in self.lines if one.part == part), None)


def parts_list(design: Design, today: date) -> PartsList:
    """Every part of the whole job; what is due is counted from a day.

    Source: the answers it is read from; spares, packs and lead times reference/usual_parts.json or as stated.
    """
    job = design.whole
    said = {one.part: one for one in job.build.parts}
    prices = {one.part: one.amount for one in job.year.prices}
    grouped: dict[str, list[Need]] = {}
    for need in needs(design):
        grouped.setdefault(need.part, []).append(need)
    usual = usual_parts()
    order = {kind: at for at, kind in enumerate(usual)}
    lines = [
        _line(part, some, said.get(part) or PartState(part=part), prices, usual[some[0].kind], today, job.build)
        for part, some in grouped.items()
    ]
    lines.sort(key=lambda one: order[one.kind])
    left = tuple(one for one in job.build.parts if one.part not in grouped and one.status != "to_order")
    priced = [one for one in lines if one.total is not None]
    unpriced = len(lines) - len(priced)
    weighed = [one for one in lines if one.mass_kg is not None]
    currency = job.year.currency
    return PartsList(
        lines=tuple(lines),
        left_over=left,
        cost=Figure.total(
            name=f"Parts cost, {currency}" if currency else "Parts cost",
            unit="money",
            formula="Σ bought × price, and metres × price of a metre",
            inputs=tuple(Given(one.part, one.total or 0.0, "money") for one in priced),
            source="prices as stated in the job",
            limit=f"{unpriced} of {len(lines)} parts have no price" if unpriced else "",
        ),
        mass_kg=Figure.total(
            name="Parts weigh",
            unit="kg",
            formula="Σ wanted × mass",
            inputs=tuple(Given(one.part, one.wanted.value * (one.mass_kg or 0.0), "kg") for one in weighed),
            source="datasheets; conductors by their copper",
            limit=f"{len(lines) - len(weighed)} of {len(lines)} parts have no mass"
            if len(weighed) < len(lines)
            else "",
        ),
    )


def _line(
    part: str, some: list[Need], said: PartState, prices: dict[str, float], usual: UsualPart, today: date, build: Build
) -> PartLine:
    first = some[0]
    unit = "m" if first.by_metre else "pieces"
    wanted = Figure.total(
        name=f"{part}: wanted",
        unit=unit,
        formula="Σ over what it is for",
        inputs=tuple(Given(of, count, unit) for of, count in _by_tag(some).items()),
        source="the design as it is now",
    )
    spare = said.spare_share if said.spare_share is not None else usual.spare_share
    least = usual.least_spare if said.spare_share is None else 0.0
    pack = said.pack_of or usual.pack_of
    asked = wanted.value + max(wanted.value * spare, least)
    to_buy = (
        _reels(part, some, wanted, build)
        if first.kind == "conductor" and not said.pack_of
        else Figure(
            name=f"{part}: to buy",
            value=round(math.ceil(round(asked / pack, 6)) * pack, 6),
            unit=unit,
            formula="(wanted + the larger of share and least spare), in whole packs",
            inputs=(
                wanted,
                Given("Spare", spare, "1"),
                Given("Least spare", least, unit),
                Given("Sold by", pack, unit),
            ),
            source=f"{PRACTICE}; a shop states its own",
        )
    )
    lead = said.lead_days if said.lead_days is not None else usual.lead_days
    due = _day(said.due)
    if due is None and said.status == "to_order":
        due = today + timedelta(days=lead)
    if said.status in ("here", "fitted"):
        due = None
    priced_as = part if part in prices else first.priced_as or part
    masses = {need.mass_kg for need in some}
    return PartLine(
        part=part,
        kind=first.kind,
        of=tuple(_by_tag(some)),
        by_metre=first.by_metre,
        wanted=wanted,
        to_buy=to_buy,
        pack_of=pack,
        priced_as=priced_as,
        price=prices.get(priced_as),
        mass_kg=said.mass_kg if said.mass_kg is not None else masses.pop() if len(masses) == 1 else None,
        status=said.status,
        counted=said.count,
        lead_days=lead,
        due=due,
        supplier=said.supplier,
        other=said.other,
        differs=_differs(said, wanted.value, to_buy.value, "m" if first.by_metre else ""),
        late=said.status == "ordered" and due is not None and due < today,
    )


def _reels(part: str, some: list[Need], wanted: Figure, build: Build) -> Figure:
    """Conductors are bought by whole reels, as many as their cuts take."""
    lengths = [need.many for need in some]
    sold_as = some[0].priced_as or part
    return Figure(
        name=f"{part}: to buy",
        value=bought_m(build, sold_as, lengths),
        unit="m",
        formula="whole reels that all cuts come off, the longest first; thick ones by the metre",
        inputs=(wanted, Given("A reel", reel_m(build, sold_as, lengths), "m"), Given("Cuts", len(lengths), "count")),
        source="physics.search.cutting; without off-cuts of the shop",
    )


def _by_tag(some: Iterable[Need]) -> dict[str, float]:
    found: dict[str, float] = {}
    for need in some:
        found[need.of] = found.get(need.of, 0.0) + need.many
    return found


def _differs(said: PartState, wanted: float, to_buy: float, unit: str) -> str:
    """What to do where what was bought is not enough, or far more than the design wants now."""
    if said.status == "to_order" or said.count is None:
        return ""
    have = f"{said.count:g}{f' {unit}' if unit else ''} {STATUS_WORDS[said.status]}"
    if said.count < wanted - 1e-6:
        return f"{have}, {wanted:.4g} wanted now: order {wanted - said.count:.3g} more"
    if said.count > to_buy + 1e-6:
        return f"{have}, {to_buy:.4g} with spares now: give back or keep {said.count - to_buy:.3g}"
    return ""


def _day(text: str) -> date | None:
    return date.fromisoformat(text) if text else None
