"""Fill the roof: the best layouts that really differ, what each gives up, and what none can be above."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.roof.geometry import allowed_half_m, boxes_meet, flat_box, service_box
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Module, ModuleSpec, Roof
from weighty_axle.physics.search.packing import Area, Placed, Rectangle, RectangleKind, Solved, boxes, packed
from weighty_axle.reference import tables

_SLICE_M = 0.25
_SAME_M = 0.05
MOST_LAYOUTS = 3


class Layout(Struct, frozen=True, kw_only=True):
    """One way to fill the roof: modules in place, their rated power, what no layout of these types can be above, how it
    was found, what it gives up.
    """

    name: str
    modules: tuple[Module, ...]
    other_types: tuple[ModuleSpec, ...]
    rated_w: Figure
    bound_w: Figure
    gap_share: Figure
    how: str
    gives_up: str

    @property
    def edit(self) -> Edit:
        """The change that puts it on the roof; modules come off their strings, which are strung anew."""

        def apply(job: Job) -> Job:
            strings = tuple(replace(string, order=()) for string in job.roof.strings)
            have = {spec.name for spec in job.roof.more_modules}
            more = (*job.roof.more_modules, *(spec for spec in self.other_types if spec.name not in have))
            return replace(job, roof=replace(job.roof, modules=self.modules, strings=strings, more_modules=more))

        return Edit(f"Fill the roof: {self.name}", apply)


def area_of(roof: Roof, vehicle_width_m: float) -> Area:
    """Where modules may lie: the outline with its margins or overhang, never beyond the vehicle's width; obstacles,
    service room and lanes are blocked.
    """
    x0, x1 = roof.start_m + roof.margin_m, roof.end_m - roof.margin_m
    widest = min(vehicle_width_m / 2, max(allowed_half_m(roof, roof.start_m), allowed_half_m(roof, roof.end_m)))
    blocked: list[Rectangle] = [flat_box(obstacle) for obstacle in roof.obstacles]
    blocked += [box for obstacle in roof.obstacles if (box := service_box(obstacle)) is not None]
    blocked += [flat_box(lane) for lane in roof.lanes]
    at = x0
    while roof.front_width_m is not None and at < x1:
        after = min(at + _SLICE_M, x1)
        half = min(allowed_half_m(roof, at), allowed_half_m(roof, after))
        if half < widest - 1e-9:
            blocked += [
                (at, after, -widest - roof.gap_m, -half - roof.gap_m),
                (at, after, half + roof.gap_m, widest + roof.gap_m),
            ]
        at = after
    return Area((x0, x1, -widest, widest), tuple(blocked), roof.gap_m)


def _silent(_share: float, _words: str) -> None:
    """Progress nobody watches."""


def fill(
    roof: Roof, vehicle_width_m: float, progress: Callable[[float, str], None] = _silent, seconds: float = 1.5
) -> tuple[Layout, ...]:
    """The best three layouts that differ in types, ways or a quarter of the places; of the roof's own types and those
    of the table.

    Source: physics.packing.
    """
    area = area_of(roof, vehicle_width_m)
    own = (roof.module, *roof.more_modules)
    specs = (*own, *(spec for spec in tables.modules().rows if spec.name not in {one.name for one in own}))
    asked: list[tuple[str, tuple[RectangleKind, ...]]] = []
    for spec in specs:
        asked.append((f"{_short(spec)}, both ways", (_kind(spec),)))
        asked.append((f"{_short(spec)}, lengthwise", (_kind(spec, (False,)),)))
        asked.append((f"{_short(spec)}, crosswise", (_kind(spec, (True,)),)))
        if spec.name != roof.module.name:
            asked.append((f"{_short(roof.module)} with {_short(spec)}", (_kind(roof.module), _kind(spec))))
    found = []
    for index, (name, kinds) in enumerate(asked):
        progress(index / len(asked), name)
        found.append((name, kinds, packed(area, kinds, seconds=seconds)))
    found.sort(key=lambda one: -one[2].packing.worth)
    # What the job means to use comes first; then what would give more.
    first = next(
        (one for one in found if [kind.name for kind in one[1]] == [roof.module.name] and one[2].packing.placed), None
    )
    found = [one for one in (first, *(one for one in found if one is not first)) if one is not None]
    kept: list[tuple[str, tuple[RectangleKind, ...], Solved]] = []
    for one in found:
        if one[2].packing.placed and all(
            _differ(one[2].packing.placed, one[1], other[2].packing.placed, other[1]) for other in kept
        ):
            kept.append(one)
        if len(kept) == MOST_LAYOUTS:
            break
    best_w = max((one[2].packing.worth for one in kept), default=0.0)
    progress(1.0, "")
    return tuple(_layout(name, kinds, solved, area, roof, specs, best_w) for name, kinds, solved in kept)


def _short(spec: ModuleSpec) -> str:
    """Name of a type up to its first comma."""
    return spec.name.split(",")[0]


def _kind(spec: ModuleSpec, ways: tuple[bool, ...] = (False, True)) -> RectangleKind:
    return RectangleKind(spec.name, spec.length_m, spec.width_m, spec.pmp_w, ways)


def _differ(
    one: tuple[Placed, ...],
    kinds: tuple[RectangleKind, ...],
    other: tuple[Placed, ...],
    other_kinds: tuple[RectangleKind, ...],
) -> bool:
    """Whether two layouts are really different: in counts of a type and way, or in a quarter of the places."""

    def counts(placed: tuple[Placed, ...], names: tuple[RectangleKind, ...]) -> Counter[tuple[str, bool]]:
        return Counter((names[one.kind].name, one.turned) for one in placed)

    if counts(one, kinds) != counts(other, other_kinds):
        return True
    same = sum(
        any(abs(a.x_m - b.x_m) < _SAME_M and abs(a.y_m - b.y_m) < _SAME_M and a.turned == b.turned for b in other)
        for a in one
    )
    return same < 0.75 * max(len(one), len(other))


def _layout(
    name: str,
    kinds: tuple[RectangleKind, ...],
    solved: Solved,
    area: Area,
    roof: Roof,
    specs: tuple[ModuleSpec, ...],
    best_w: float,
) -> Layout:
    placed = _centred(solved.packing.placed, kinds, area)
    main = roof.module.name
    modules = []
    for number, (one, box) in enumerate(zip(placed, boxes(placed, kinds), strict=True), 1):
        kind = kinds[one.kind].name
        x, y = round((box[0] + box[1]) / 2, 4), round((box[2] + box[3]) / 2, 4)
        modules.append(Module(tag=f"PV{number}", x_m=x, y_m=y, turned=one.turned, kind="" if kind == main else kind))
    counted = Counter(kinds[one.kind].name for one in placed)
    watts = {spec.name: spec.pmp_w for spec in specs}
    given = tuple(Given(f"{count} × {kind}", watts[kind], "W") for kind, count in counted.items())
    rated = Figure(
        name=f"Rated, {name}",
        value=solved.packing.worth,
        unit="W",
        formula="Σ modules × rated power",
        inputs=given,
        source="module datasheet",
    )
    bound = Figure(
        name="No layout of these types is above",
        value=max(most_below(solved.bound, tuple(kind.worth for kind in kinds)), solved.packing.worth),
        unit="W",
        formula=(
            "integral over bars across the roof, and what the programme proved, down to what whole modules add up to"
        ),
        inputs=given,
        source=TEXTBOOK,
    )
    gap = Figure(
        name="Gap to that",
        value=1 - rated.value / bound.value if bound.value else 0.0,
        unit="1",
        formula="1 − rated ÷ bound",
        inputs=(rated, bound),
        source=TEXTBOOK,
    )
    others = tuple(spec for spec in specs if spec.name in counted and spec.name != main)
    return Layout(
        name=name,
        modules=tuple(modules),
        other_types=others,
        rated_w=rated,
        bound_w=bound,
        gap_share=gap,
        how=solved.packing.how,
        gives_up=_gives_up(counted, kinds, best_w - rated.value),
    )


def most_below(bound_w: float, each_w: tuple[float, ...]) -> float:
    """The largest sum of whole modules that is not above a bound [W]: nothing between two sums can be laid."""
    first, *others = each_w
    if not others:
        return math.floor(bound_w / first + 1e-9) * first
    return max(
        count * first + most_below(max(0.0, bound_w - count * first), tuple(others))
        for count in range(math.floor(bound_w / first + 1e-9) + 1)
    )


def _gives_up(counted: Counter[str], kinds: tuple[RectangleKind, ...], less_w: float) -> str:
    parts = [f"{less_w:.0f} W less than the best"] if less_w > 0.5 else ["nothing in watts"]
    if len(counted) > 1:
        parts.append("a single type (each of the two needs strings of its own)")
    if len(kinds) == 1 and len(kinds[0].ways) == 1:
        parts.append("nothing in rails: all lie one way")
    return "; ".join(parts)


def _centred(placed: tuple[Placed, ...], kinds: tuple[RectangleKind, ...], area: Area) -> tuple[Placed, ...]:
    """The layout moved to the middle of what room is left, where nothing is in the way: the weight is even on both
    sides.
    """
    for axis in (1, 0):
        outlines = boxes(placed, kinds)
        if not outlines:
            return placed
        low, high = min(box[2 * axis] for box in outlines), max(box[2 * axis + 1] for box in outlines)
        shift = ((area.box[2 * axis + 1] - high) - (low - area.box[2 * axis])) / 2
        moved = tuple(
            one._replace(x_m=one.x_m + shift) if axis == 0 else one._replace(y_m=one.y_m + shift) for one in placed
        )
        if not any(boxes_meet(box, kept) for box in boxes(moved, kinds) for kept in area.blocked):
            placed = moved
    return placed
