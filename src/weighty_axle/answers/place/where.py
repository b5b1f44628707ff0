"""Where should it go: every feasible place and turn of the bank or the inverters, ranked by what it comes nearest to.

Axle loads follow from moments, and what comes and goes adds the same wherever a thing stands: so every candidate is
worked out exactly, and the best are derived once more as whole designs.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from typing import Literal, NamedTuple

from msgspec import Struct

from weighty_axle.design.derive import Deriver
from weighty_axle.design.figures import Figure
from weighty_axle.design.place.clear import Box, box_of, opening
from weighty_axle.design.place.laden import stands
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN, bank_end
from weighty_axle.job.edits.edit import WHOLE, Edit, place_path, with_value
from weighty_axle.job.models.bank import Pack
from weighty_axle.job.models.document import Item, Job
from weighty_axle.job.models.vehicle import Bay
from weighty_axle.job.stated import Place, Size, turned_size
from weighty_axle.physics.body.axles import loads_kg
from weighty_axle.physics.body.fits import fits_through

What = Literal["bank", "inverters"]
Progress = Callable[[float, str], None]

GAP_M = 0.02
"""Left between things of a kind. Source: common practice, no source."""
STEP_M = 0.1
DERIVED, BEST = 16, 10
"""Candidates that are derived as whole designs, and how many of them are told."""
OF_ONE_BAY = 3
MARGIN_SHARE = 0.1
"""Margin of the tightest axle, as share of its plate, from which on more is no better. Source: common practice, no
source.
"""
SIDE_SHARE = 0.04
"""Difference between the sides as share of gross that counts as all of it. Source: common practice, no source."""
_HALVES = 3
"""Best places of a half that are tried with those of the other half."""


class Spot(NamedTuple):
    """Things of a kind in one bay: their places, turn, and how they stand."""

    bay: str
    turn_deg: int
    grid: tuple[int, int, int]
    places: tuple[Place, ...]


class Candidate(NamedTuple):
    """One or two spots, and how much of each limit they use: axle, sides, drop, warmth."""

    spots: tuple[Spot, ...]
    used: tuple[float, float, float, float]

    @property
    def order(self) -> tuple[float, float]:
        """What decides: nothing over its limit, then all of them together, what is nearly used up the most."""
        return cost(self.used)


def cost(used: tuple[float, ...]) -> tuple[float, float]:
    """How many limits are passed, and the sum of squares of how much of each is used."""
    return float(sum(one > 1 for one in used)), sum(one * one for one in used)


class Proposal(Struct, frozen=True, kw_only=True):
    """A place that is proposed: in words, with what a whole design says of it, why, and the edit that takes it."""

    words: str
    reason: str
    axle: str
    margin_kg: Figure
    side_kg: Figure
    lead_m: Figure
    drop_share: Figure
    warmest_c: Figure | None
    used: tuple[float, float, float, float, float]
    now: bool
    edit: Edit


LIMITS = (
    "what is left on the tightest axle",
    "left and right",
    "the drop of its cable",
    "the warmth of the bay",
    "room at its faces",
)


def where(design: Design, what: What, tell: Progress) -> tuple[Proposal, ...]:
    """The best places, best first; empty where nothing fits anywhere or there is nothing to place.

    Source: physics.axles, shortest ways, geometry; every limit as the design has it.
    """
    search = _Search(design, what)
    if not search.moved:
        return ()
    found: list[Candidate] = []
    bays = [bay for bay in design.job.vehicle.bays if not bay.engine]
    count = len(search.moved)
    halves: dict[str, list[Candidate]] = {}
    for at, bay in enumerate(bays):
        tell(0.7 * at / max(1, len(bays)), bay.name)
        whole = sorted((search.judged((spot,)) for spot in search.spots(bay, count)), key=lambda one: one.order)
        found += _one_of_each(whole)
        if what == "bank" and count > 1:
            first = sorted((search.judged((spot,)) for spot in search.spots(bay, (count + 1) // 2)), key=_order)
            halves[bay.tag] = _one_of_each(first)[:_HALVES]
    found += _split(search, halves, count)
    found = _from_every_bay(sorted(found, key=_order))
    deriver = Deriver()
    proposals = []
    for at, one in enumerate(found[:DERIVED]):
        tell(0.7 + 0.3 * at / DERIVED, "The best as whole designs")
        proposals.append(search.proposal(one, deriver))
    return tuple(sorted(proposals, key=lambda one: cost(one.used))[:BEST])


def _order(one: Candidate) -> tuple[float, float]:
    return one.order


def _one_of_each(ordered: list[Candidate]) -> list[Candidate]:
    """The best of every arrangement: the same rows a hand's breadth on are no other proposal."""
    best: dict[tuple[object, ...], Candidate] = {}
    for one in ordered:
        spot = one.spots[0]
        best.setdefault((spot.bay, spot.turn_deg, spot.grid), one)
    return list(best.values())


def _from_every_bay(ordered: list[Candidate]) -> list[Candidate]:
    """The best few of every bay or pair of bays, still best first: a list of one bay's rows is no choice."""
    taken: dict[tuple[str, ...], int] = {}
    kept = []
    for one in ordered:
        key = tuple(spot.bay for spot in one.spots)
        taken[key] = taken.get(key, 0) + 1
        if taken[key] <= OF_ONE_BAY:
            kept.append(one)
    return kept


def _split(search: _Search, halves: dict[str, list[Candidate]], count: int) -> list[Candidate]:
    """A bank in two bays: the best places of its halves together."""
    found = []
    for one, other in itertools.combinations(halves.values(), 2):
        pairs = [
            search.judged((first.spots[0], second.spots[0]._replace(places=second.spots[0].places[: count // 2])))
            for first in one
            for second in other
        ]
        if pairs:
            found.append(min(pairs, key=_order))
    return found


class _Search:
    """What is placed, what stands in the way, and what every place costs."""

    def __init__(self, design: Design, what: What) -> None:
        self.design, self.what = design, what
        job = design.job
        tags = [pack.tag for pack in job.bank.packs] if what == "bank" else [unit.tag for unit in job.inverters.units]
        by_tag = {item.tag: item for item in design.items}
        self.moved: list[Item] = [by_tag[tag] for tag in tags]
        self.size: Size = job.bank.spec.size if what == "bank" else job.inverters.spec.size
        gone = set(tags)
        self.others = [(item, box_of(item.place, item.size)) for item in design.items if item.tag not in gone]
        self.zones = [(zone.keep_m, box_of(zone.place, zone.size)) for zone in job.vehicle.zones]
        self.supports = stands(job.vehicle.axles)[0].supports
        self.base = self._without()
        self.run = (
            design.wiring.main
            if what == "bank"
            else max(
                (run for run in design.wiring.runs if run.end in gone),
                key=lambda one: one.length_m.value,
                default=design.wiring.main,
            )
        )
        self.warm = {one.tag: one for one in design.heat.bays}
        self.board = job.wiring.board.place

    def _without(self) -> list[float]:
        """Axle loads in their worst states without what is placed [kg]."""
        alone = loads_kg(self.supports, [(item.mass_kg, item.place.x_m) for item in self.moved])
        return [axle.load_kg.value - one for axle, one in zip(self.design.place.axles, alone, strict=True)]

    # ---- where it fits ----

    def spots(self, bay: Bay, count: int) -> Iterator[Spot]:
        """Every arrangement in rows and layers that fits, at every tenth of a metre, left, in the middle, right."""
        clear = opening(bay)
        sides = (self.size.length_m, self.size.width_m, self.size.height_m)
        if clear is not None and not fits_through(sides_m=sides, opening_m=clear):
            return
        half = self.design.job.vehicle.width_m / 2
        for turn_deg in (0, 90):
            size = turned_size(self.size, turn_deg)
            for grid in self._grids(bay, size, count):
                long, wide = (
                    number * (side + GAP_M) - GAP_M
                    for number, side in zip(grid, (size.length_m, size.width_m), strict=False)
                )
                last = bay.end_m - long
                steps = [bay.start_m + STEP_M * step for step in range(int((last - bay.start_m) / STEP_M + 1e-6) + 1)]
                for x_m in dict.fromkeys((*steps, last)):
                    for y_m in dict.fromkeys((-half, -wide / 2, half - wide)):
                        spot = self._spot(bay, turn_deg, grid, size, (round(x_m, 3), round(y_m, 3)), count)
                        if spot is not None:
                            yield spot

    def _grids(self, bay: Bay, size: Size, count: int) -> Iterator[tuple[int, int, int]]:
        """Rows along, rows across and layers that hold them all, none of which could be left out."""
        room = (bay.end_m - bay.start_m, self.design.job.vehicle.width_m, bay.top_m - bay.bottom_m)
        most = [
            int((space + GAP_M + 1e-6) // (side + GAP_M))
            for space, side in zip(room, (size.length_m, size.width_m, size.height_m), strict=True)
        ]
        layers = most[2] if self.what == "bank" else min(1, most[2])
        for grid in itertools.product(range(1, most[0] + 1), range(1, most[1] + 1), range(1, layers + 1)):
            along, across, up = grid
            if (
                along * across * up
                >= count
                > max((along - 1) * across * up, along * (across - 1) * up, along * across * (up - 1))
            ):
                yield grid

    def _spot(
        self, bay: Bay, turn_deg: int, grid: tuple[int, int, int], size: Size, at: tuple[float, float], count: int
    ) -> Spot | None:
        low = (at[0], at[1], bay.bottom_m)
        steps = [side + GAP_M for side in (size.length_m, size.width_m, size.height_m)]
        long, wide, tall = (number * step - GAP_M for number, step in zip(grid, steps, strict=True))
        around = Box(low, (low[0] + long, low[1] + wide, low[2] + tall))
        near = [box for _, box in self.others if _meet(around, box)]
        zones = [zone for zone in self.zones if _gap_m(around, zone[1]) < zone[0] - 1e-6]
        places = tuple(
            Place(
                x_m=round(low[0] + along * steps[0] + size.length_m / 2, 4),
                y_m=round(low[1] + across * steps[1] + size.width_m / 2, 4),
                z_m=round(low[2] + up * steps[2], 4),
            )
            for up, along, across in itertools.product(range(grid[2]), range(grid[0]), range(grid[1]))
        )[:count]
        if near or zones:  # seldom: then one by one
            boxes = [box_of(place, size) for place in places]
            if any(_meet(one, box) for one in boxes for box in near):
                return None
            if any(_gap_m(one, box) < keep - 1e-6 for one in boxes for keep, box in zones):
                return None
        return Spot(bay.tag, turn_deg, grid, places)

    # ---- what it costs ----

    def judged(self, spots: tuple[Spot, ...]) -> Candidate:
        """How much of each limit a place uses."""
        places = [place for spot in spots for place in spot.places]
        mass = self.moved[0].mass_kg
        more = loads_kg(self.supports, [(mass, place.x_m) for place in places])
        axles = self.design.job.vehicle.axles
        left = min(1 - (base + one) / each.limit_kg for base, one, each in zip(self.base, more, axles, strict=True))
        return Candidate(spots, (_tightness(left), self._side(places), self._drop(places), self._warmth(spots)))

    def _side(self, places: list[Place]) -> float:
        place, track = self.design.place, self.design.job.vehicle.track_m
        moved = sum(item.mass_kg * item.place.y_m for item in self.moved)
        now = sum(self.moved[0].mass_kg * one.y_m for one in places)
        side = place.right_minus_left_kg.value + 2 * (now - moved) / track
        return abs(side) / (SIDE_SHARE * place.gross_kg.value)

    def _drop(self, places: list[Place]) -> float:
        """Drop of its cable against what is allowed, with the conductor it has now."""
        allowed = self.design.job.wiring.drop_allowed
        metres = max(self._lead_m(place) for place in places) if self.what == "inverters" else self._main_m(places)
        now = self.run.length_m.value
        share = self.run.drop_share.value
        if not now or math.isnan(share):
            return metres / 10
        return share * metres / now / allowed

    def _lead_m(self, place: Place) -> float:
        path = self.design.ways.path(self.board, place, "dc")
        return 0.6 + (path.total_m if path is not None else 2 * math.dist(_three(self.board), _three(place)))

    def _main_m(self, places: list[Place]) -> float:
        packs = tuple(Pack(tag=item.tag, place=place) for item, place in zip(self.moved, places, strict=False))
        return self._lead_m(bank_end(packs, self.board, self.design.ways))

    def _warmth(self, spots: tuple[Spot, ...]) -> float:
        """Warmest air there against what is counted on; bays in which nothing is hot are as warm as it is outside."""
        site = self.design.job.site
        most = min(site.bay_high_c, self.design.job.bank.spec.charge_high_c) if self.what == "bank" else site.bay_high_c
        cool = site.design_high_c - 20
        warm = [self.warm[spot.bay].peak_c.value if spot.bay in self.warm else site.design_high_c for spot in spots]
        return max(0.0, (max(warm) - cool) / max(1.0, most - cool))

    # ---- as a whole design ----

    def edit(self, one: Candidate) -> Edit:
        """The edit that takes a place."""
        tags = [item.tag for item in self.moved]
        put = [(place, spot.turn_deg) for spot in one.spots for place in spot.places]

        def apply(job: Job) -> Job:
            for tag, (place, turn_deg) in zip(tags, put, strict=True):
                path = place_path(job, tag)
                job = with_value(with_value(job, f"{path}.place", place), f"{path}.turn_deg", turn_deg)
            return job

        return Edit(f"Put the {self.what} in {self.words(one)}", apply, system=WHOLE)

    def words(self, one: Candidate) -> str:
        """A place as people say it."""
        names = {bay.tag: bay.name for bay in self.design.job.vehicle.bays}
        said = []
        for spot in one.spots:
            along, across, up = spot.grid
            rows = f"{along} along × {across} across" + (f" × {up} high" if up > 1 else "")
            said.append(f"{names[spot.bay]}, {rows}{', turned' if spot.turn_deg else ''}")
        return " and ".join(said)

    def proposal(self, one: Candidate, deriver: Deriver) -> Proposal:
        """A candidate as a whole design."""
        edit = self.edit(one)
        house = deriver.derive(edit.on(self.design.whole))
        made = next((each for each in house.others if each.system == self.design.system), house)
        tightest = min(made.place.axles, key=lambda axle: axle.margin_kg.value / axle.limit_kg)
        run = next((run for run in made.wiring.runs if run.tag == self.run.tag), made.wiring.main)
        warm = next((bay.peak_c for bay in made.heat.bays if bay.tag == one.spots[0].bay), None)
        allowed = self.design.job.wiring.drop_allowed
        drop = made.wiring.worst_drop_share if self.what == "inverters" else run.drop_share
        mine = {item.tag for item in self.moved}
        crowded = sum(each.tag in mine or each.against in mine for each in made.clear.tight)
        crowded += sum(each.tag in mine for each in made.clear.hidden)
        used = (
            _tightness(tightest.margin_kg.value / tightest.limit_kg),
            abs(made.place.right_minus_left_kg.value) / (SIDE_SHARE * made.place.gross_kg.value),
            math.inf if math.isnan(drop.value) else drop.value / allowed,
            one.used[3],
            float(crowded),
        )
        at = max(range(5), key=used.__getitem__)
        least = min(range(4), key=used.__getitem__)
        reason = f"costs most: {LIMITS[at]}; best: {LIMITS[least]}"
        return Proposal(
            words=self.words(one),
            reason=reason,
            axle=tightest.tag,
            margin_kg=tightest.margin_kg,
            side_kg=made.place.right_minus_left_kg,
            lead_m=run.length_m if run.tag == MAIN_RUN or self.what == "inverters" else made.wiring.main.length_m,
            drop_share=drop,
            warmest_c=warm,
            used=used,
            now=made.items == self.design.items,
            edit=edit,
        )


def _tightness(margin_share: float) -> float:
    """How much of a comfortable margin is used up: 0 from a tenth of the plate on, over 1 where it is overloaded."""
    return max(0.0, 1 - margin_share / MARGIN_SHARE)


def _meet(one: Box, other: Box) -> bool:
    return all(one.low[k] < other.high[k] - 0.001 and other.low[k] < one.high[k] - 0.001 for k in range(3))


def _gap_m(one: Box, other: Box) -> float:
    """Shortest distance between two boxes [m]."""
    return math.hypot(*(max(0.0, one.low[k] - other.high[k], other.low[k] - one.high[k]) for k in range(3)))


def _three(place: Place) -> tuple[float, float, float]:
    return place.x_m, place.y_m, place.z_m
