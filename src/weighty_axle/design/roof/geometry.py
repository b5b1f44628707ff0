"""Boxes on the roof, its outline, and the gap a curved roof leaves under a flat module."""

from __future__ import annotations

import itertools
import math
from typing import TYPE_CHECKING

from weighty_axle.job.models.roof import Lane, Module, ModuleSpec, Obstacle, Roof, spec_of

if TYPE_CHECKING:
    from weighty_axle.physics.search.packing import Rectangle


SLACK_M = 0.001
"""Overlap that counts as none: a millimetre."""
MODULE_TOP_M = 0.06
"""Height of a module's face over the roof. Source: common practice, no source."""


def module_box(module: Module, spec: ModuleSpec) -> Rectangle:
    """Footprint of a module on the roof [m]."""
    along, across = (spec.width_m, spec.length_m) if module.turned else (spec.length_m, spec.width_m)
    return module.x_m - along / 2, module.x_m + along / 2, module.y_m - across / 2, module.y_m + across / 2


def module_boxes(roof: Roof) -> dict[str, Rectangle]:
    """Footprint of every module by tag [m]."""
    return {module.tag: module_box(module, spec_of(roof, module)) for module in roof.modules}


def pull_m(roof: Roof, box: Rectangle, moved: frozenset[str], reach_m: float) -> tuple[float, float]:
    """How far to shift a box along and across the roof so that it lines up [m]; 0 where nothing is within reach.

    It lines up middle to middle with another, one gap from another, or at the edge of what is allowed. `moved` are the
    tags that go along.
    """
    others = [other for tag, other in module_boxes(roof).items() if tag not in moved]
    others += [flat_box(obstacle) for obstacle in roof.obstacles if obstacle.tag not in moved]
    edge = min(allowed_half_m(roof, x) for x in box[:2])
    sides = ((0, roof.start_m + roof.margin_m, roof.end_m - roof.margin_m), (2, -edge, edge))
    along, across = (
        _shift_m(box[at : at + 2], [one[at : at + 2] for one in others], (low, high), roof.gap_m, reach_m)
        for at, low, high in sides
    )
    return along, across


def _shift_m(
    own: tuple[float, ...], others: list[tuple[float, ...]], ends: tuple[float, float], gap_m: float, reach_m: float
) -> float:
    shifts = [ends[0] - own[0], ends[1] - own[1]]
    for low, high in others:
        shifts += [(low + high - own[0] - own[1]) / 2, high + gap_m - own[0], low - gap_m - own[1]]
    nearest = min(shifts, key=abs)
    return nearest if abs(nearest) < reach_m else 0.0


def flat_box(one: Obstacle | Lane, around_m: float = 0.0) -> Rectangle:
    """Footprint of an obstacle or a lane on the roof, with room around it [m]."""
    along, across = one.length_m / 2 + around_m, one.width_m / 2 + around_m
    return one.x_m - along, one.x_m + along, one.y_m - across, one.y_m + across


def service_box(obstacle: Obstacle) -> Rectangle | None:
    """Room to work around an obstacle [m]; None where none is kept or it was given up."""
    kept = obstacle.service_m > 0 and not obstacle.service_given_up
    return flat_box(obstacle, obstacle.service_m) if kept else None


def boxes_meet(one: Rectangle, other: Rectangle) -> bool:
    """Whether two rectangles overlap by more than a millimetre."""
    return (
        one[0] < other[1] - SLACK_M
        and other[0] < one[1] - SLACK_M
        and one[2] < other[3] - SLACK_M
        and other[2] < one[3] - SLACK_M
    )


def half_width_m(roof: Roof, x_m: float) -> float:
    """Half the roof's width at a place along it; it tapers evenly from front to rear [m]."""
    if roof.front_width_m is None:
        return roof.width_m / 2
    share = min(1.0, max(0.0, (x_m - roof.start_m) / (roof.end_m - roof.start_m)))
    return (roof.front_width_m + (roof.width_m - roof.front_width_m) * share) / 2


def allowed_half_m(roof: Roof, x_m: float) -> float:
    """How far from the middle modules may reach: to the margin, or where overhang is allowed, beyond the edge [m]."""
    return half_width_m(roof, x_m) + (roof.overhang_m if roof.overhang_m > 0 else -roof.margin_m)


def strays(roof: Roof, box: Rectangle) -> bool:
    """Whether a box reaches over what is allowed."""
    front, rear = roof.start_m + roof.margin_m - 0.001, roof.end_m - roof.margin_m + 0.001
    reach = max(abs(box[2]), abs(box[3])) - 0.001
    return box[0] < front or box[1] > rear or any(reach > allowed_half_m(roof, x) for x in box[:2])


def stand_off_m(roof: Roof, box: Rectangle) -> float:
    """Gap between a flat module that touches a curved roof and the roof at its lowest edge [m]; the roof's section is a
    parabola.
    """
    if not roof.crown_m:
        return 0.0
    half = roof.width_m / 2
    far = max(abs(box[2]), abs(box[3])) / half
    near = 0.0 if box[2] <= 0 <= box[3] else min(abs(box[2]), abs(box[3])) / half
    return roof.crown_m * (far**2 - near**2)


def rope_m(roof: Roof, controller: str, tags: tuple[str, ...]) -> float:
    """Cable of one string on the roof: from the controller's entry to the first module, module to module, and back
    [m].
    """
    middles = {module.tag: (module.x_m, module.y_m) for module in roof.modules}
    one = next(each for each in roof.controllers if each.tag == controller)
    entry = (one.entry_m if one.entry_m is not None else one.place.x_m, one.place.y_m)
    way = [entry, *(middles[tag] for tag in tags), entry]
    return sum(math.dist(a, b) for a, b in itertools.pairwise(way))
