"""Rules of heat: bays that get too warm, fans that are too small, air that goes round, hot under cold."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Given, over
from weighty_axle.design.place.clear import box_of
from weighty_axle.design.table import Design
from weighty_axle.design.ways import bay_at
from weighty_axle.rules.place.holds import named
from weighty_axle.rules.registry import Hit, hit, rule

WORTH_AIR_W = 150.0
"""Loss from which a bay without a word about its air is said. Source: common practice, no source."""
NEAR_ABOVE_M = 0.3
"""How near over something hot a thing is warmed by it. Source: common practice, no source."""


@rule(
    "place.bay-too-hot",
    "check",
    "{bay} gets to {peak} ({when}); the design counts on at most {allowed} around {items}.",
    TEXTBOOK,
    "More air through it, or fewer hot things in it.",
)
def bay_too_hot(design: Design) -> Iterator[Hit]:
    """A bay above what its units and packs want on the worst day."""
    for one in design.heat.bays:
        if one.stated and over(one.peak_c.value, one.allowed_c.value):
            yield hit(
                one.tag,
                *one.hot,
                bay=one.name,
                peak=one.peak_c,
                when=one.peak_c.limit,
                items=named(one.hot),
                allowed=one.allowed_c,
            )


@rule(
    "place.fan-too-small",
    "check",
    "The fan of {bay} moves {moved}; at full load and {outside} outside it takes {needed}.",
    TEXTBOOK,
    "A larger fan, or a second one.",
)
def fan_too_small(design: Design) -> Iterator[Hit]:
    """A fan below what the losses at full load ask for; what needs no fan at all asks for none."""
    outside = Given("", design.job.site.design_high_c, "degC")
    for one in design.heat.bays:
        moved = one.moved_m3_h
        if moved is not None and one.settles_c.value > one.allowed_c.value and over(one.needed_m3_h.value, moved.value):
            yield hit(one.tag, bay=one.name, moved=moved, outside=outside, needed=one.needed_m3_h)


@rule(
    "place.air-goes-round",
    "check",
    "Air comes into {bay} and leaves it on one side ({side}): it goes round instead of through.",
    PRACTICE,
    "In on one side, out on the other.",
)
def air_goes_round(design: Design) -> Iterator[Hit]:
    """Intake and outlet on one side."""
    for bay in design.whole.vehicle.bays:
        if bay.air is not None and bay.air.intake == bay.air.outlet != "none":
            yield hit(bay.tag, bay=bay.name, side=bay.air.intake)


@rule(
    "place.air-shut",
    "check",
    "{bay} has a fan, but nowhere for the air to {way}.",
    PRACTICE,
    "An opening on the other side, as large as the fan.",
)
def air_shut(design: Design) -> Iterator[Hit]:
    """A fan without an intake or an outlet."""
    for bay in design.whole.vehicle.bays:
        if bay.air is not None and bay.air.fan_m3_per_h > 0:
            for way, side in (("come in", bay.air.intake), ("go out", bay.air.outlet)):
                if side == "none":
                    yield hit(bay.tag, bay=bay.name, way=way)


@rule(
    "place.by-engine",
    "check",
    "{items} {stand} with the engine in {bay}: too hot for packs and electronics.",
    PRACTICE,
    "A bay of its own.",
)
def by_engine(design: Design) -> Iterator[Hit]:
    """New parts of the system in the engine's bay."""
    for bay in design.whole.vehicle.bays:
        if not bay.engine:
            continue
        here = tuple(
            item.tag
            for item in design.items
            if item.kind in ("pack", "inverter", "controller", "converter")
            and not item.was_there
            and bay_at(design.whole.vehicle, item.place) is bay
        )
        if here:
            yield hit(bay.tag, *here, bay=bay.name, items=named(here), stand="stands" if len(here) == 1 else "stand")


@rule("place.no-air", "note", "{bay} loses {loss} at full load, and nothing says how it is aired.", PRACTICE)
def no_air(design: Design) -> Iterator[Hit]:
    """A bay with much loss and no statement of its air."""
    for one in design.heat.bays:
        if not one.stated and one.loss_w.value >= WORTH_AIR_W:
            yield hit(one.tag, bay=one.name, loss=one.loss_w)


@rule(
    "place.hot-under-cold",
    "note",
    "{cold} stands {gap} over {hot}, which warms it.",
    PRACTICE,
    "Side by side, or the warm one on top.",
)
def hot_under_cold(design: Design) -> Iterator[Hit]:
    """A pack or controller close over an inverter."""
    boxes = {item.tag: box_of(item.place, item.size) for item in design.items}
    hot = [item for item in design.items if item.kind == "inverter"]
    for item in design.items:
        if item.kind not in ("pack", "controller"):
            continue
        box = boxes[item.tag]
        for one in hot:
            under = boxes[one.tag]
            gap = box.low[2] - under.high[2]
            beside = any(box.low[k] >= under.high[k] or box.high[k] <= under.low[k] for k in (0, 1))
            if -1e-6 <= gap <= NEAR_ABOVE_M and not beside:
                yield hit(item.tag, one.tag, cold=item.tag, hot=one.tag, gap=Given("", max(0.0, gap), "m"))
