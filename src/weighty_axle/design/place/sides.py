"""Left and right of every axle, by the two usual assumptions: statics alone does not decide the split."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.place.laden import Choice, Stand, Weight, as_weighed, per_axle, stands, worst
from weighty_axle.job.models.vehicle import Axle, Vehicle
from weighty_axle.physics.body.axles import Support, loads_kg


def sides(
    at: int, vehicle: Vehicle, weights: tuple[Weight, ...], options: tuple[Choice, ...], load: Figure
) -> tuple[Figure, Figure, Figure]:
    """The most on the right and the left wheels, in every state of lading and stand of the axles, and how far the two
    assumptions are apart with all axles down.
    """
    axle = vehicle.axles[at]
    found: dict[str, tuple[float, str, str]] = {}
    for stand in stands(vehicle.axles):
        for side, one in _of_stand(at, vehicle, stand, weights, options):
            if side not in found or one[0] > found[side][0]:
                found[side] = one
    before = _difference_read(axle)
    apart = differences(vehicle, stands(vehicle.axles)[0].supports, _across(weights))

    def figure(side: str) -> Figure:
        value, words, state = found[side]
        return Figure(
            name=f"{axle.tag} {side} wheels",
            value=value,
            unit="kg",
            formula="(load ± right minus left) ÷ 2, in its own worst state",
            inputs=(
                load,
                Given("Weighed, right minus left", before, "kg"),
                Given("Added, soft frame", apart[0][at], "kg"),
                Given("Added, stiff frame", apart[1][at], "kg"),
            ),
            source=f"{TEXTBOOK}; split between axles by assumption: {PRACTICE}",
            limit=", ".join(one for one in (words, state) if one),
        )

    spread = Figure(
        name=f"{axle.tag} spread of the assumptions",
        value=abs(apart[0][at] - apart[1][at]) / 2,
        unit="kg",
        formula="|soft frame − stiff frame| ÷ 2",
        inputs=(Given("Soft frame", apart[0][at], "kg"), Given("Stiff frame", apart[1][at], "kg")),
        source=TEXTBOOK,
    )
    return figure("right"), figure("left"), spread


def _difference_read(axle: Axle) -> float:
    """Right minus left on the weighbridge [kg]; nothing where the left wheels were not read."""
    return axle.weighed_kg - 2 * axle.weighed_left_kg if axle.weighed_left_kg is not None else 0.0


def _across(weights: tuple[Weight, ...]) -> list[tuple[float, float, float]]:
    return [(one.mass_kg, one.x_m, one.y_m) for one in weights]


def _of_stand(
    at: int, vehicle: Vehicle, stand: Stand, weights: tuple[Weight, ...], options: tuple[Choice, ...]
) -> Iterator[tuple[str, tuple[float, str, str]]]:
    """Each side by each assumption at its own worst: load [kg], assumption, state."""
    supports, axles = stand.supports, vehicle.axles
    read = as_weighed(stand, axles, [axle.weighed_kg for axle in axles])[at]
    before = as_weighed(stand, axles, [_difference_read(axle) for axle in axles])[at]
    base = read + loads_kg(supports, [(one.mass_kg, one.x_m) for one in weights])[at]
    loads = per_axle(stand, options, at)
    apart = differences(vehicle, supports, _across(weights))
    each = [[differences(vehicle, supports, _across(way)) for way in choice] for choice in options]
    for kind, words in enumerate(("frame soft in twist", "frame stiff in twist")):
        for side, sign in (("right", 1), ("left", -1)):
            part = [
                [(more + sign * way[kind][at]) / 2 for more, way in zip(adds, ways, strict=True)]
                for adds, ways in zip(loads, each, strict=True)
            ]
            laden = worst((base + sign * (before + apart[kind][at])) / 2, options, part)
            yield side, (laden.value, words, ", ".join(one for one in (laden.words, stand.words) if one))


def differences(
    vehicle: Vehicle, supports: tuple[Support, ...], weights: Sequence[tuple[float, float, float]]
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Right minus left on every axle [kg] from weights (mass [kg], along, across [m]), by the two usual assumptions.

    A frame soft in twist lets each axle carry the moment of what stands over it; a stiff one shares the whole moment in
    proportion to the springs, taken to be as the plates.

    Source: textbook relation (moments); the two assumptions common practice, no source.
    """
    tracks = [axle.track_m or vehicle.track_m for axle in vehicle.axles]
    moments = loads_kg(supports, [(mass * across, along) for mass, along, across in weights])
    soft = tuple(2 * moment / track for moment, track in zip(moments, tracks, strict=True))
    springs = [
        0.0 if axle.coupling or not one.share else axle.limit_kg
        for axle, one in zip(vehicle.axles, supports, strict=True)
    ]
    whole = sum(mass * across for mass, _, across in weights)
    stiff = tuple(
        2 * whole * spring / sum(springs) / track if sum(springs) else 0.0
        for spring, track in zip(springs, tracks, strict=True)
    )
    return soft, stiff
