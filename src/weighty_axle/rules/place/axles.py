"""Rules of weight and place: axles, coupling, sides, what does not fit."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.place.clear import Box, box_of
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, move
from weighty_axle.job.models.vehicle import VehicleKind
from weighty_axle.rules.registry import Hit, hit, rule, share

COUPLING_RANGE: dict[VehicleKind, tuple[float, float]] = {
    "centre_axle_trailer": (0.04, 0.15),
    "semi_trailer": (0.10, 0.40),
}
"""Coupling load as share of the trailer's weight. Source: common practice, no source."""


SIDE_SHARE = 0.04
"""Added difference between the sides, as share of gross, from which it is said. Source: common practice, no source."""


@rule("place.axle-over-plate", "stop", "{axle} carries {load}{state}; its plate says {plate}.", "vehicle plate")
def axle_over_plate(design: Design) -> Iterator[Hit]:
    """An axle above its plate; the remedy moves the bank just far enough when that helps and fits."""
    for axle in design.place.axles:
        if over(axle.load_kg.value, axle.limit_kg):
            yield hit(
                axle.tag,
                axle=axle.tag,
                load=axle.load_kg,
                state=_with(axle.load_kg),
                plate=Given("", axle.limit_kg, "kg"),
                remedy=_move_bank(design, axle.tag),
            )


def _with(figure: Figure) -> str:
    """The state of lading a load is worst in, as words; nothing where there is one state only."""
    return f" with {figure.limit}" if figure.limit else ""


def _move_bank(design: Design, tag: str) -> Edit | None:
    """Smallest move of the whole bank along the vehicle that takes the excess off one axle, within the body."""
    vehicle, bank = design.job.vehicle, design.bank.mass_kg.value
    axle = next(one for one in vehicle.axles if one.tag == tag)
    excess = -next(one.margin_kg.value for one in design.place.axles if one.tag == tag)
    front = sum(one.x_m * one.share for one in vehicle.axles if one.group == "front")
    rear = sum(one.x_m * one.share for one in vehicle.axles if one.group == "rear")
    distance = excess / axle.share * (rear - front) / bank if bank else 0.0
    dx = round((distance + 0.005) * (1 if axle.group == "front" else -1), 2)
    half = design.job.bank.spec.size.length_m / 2
    packs = design.job.bank.packs
    fits = all(half <= pack.place.x_m + dx <= vehicle.length_m - half for pack in packs)
    return move(tuple(pack.tag for pack in packs), dx_m=dx) if fits and bank else None


@rule("place.axle-margin-small", "check", "{axle} has {margin} left to its plate{state}.", PRACTICE)
def axle_margin_small(design: Design) -> Iterator[Hit]:
    """Less than 2 % of the plate left."""
    for axle in design.place.axles:
        if not over(axle.load_kg.value, axle.limit_kg) and axle.margin_kg.value < 0.02 * axle.limit_kg:
            yield hit(axle.tag, axle=axle.tag, margin=axle.margin_kg, state=_with(axle.load_kg))


@rule("place.axle-lifted", "stop", "{axle} would be lifted: {load}{state}.", "textbook relation: statics")
def axle_lifted(design: Design) -> Iterator[Hit]:
    """A negative axle load."""
    for axle in design.place.axles:
        if axle.least_kg.value < 0:
            yield hit(axle.tag, axle=axle.tag, load=axle.least_kg, state=_with(axle.least_kg))


@rule(
    "place.steer-light",
    "check",
    "{axle} carries {part} of the weight{state}; below 20 % a driven vehicle steers and brakes badly.",
    PRACTICE,
)
def steer_light(design: Design) -> Iterator[Hit]:
    """Front axle of a driven vehicle under a fifth of the gross weight."""
    if design.job.vehicle.kind not in ("coach", "rigid_truck"):
        return
    foremost = min(design.job.vehicle.axles, key=lambda axle: axle.x_m)
    part = design.place.front_least_share
    if part is not None and part.value < 0.2:
        yield hit(foremost.tag, axle=foremost.tag, part=part, state=_with(part))


@rule("place.gross-over", "stop", "The vehicle weighs {gross}{state}; its limit is {limit}.", "vehicle plate")
def gross_over(design: Design) -> Iterator[Hit]:
    """Gross weight above the limit."""
    if over(design.place.gross_kg.value, design.job.vehicle.gross_limit_kg):
        gross = design.place.gross_kg
        yield hit(gross=gross, state=_with(gross), limit=Given("", design.job.vehicle.gross_limit_kg, "kg"))


@rule(
    "place.combination-over",
    "stop",
    "Vehicle and trailer weigh {weight} together; the combination may weigh {limit}.",
    "vehicle plate",
)
def combination_over(design: Design) -> Iterator[Hit]:
    """Vehicle and trailer above what they may weigh together."""
    weight, limit = design.place.combination_kg, design.job.vehicle.combination_limit_kg
    if weight is not None and limit is not None and over(weight.value, limit):
        yield hit(weight=weight, limit=Given("", limit, "kg"))


@rule(
    "place.coupling-out-of-range",
    "check",
    "The coupling carries {part} of the weight{state}; {low} to {high} is usual.",
    PRACTICE,
)
def coupling_out_of_range(design: Design) -> Iterator[Hit]:
    """Coupling load outside the usual share."""
    most, least = design.place.coupling_share, design.place.coupling_least_share
    if most is None or least is None or design.job.vehicle.kind not in COUPLING_RANGE:
        return
    low, high = COUPLING_RANGE[design.job.vehicle.kind]
    part = least if least.value < low else most
    if not low <= part.value <= high:
        coupling = next(axle.tag for axle in design.place.axles if axle.coupling)
        yield hit(coupling, part=part, state=_with(part), low=share(low), high=share(high))


@rule(
    "place.tyre-over",
    "stop",
    "The {side} wheels of {axle} may carry {load}; their tyres are good for {limit}.",
    "tyre's load index",
    "Spread over both sides, or tyres of a higher index.",
)
def tyre_over(design: Design) -> Iterator[Hit]:
    """A side above what its tyres carry, by whichever usual assumption gives more."""
    stated = {axle.tag: axle for axle in design.job.vehicle.axles}
    for axle in design.place.axles:
        if axle.tyre_margin_kg is not None and axle.tyre_margin_kg.value < 0:
            side, load = max((("right", axle.right_kg), ("left", axle.left_kg)), key=lambda one: one[1].value)
            limit = (stated[axle.tag].tyre_kg or 0.0) * stated[axle.tag].tyres / 2
            yield hit(axle.tag, side=side, axle=axle.tag, load=load, limit=Given("", limit, "kg"))


@rule(
    "place.tyre-under-plate",
    "note",
    "The tyres of {axle} carry {tyres} together; its plate says {plate}.",
    "tyre's load index",
)
def tyre_under_plate(design: Design) -> Iterator[Hit]:
    """Tyres that carry less than the plate."""
    for axle in design.job.vehicle.axles:
        if axle.tyre_kg is not None and over(axle.limit_kg, axle.tyre_kg * axle.tyres):
            yield hit(
                axle.tag,
                axle=axle.tag,
                tyres=Given("", axle.tyre_kg * axle.tyres, "kg"),
                plate=Given("", axle.limit_kg, "kg"),
            )


@rule(
    "place.reading-apart",
    "check",
    "{axle} was read {more} off what was predicted; {mass} more{where} would explain it all.",
    "weighbridge",
    "Something was not stated, weighs other than its label, or stands elsewhere.",
)
def reading_apart(design: Design) -> Iterator[Hit]:
    """Readings after that differ by more than a weighbridge's own error (20 kg and half a percent; common practice)."""
    found = design.place.readings
    if found is None:
        return
    read = {axle.tag: axle.after_kg or 0.0 for axle in design.job.vehicle.axles}
    apart = found.differences[found.worst]
    if abs(apart.value) > 20 + 0.005 * read[found.worst]:
        where = f" {found.where_m.value:.1f} m from the front" if found.where_m is not None else ""
        yield hit(found.worst, axle=found.worst, more=apart, mass=found.mass_kg, where=where)


@rule("place.side-heavy", "check", "What was added weighs {more} more on the {side} side.", PRACTICE)
def side_heavy(design: Design) -> Iterator[Hit]:
    """Added mass far to one side."""
    difference = design.place.right_minus_left_kg
    if abs(difference.value) > SIDE_SHARE * design.place.gross_kg.value:
        yield hit(more=Given("", abs(difference.value), "kg"), side="right" if difference.value > 0 else "left")


@rule("place.no-mass", "check", "{item} has no mass: axles carry more than is said.", "geometry", "Weigh it.")
def no_mass(design: Design) -> Iterator[Hit]:
    """A new thing that weighs nothing."""
    for item in design.items:
        if not item.was_there and item.mass_kg == 0:
            yield hit(item.tag, item=item.tag)


@rule("place.outside", "stop", "{item} reaches {over} outside the vehicle.", "geometry")
def outside(design: Design) -> Iterator[Hit]:
    """Items past the body."""
    vehicle = design.job.vehicle
    half = vehicle.width_m / 2
    body = Box((0.0, -half, vehicle.skirt_m), (vehicle.length_m, half, vehicle.roof_m))
    items = {item.tag: item for item in design.items}
    for tag in design.place.outside:
        box = box_of(items[tag].place, items[tag].size)
        past = [max(body.low[k] - box.low[k], box.high[k] - body.high[k]) for k in range(3)]
        yield hit(tag, item=tag, over=Given("", 1000 * max(past), "mm"))


@rule("place.clash", "stop", "{item} and {other} stand {deep} deep in the same space.", "geometry")
def clash(design: Design) -> Iterator[Hit]:
    """Items in each other, by as much as one would have to move."""
    boxes = {item.tag: box_of(item.place, item.size) for item in design.items}
    for one, other in design.place.clashes:
        a, b = boxes[one], boxes[other]
        deep = min(min(a.high[k] - b.low[k], b.high[k] - a.low[k]) for k in range(3))
        yield hit(one, other, item=one, other=other, deep=Given("", 1000 * deep, "mm"))
