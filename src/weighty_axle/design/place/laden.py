"""States of lading: what is full, what is empty, whether the trailer hangs on and a lifting axle is up, and which of
them is worst for each axle, wheel and weight.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import NamedTuple

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.place import Lading
from weighty_axle.job.models.vehicle import Axle, Vehicle
from weighty_axle.physics.body.axles import Support, loads_kg


class Weight(NamedTuple):
    """A mass that may be on board: its name in a state, mass over what was weighed [kg], where [m]."""

    name: str
    mass_kg: float
    x_m: float
    y_m: float
    z_m: float


Choice = tuple[tuple[Weight, ...], ...]
"""Ways one thing can be laden, each with the weights it then adds; one of them holds at a time."""


class Laden(NamedTuple):
    """Something at its worst: the value [kg], the weights that make it, and the state in words."""

    value: float
    weights: tuple[Weight, ...]
    words: str


def choices(ladings: tuple[Lading, ...], vehicle: Vehicle) -> tuple[Choice, ...]:
    """What can be laden how: empty or full; what takes from another is full only once that is empty; the trailer on or
    off.
    """
    found: list[Choice] = []
    takers = {one.takes_from: one for one in ladings if one.takes_from}
    for one in ladings:
        if one.takes_from and any(other.tag == one.takes_from for other in ladings):
            continue
        taker = takers.get(one.tag)
        if taker is None:
            found.append(((_at(one, full=False),), (_at(one, full=True),)))
        else:
            found.append(
                (
                    (_at(one, full=False), _at(taker, full=False)),
                    (_at(one, full=True), _at(taker, full=False)),
                    (_at(one, full=False), _at(taker, full=True)),
                )
            )
    if vehicle.trailer is not None:
        on = Weight(f"{vehicle.trailer.name} on", vehicle.trailer.coupling_kg, vehicle.trailer.coupling_x_m, 0.0, 0.5)
        found.append(((), (on,)))
    return tuple(found)


def _at(one: Lading, *, full: bool) -> Weight:
    mass = one.full_kg if full else one.empty_kg
    place = one.place
    words = f"{one.name} {'full' if full else 'empty'}"
    return Weight(words, mass - one.weighed_kg, place.x_m, place.y_m, place.z_m)


class Stand(NamedTuple):
    """One way the axles stand: which lifting axles are up, as words, and the supports that carry then."""

    words: str
    supports: tuple[Support, ...]


def stands(axles: tuple[Axle, ...]) -> tuple[Stand, ...]:
    """Every way lifting axles can stand; one that is up leaves its part to the others of its group. The last of a group
    never lifts.
    """
    lifting = [at for at, axle in enumerate(axles) if axle.lifts and not axle.coupling]
    found = []
    for up in itertools.chain.from_iterable(itertools.combinations(lifting, size) for size in range(len(lifting) + 1)):
        left = {
            group: sum(axle.share for at, axle in enumerate(axles) if axle.group == group and at not in up)
            for group in ("front", "rear")
        }
        if min(left.values()) <= 0:
            continue
        supports = tuple(
            Support(axle.x_m, 0.0 if at in up else axle.share / left[axle.group], axle.group == "front")
            for at, axle in enumerate(axles)
        )
        found.append(Stand(" and ".join(f"{axles[at].tag} up" for at in up), supports))
    return tuple(found)


def as_weighed(stand: Stand, axles: tuple[Axle, ...], read: Sequence[float]) -> tuple[float, ...]:
    """What was read at each axle, as it lies on them while they stand so: as read with all down, by statics with one up
    (the vehicle then rests on other places, so that the other group carries another load too).
    """
    if not stand.words:
        return tuple(read)
    return loads_kg(stand.supports, [(each, axle.x_m) for each, axle in zip(read, axles, strict=True)])


def worst(base: float, options: tuple[Choice, ...], part: Sequence[Sequence[float]], *, most: bool = True) -> Laden:
    """The most (or least) of a quantity that adds up over weights.

    `part` gives for every choice what each of its ways adds; each choice is made by itself, so that this is the best of
    all combinations.
    """
    value, weights, said = base, list[Weight](), list[str]()
    for choice, adds in zip(options, part, strict=True):
        at = (max if most else min)(range(len(choice)), key=adds.__getitem__)
        value += adds[at]
        weights += choice[at]
        said += [one.name for one in choice[at]]
    return Laden(value, tuple(weights), ", ".join(said))


def per_axle(stand: Stand, options: tuple[Choice, ...], axle: int) -> list[list[float]]:
    """What every way of every choice adds to one axle [kg]."""
    return [
        [loads_kg(stand.supports, [(one.mass_kg, one.x_m) for one in way])[axle] if way else 0.0 for way in choice]
        for choice in options
    ]


def laden_figure(name: str, base: tuple[Given | Figure, ...], found: Laden, parts: tuple[Given, ...]) -> Figure:
    """A worst load with its working: what it starts from, and what the state adds."""
    return Figure.total(
        name=name,
        unit="kg",
        formula="weighbridge + added + what the worst state of lading adds",
        inputs=(*base, *parts),
        source=TEXTBOOK,
        limit=found.words,
    )
