"""Rules of what lies where on the roof, and of its shade."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given
from weighty_axle.design.roof.geometry import MODULE_TOP_M, allowed_half_m
from weighty_axle.design.table import Design
from weighty_axle.job.edits.roof import move_on_roof
from weighty_axle.job.models.roof import spec_of
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "roof.shade-uncounted",
    "note",
    "Shadows of {things} are not counted in the yield yet.",
    PRACTICE,
    "Compare wirings on Shade, and count what it finds.",
)
def shade_uncounted(design: Design) -> Iterator[Hit]:
    """Things that stand over the modules while nothing is taken off the yield."""
    roof = design.job.roof
    tall = [obstacle.tag for obstacle in roof.obstacles if obstacle.height_m > MODULE_TOP_M]
    if tall and design.roof.strings and roof.losses.shade == 1.0:
        yield hit(*tall, things=", ".join(tall))


@rule("roof.clash", "stop", "{module} lies on {other}.", "geometry")
def clash(design: Design) -> Iterator[Hit]:
    """Modules on each other or on an obstacle."""
    for module, other in design.roof.clashes:
        yield hit(module, other, module=module, other=other)


@rule("roof.over-margin", "check", "{module} reaches over the roof's edge margin.", "geometry")
def over_margin(design: Design) -> Iterator[Hit]:
    """Modules over the margin; the remedy brings one back across the vehicle when it fits there."""
    roof = design.job.roof
    for module in roof.modules:
        if module.tag in design.roof.strays:
            spec = spec_of(roof, module)
            along, across = (spec.width_m, spec.length_m) if module.turned else (spec.length_m, spec.width_m)
            room = min(allowed_half_m(roof, x) for x in (module.x_m - along / 2, module.x_m + along / 2)) - across / 2
            inside = abs(module.y_m) > room >= 0
            remedy = move_on_roof(module.tag, module.x_m, max(-room, min(room, module.y_m))) if inside else None
            yield hit(module.tag, module=module.tag, remedy=remedy)


@rule(
    "roof.over-width",
    "stop",
    "{module} stands out over the vehicle's width by {over}: it would count as part of the vehicle.",
    "vehicle construction rules limit the width; ask locally",
)
def over_width(design: Design) -> Iterator[Hit]:
    """Modules wider than the vehicle."""
    half = design.job.vehicle.width_m / 2
    for tag, box in design.roof.boxes.items():
        over = max(abs(box[2]), abs(box[3])) - half
        if over > 0.001:
            yield hit(tag, module=tag, over=Given("", over, "m"))


@rule(
    "roof.room-taken",
    "check",
    "{module} lies in the room kept for {what}.",
    PRACTICE,
    "Move it, or agree with the customer to give the room up and say why.",
)
def room_taken(design: Design) -> Iterator[Hit]:
    """Modules in a lane or in the room to service something."""
    roof = design.job.roof
    names = {obstacle.tag: f"work on {obstacle.name}" for obstacle in roof.obstacles} | {
        lane.tag: lane.name for lane in roof.lanes
    }
    for module, room in design.roof.taken:
        yield hit(module, room, module=module, what=names[room])


@rule("roof.module-too-large", "stop", "{module} does not fit on this roof either way round.", "geometry")
def module_too_large(design: Design) -> Iterator[Hit]:
    """A type larger than the roof."""
    roof = design.job.roof
    long, wide = (
        roof.end_m - roof.start_m - 2 * roof.margin_m,
        2 * max(allowed_half_m(roof, roof.start_m), allowed_half_m(roof, roof.end_m)),
    )
    for spec in {spec_of(roof, module) for module in roof.modules} | {roof.module}:
        fits = any(
            a <= long + 1e-9 and b <= wide + 1e-9
            for a, b in ((spec.length_m, spec.width_m), (spec.width_m, spec.length_m))
        )
        if not fits:
            yield hit(*(module.tag for module in roof.modules if spec_of(roof, module) == spec), module=spec.name)
