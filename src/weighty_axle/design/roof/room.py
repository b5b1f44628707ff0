"""Room for one more module: beside those there are, else anywhere on the roof where nothing is in the way."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING

import numpy as np
from msgspec.structs import replace

from weighty_axle.design.roof.geometry import (
    SLACK_M,
    allowed_half_m,
    boxes_meet,
    flat_box,
    module_box,
    module_boxes,
    service_box,
    strays,
)
from weighty_axle.job.edits.edit import Edit, EditRefusedError
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Module, Roof
from weighty_axle.job.tags import next_tag

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from weighty_axle.physics.search.packing import Rectangle


STEP_M = 0.05
"""Grid on which the rest of the roof is looked over."""


def add_module(string: str, beside: Iterable[Rectangle] = ()) -> Edit:
    """One more module of the roof's main type on a string, beside one of the string where that fits, on the roof and
    clear of everything, also of what lies `beside` it on the same roof: modules of other systems.

    Refused where there is no room for one more.
    """

    def apply(job: Job) -> Job:
        roof = job.roof
        taken = [
            *module_boxes(roof).values(),
            *beside,
            *(flat_box(obstacle) for obstacle in roof.obstacles),
            *(flat_box(lane) for lane in roof.lanes),
        ]
        taken += [box for obstacle in roof.obstacles if (box := service_box(obstacle)) is not None]
        for place in _places(roof, string, taken):
            module = replace(place, tag=next_tag(job, "module"), string=string)
            box = module_box(module, roof.module)
            if not strays(roof, box) and not any(boxes_meet(box, other) for other in taken):
                return replace(job, roof=replace(roof, modules=(*roof.modules, module)))
        raise EditRefusedError(
            "There is no room on the roof for one more module of this type: move or take one away first."
        )

    return Edit(f"Add a module to {string}" if string else "Add a module", apply)


def _places(roof: Roof, string: str, taken: list[Rectangle]) -> Iterator[Module]:
    """Places to try: beside modules of the string, beside the others, then the roof from front to rear."""
    own = [module for module in reversed(roof.modules) if module.string == string]
    others = [module for module in reversed(roof.modules) if module.string != string]
    long, wide, gap = roof.module.length_m, roof.module.width_m, roof.gap_m
    for one in (*own, *others):
        x0, x1, y0, y1 = _box_of(roof, one)
        for turned in (one.turned, not one.turned):
            along, across = (wide, long) if turned else (long, wide)
            for x, y in (
                (x1 + gap + along / 2, one.y_m),
                (x0 - gap - along / 2, one.y_m),
                (one.x_m, y1 + gap + across / 2),
                (one.x_m, y0 - gap - across / 2),
            ):
                yield Module(tag="PV", x_m=round(x, 3), y_m=round(y, 3), turned=turned)
    reach = max(allowed_half_m(roof, roof.start_m), allowed_half_m(roof, roof.end_m))
    for turned in (False, True):
        along, across = (wide, long) if turned else (long, wide)
        steps_x = max(0, int((roof.end_m - roof.start_m - 2 * roof.margin_m - along) / STEP_M) + 1)
        steps_y = max(0, int((2 * reach - across) / STEP_M) + 1)
        along_m = np.round(roof.start_m + roof.margin_m + along / 2 + np.arange(steps_x) * STEP_M, 3)
        across_m = np.round(-reach + across / 2 + np.arange(steps_y) * STEP_M, 3)
        free = np.ones((steps_x, steps_y), dtype=bool)
        for front, rear, left, right in taken:
            free &= ~(_over(along_m, along, front, rear)[:, None] & _over(across_m, across, left, right)[None, :])
        for nx, ny in np.argwhere(free):
            yield Module(tag="PV", x_m=float(along_m[nx]), y_m=float(across_m[ny]), turned=turned)


def _over(middles: NDArray[np.float64], side_m: float, low_m: float, high_m: float) -> NDArray[np.bool_]:
    """Which of the stretches around `middles` (n,) overlap another by more than a millimetre (n,)."""
    return (middles - side_m / 2 < high_m - SLACK_M) & (low_m < middles + side_m / 2 - SLACK_M)


def _box_of(roof: Roof, module: Module) -> Rectangle:
    return module_boxes(replace(roof, modules=(module,)))[module.tag]
