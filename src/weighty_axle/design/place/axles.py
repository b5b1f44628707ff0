"""Step Place: axle loads from where everything sits, and what does not fit."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.place.laden import (
    Choice,
    Laden,
    Stand,
    Weight,
    as_weighed,
    choices,
    laden_figure,
    per_axle,
    stands,
    worst,
)
from weighty_axle.design.place.readings import Readings, readings
from weighty_axle.design.place.sides import sides
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.place import Lading, Removed
from weighty_axle.job.models.roof import Roof, spec_of
from weighty_axle.job.models.vehicle import Axle, Trailer, Vehicle
from weighty_axle.physics.body.axles import loads_kg, side_difference_kg

MOST_STATES = 5000
"""States of lading a coupling's share is tried in."""


class AxleResult(Struct, frozen=True, kw_only=True):
    """One axle or coupling: its load in the state of lading that is worst for it, and in the lightest.

    `right_kg` and `left_kg` are the most its wheels carry on a side, by whichever of the two usual assumptions gives
    more; `spread_kg` is how far the two are apart.
    """

    tag: str
    coupling: bool
    limit_kg: float
    added_kg: Figure
    load_kg: Figure
    least_kg: Figure
    margin_kg: Figure
    right_kg: Figure
    left_kg: Figure
    spread_kg: Figure
    tyre_margin_kg: Figure | None


class PlaceResult(Struct, frozen=True, kw_only=True):
    """Axle loads and the fit of items in the vehicle. Clashes are pairs of tags."""

    axles: tuple[AxleResult, ...]
    added_kg: Figure
    gross_kg: Figure
    gross_margin_kg: Figure
    right_minus_left_kg: Figure
    coupling_share: Figure | None
    coupling_least_share: Figure | None
    front_least_share: Figure | None
    payload_kg: Figure
    cog_m: Figure | None
    rollover_share: Figure | None
    readings: Readings | None
    combination_kg: Figure | None
    heaviest: str
    outside: tuple[str, ...]
    clashes: tuple[tuple[str, str], ...]


def place(
    vehicle: Vehicle, items: tuple[Item, ...], roof: Roof, removed: tuple[Removed, ...], ladings: tuple[Lading, ...]
) -> PlaceResult:
    """Weighbridge baseline plus everything added, less what leaves, by statics, in the state of lading that is worst
    for each limit.

    What was on board when it was weighed is not added again. A trailer's coupling is added where it sits.

    Source: physics.axles; textbook relations.
    """
    new = tuple(item for item in items if not item.was_there)
    weights = [Weight(one.name, one.mass_kg, one.place.x_m, one.place.y_m, _middle_m(one)) for one in new]
    weights += [Weight("module", spec_of(roof, one).mass_kg, one.x_m, one.y_m, vehicle.roof_m) for one in roof.modules]
    weights += [Weight(one.name, -one.mass_kg, one.place.x_m, one.place.y_m, one.place.z_m) for one in removed]
    modules_kg = sum(spec_of(roof, module).mass_kg for module in roof.modules)
    total = Figure(
        name="Added mass",
        value=sum(one.mass_kg for one in weights),
        unit="kg",
        formula="Σ mass of all items and modules − what leaves",
        inputs=(
            *(Given(item.name, item.mass_kg, "kg") for item in new),
            Given(f"{len(roof.modules)} modules", modules_kg, "kg"),
            *(Given(f"{one.name} leaves", -one.mass_kg, "kg") for one in removed),
        ),
        source=TEXTBOOK,
    )
    added = loads_kg(stands(vehicle.axles)[0].supports, [(one.mass_kg, one.x_m) for one in weights])
    options = choices(ladings, vehicle)
    centre = Given("Its centre, along", _centre_m([(one.mass_kg, one.x_m) for one in weights]), "m")
    axles = tuple(_axle(at, extra, vehicle, tuple(weights), options, (total, centre)) for at, extra in enumerate(added))
    weighed = Given("Weighbridge total", sum(axle.weighed_kg for axle in vehicle.axles), "kg")
    masses = [[sum(one.mass_kg for one in way) for way in choice] for choice in options]
    heavy = worst(weighed.value + total.value, options, masses)
    gross = laden_figure("Gross weight", (weighed, total), heavy, tuple(_given(one) for one in heavy.weights))
    light = worst(weighed.value + total.value, options, masses, most=False)
    lightest = laden_figure("Lightest", (weighed, total), light, tuple(_given(one) for one in light.weights))
    margin = Figure.difference(
        name="Gross margin",
        unit="kg",
        formula="gross limit − gross weight",
        inputs=(Given("Gross limit", vehicle.gross_limit_kg, "kg"), gross),
        source=TEXTBOOK,
        limit=heavy.words,
    )
    across = [(one.mass_kg, one.y_m) for one in weights]
    side = Figure(
        name="Added, right minus left",
        value=side_difference_kg(across, track_m=vehicle.track_m),
        unit="kg",
        formula="2 × mass × its centre right of the middle ÷ track",
        inputs=(
            Given("Track", vehicle.track_m, "m"),
            total,
            Given("Its centre, right of the middle", _centre_m(across), "m"),
        ),
        source=TEXTBOOK,
        limit="how it splits between axles is not decided by statics",
    )
    cog = _cog(vehicle, weighed, tuple(weights))
    coupling = next((index for index, axle in enumerate(vehicle.axles) if axle.coupling), None)
    foremost = min(range(len(vehicle.axles)), key=lambda index: vehicle.axles[index].x_m)
    whole = (vehicle, tuple(weights), options)
    return PlaceResult(
        axles=axles,
        added_kg=total,
        gross_kg=gross,
        gross_margin_kg=margin,
        right_minus_left_kg=side,
        coupling_share=_share_of("Coupling load, most of gross", coupling, *whole, most=True),
        coupling_least_share=_share_of("Coupling load, least of gross", coupling, *whole, most=False),
        front_least_share=_share_of("Front axle, least of gross", foremost, *whole, most=False),
        payload_kg=Figure.difference(
            name="Payload left, lightest",
            unit="kg",
            formula="gross limit − lightest",
            inputs=(Given("Gross limit", vehicle.gross_limit_kg, "kg"), lightest),
            source=TEXTBOOK,
            limit=light.words,
        ),
        cog_m=cog,
        rollover_share=_rollover(vehicle, cog),
        readings=readings(vehicle, added),
        combination_kg=_combination(vehicle.trailer, gross),
        heaviest=min(axles, key=lambda one: one.margin_kg.value).tag,
        outside=_outside(vehicle, items),
        clashes=_clashes(items),
    )


def _middle_m(item: Item) -> float:
    return item.place.z_m + item.size.height_m / 2


def _given(one: Weight) -> Given:
    return Given(one.name, one.mass_kg, "kg")


def _share_of(
    name: str, at: int | None, vehicle: Vehicle, weights: tuple[Weight, ...], options: tuple[Choice, ...], *, most: bool
) -> Figure | None:
    """The most or least one axle or coupling carries of the whole, over every state of lading."""
    if at is None:
        return None
    base_kg = sum(axle.weighed_kg for axle in vehicle.axles) + sum(one.mass_kg for one in weights)
    supports = stands(vehicle.axles)[0].supports
    on_kg = vehicle.axles[at].weighed_kg + loads_kg(supports, [(one.mass_kg, one.x_m) for one in weights])[at]
    each = [
        [(loads_kg(supports, [(one.mass_kg, one.x_m) for one in way])[at] if way else 0.0, way) for way in choice]
        for choice in options
    ]

    def shares() -> Iterator[tuple[float, float, float, str]]:
        for ways in itertools.islice(itertools.product(*each), MOST_STATES):
            laden = [one for _, way in ways for one in way]
            load, whole = on_kg + sum(more for more, _ in ways), base_kg + sum(one.mass_kg for one in laden)
            yield load / whole if whole else 0.0, load, whole, ", ".join(one.name for one in laden)

    _, load, whole, words = (max if most else min)(shares(), key=lambda one: one[0])
    return Figure.quotient(
        name=name,
        unit="1",
        formula="load ÷ weight in that state",
        inputs=(Given("Load", load, "kg"), Given("Weight", whole, "kg")),
        source=TEXTBOOK,
        limit=words,
        by_zero=0.0,
    )


def _cog(vehicle: Vehicle, weighed: Given, weights: tuple[Weight, ...]) -> Figure | None:
    """Height of the centre of gravity with everything added; None where the baseline's is not known."""
    if vehicle.cog_m is None or not weighed.value:
        return None
    added = sum(one.mass_kg for one in weights)
    height = Given("Its centre, up", _centre_m([(one.mass_kg, one.z_m) for one in weights]), "m")
    return Figure(
        name="Centre of gravity, up",
        value=(weighed.value * vehicle.cog_m + added * height.value) / (weighed.value + added),
        unit="m",
        formula="(weighbridge × its height + added × its height) ÷ both",
        inputs=(weighed, Given("Height before", vehicle.cog_m, "m"), Given("Added mass", added, "kg"), height),
        source=TEXTBOOK,
        limit="as weighed; for information",
    )


def _rollover(vehicle: Vehicle, cog: Figure | None) -> Figure | None:
    """Static rollover threshold; for information."""
    if cog is None:
        return None
    return Figure(
        name="Static rollover threshold",
        value=vehicle.track_m / (2 * cog.value),
        unit="1",
        formula="track ÷ (2 × height of the centre of gravity), of the weight",
        inputs=(Given("Track", vehicle.track_m, "m"), cog),
        source="textbook relation (rigid vehicle on a level road); tyres and springs give way earlier",
        limit="for information",
    )


def _combination(trailer: Trailer | None, gross: Figure) -> Figure | None:
    """Vehicle and trailer together: what the coupling carries is in the vehicle's weight already."""
    if trailer is None:
        return None
    return Figure(
        name="Combination weight",
        value=gross.value + trailer.mass_kg - trailer.coupling_kg,
        unit="kg",
        formula="gross weight + trailer − its load on the coupling",
        inputs=(gross, Given(trailer.name, trailer.mass_kg, "kg"), Given("On the coupling", trailer.coupling_kg, "kg")),
        source=TEXTBOOK,
    )


def _axle(
    at: int,
    added_kg: float,
    vehicle: Vehicle,
    weights: tuple[Weight, ...],
    options: tuple[Choice, ...],
    mass: tuple[Figure | Given, ...],
) -> AxleResult:
    """One axle at its own worst state: lading, trailer, lifting axles up or down."""
    axle = vehicle.axles[at]
    tag = axle.tag
    placed = tuple(
        given
        for one in vehicle.axles
        for given in (Given(f"{one.tag} along", one.x_m, "m"), Given(f"{one.tag} share of its group", one.share, "1"))
    )
    added = Figure(
        name=f"{tag} added",
        value=added_kg,
        unit="kg",
        formula="share of its group × mass × distance of its centre from the other group ÷ distance of the groups",
        inputs=(*mass, *placed),
        source=TEXTBOOK,
        limit=f"{tag} is in the {axle.group} group; a group acts at the mean of its places by share",
    )
    every = _every_stand(at, vehicle, weights, options)
    heavy, light = max(every, key=lambda one: one.most.value), min(every, key=lambda one: one.least.value)
    load = _load(f"{tag} load", axle, added, heavy, heavy.most)
    least = _load(f"{tag} load, lightest", axle, added, light, light.least)
    margin = Figure.difference(
        name=f"{tag} margin",
        unit="kg",
        formula="plate − load",
        inputs=(Given("Plate", axle.limit_kg, "kg"), load),
        source=TEXTBOOK,
        limit=load.limit,
    )
    right, left, spread = sides(at, vehicle, weights, options, load)
    tyre = None
    if axle.tyre_kg is not None:
        tyre = Figure(
            name=f"{tag} tyre margin",
            value=axle.tyre_kg * axle.tyres / 2 - max(right.value, left.value),
            unit="kg",
            formula="tyres of a side × what one carries − the heavier side",
            inputs=(Given("One tyre carries", axle.tyre_kg, "kg"), Given("Tyres", axle.tyres, "count"), right, left),
            source="tyre's load index",
        )
    return AxleResult(
        tag=tag,
        coupling=axle.coupling,
        limit_kg=axle.limit_kg,
        added_kg=added,
        load_kg=load,
        least_kg=least,
        margin_kg=margin,
        right_kg=right,
        left_kg=left,
        spread_kg=spread,
        tyre_margin_kg=tyre,
    )


class _Standing(NamedTuple):
    """An axle while the axles stand one way: what is there before any lading, and its most and least with it."""

    stand: Stand
    base_kg: float
    most: Laden
    least: Laden


def _every_stand(
    at: int, vehicle: Vehicle, weights: tuple[Weight, ...], options: tuple[Choice, ...]
) -> tuple[_Standing, ...]:
    found = []
    whole = [(one.mass_kg, one.x_m) for one in weights]
    for stand in stands(vehicle.axles):
        weighed = as_weighed(stand, vehicle.axles, [axle.weighed_kg for axle in vehicle.axles])
        base = weighed[at] + loads_kg(stand.supports, whole)[at]
        part = per_axle(stand, options, at)
        most, least = worst(base, options, part), worst(base, options, part, most=False)
        words = [", ".join(one for one in (laden.words, stand.words) if one) for laden in (most, least)]
        found.append(_Standing(stand, base, most._replace(words=words[0]), least._replace(words=words[1])))
    return tuple(found)


def _load(name: str, axle: Axle, added: Figure, standing: _Standing, laden: Laden) -> Figure:
    parts = [
        Given(one.name, loads_kg(standing.stand.supports, [(one.mass_kg, one.x_m)])[_index(standing.stand, axle)], "kg")
        for one in laden.weights
    ]
    if standing.stand.words:
        moved = Given(f"With {standing.stand.words}", standing.base_kg - axle.weighed_kg - added.value, "kg")
        parts.append(moved)
    return laden_figure(name, (Given("Weighbridge", axle.weighed_kg, "kg"), added), laden, tuple(parts))


def _index(stand: Stand, axle: Axle) -> int:
    return next(at for at, one in enumerate(stand.supports) if one.x_m == axle.x_m)


def _centre_m(weights: list[tuple[float, float]]) -> float:
    """Where weights (mass [kg], place [m]) act together [m]; 0 without any."""
    total = sum(mass for mass, _ in weights)
    return sum(mass * place for mass, place in weights) / total if total else 0.0


def _outside(vehicle: Vehicle, items: tuple[Item, ...]) -> tuple[str, ...]:
    """Items that reach past the body in any direction (1 mm allowed)."""
    slack = 0.001
    return tuple(
        item.tag
        for item in items
        if item.place.x_m - item.size.length_m / 2 < -slack
        or item.place.x_m + item.size.length_m / 2 > vehicle.length_m + slack
        or abs(item.place.y_m) + item.size.width_m / 2 > vehicle.width_m / 2 + slack
        or item.place.z_m < vehicle.skirt_m - slack
        or item.place.z_m + item.size.height_m > vehicle.roof_m + slack
    )


def _clashes(items: tuple[Item, ...]) -> tuple[tuple[str, str], ...]:
    """Pairs that stand in each other, swept from the front: only what begins before another ends is held against it."""
    starts = [item.place.x_m - item.size.length_m / 2 for item in items]
    ends = [item.place.x_m + item.size.length_m / 2 for item in items]
    order = sorted(range(len(items)), key=starts.__getitem__)
    found = []
    for at, one in enumerate(order):
        for other in order[at + 1 :]:
            if starts[other] >= ends[one]:
                break
            if _meet(items[one], items[other]):
                found.append((min(one, other), max(one, other)))
    return tuple((items[one].tag, items[other].tag) for one, other in sorted(found))


def _meet(one: Item, other: Item) -> bool:
    slack = 0.001
    return (
        abs(one.place.x_m - other.place.x_m) < (one.size.length_m + other.size.length_m) / 2 - slack
        and abs(one.place.y_m - other.place.y_m) < (one.size.width_m + other.size.width_m) / 2 - slack
        and one.place.z_m < other.place.z_m + other.size.height_m - slack
        and other.place.z_m < one.place.z_m + one.size.height_m - slack
    )
