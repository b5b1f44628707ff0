"""Vehicle and axle loads."""

from __future__ import annotations

import math
from typing import Any

from weighty_axle.design.place.holds import fixed_words
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.job.models.vehicle import Air
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """The long section and what each axle has left."""
    from weighty_axle.exports.drawings.long_section_pdf import SectionDrawing

    rows = [["Axle", "Before", "Added", "At most", "Plate", "Left", "At least", "Left / right wheels at most"]]
    for axle, result in zip(on.design.job.vehicle.axles, on.design.place.axles, strict=True):
        numbers = (axle.weighed_kg, result.added_kg.value, result.load_kg.value, axle.limit_kg, result.margin_kg.value)
        sides = (result.left_kg.value, result.right_kg.value)
        rows.append(
            [
                axle.tag,
                *(show(value, "kg", on.system) for value in (*numbers, result.least_kg.value)),
                "–" if axle.coupling else " / ".join(show(value, "kg", on.system) for value in sides),
            ]
        )
    states = [f"{one.tag} with {one.load_kg.limit}" for one in on.design.place.axles if one.load_kg.limit]
    place = on.design.place
    gross = (
        f"Gross {show(place.gross_kg.value, 'kg', on.system)}, {show(place.gross_margin_kg.value, 'kg', on.system)} "
        "left. "
    )
    side = f"Added, right minus left: {show(place.right_minus_left_kg.value, 'kg', on.system)}."
    return [
        on.text("Vehicle and axle loads", on.head),
        SectionDrawing(on.design, on.width, on.system),
        on.table(rows, (0.1, 0.12, 0.12, 0.12, 0.12, 0.11, 0.12, 0.19)),
        on.text(gross + side),
        *([on.text(f"Heaviest: {'; '.join(states)}.")] if states else []),
        *_information(on),
        *_heat(on),
        *_fixings(on),
    ]


def _heat(on: PackPages) -> list[Any]:
    """What each bay loses, how warm it gets, and the air it asks for."""
    bays = on.design.heat.bays
    if not bays:
        return []
    rows = [["Bay", "Lost at full load", "Air it takes", "Fan", "Thermostat", "Warmest", "Counted on"]]
    stated = {bay.tag: bay.air for bay in on.design.whole.vehicle.bays}
    for one in bays:
        air = stated[one.tag]
        needed = one.needed_m3_h.value
        rows.append(
            [
                one.name,
                show(one.loss_w.value, "W", on.system),
                f"{needed:.0f} m³/h" if math.isfinite(needed) else "more than any",
                "not stated" if air is None else _fan(air),
                "–"
                if air is None
                else f"on {show(air.on_c, 'degC', on.system)}, off {show(air.off_c, 'degC', on.system)}",
                f"{show(one.peak_c.value, 'degC', on.system)} ({one.peak_c.limit})",
                show(one.allowed_c.value, "degC", on.system),
            ]
        )
    return [on.text("Heat in bays", on.head), on.table(rows, (0.12, 0.12, 0.13, 0.2, 0.15, 0.16, 0.12))]


def _fan(air: Air) -> str:
    """A fan in words: what it moves, from where to where, how loud."""
    noise = f", {air.noise_db:.0f} dB" if air.noise_db is not None else ""
    return f"{air.fan_m3_per_h:.0f} m³/h, in {air.intake}, out {air.outlet}{noise}"


def _fixings(on: PackPages) -> list[Any]:
    """What holds each thing, and how much of it is used; what is loose."""
    found = on.design.holds
    if not found.holds:
        return []
    forward, sideways, up = found.factors_g
    rows = [["Fixing", "Holds", "Mass", "Fixed", "Used", "At its worst"]]
    for hold in on.design.whole.holds:
        one = found.holds.get(hold.tag)
        if one is not None:
            mass, used = show(one.mass_kg.value, "kg", on.system), show(one.use_share.value, "1", on.system)
            rows.append([hold.tag, ", ".join(one.items), mass, fixed_words(hold), used, one.use_share.limit])
    loose = f" Loose: {', '.join(found.loose)}." if found.loose else ""
    return [
        on.text("Fixings", on.head),
        on.text(
            f"{found.asked}: held against {forward:g} × the weight forward, {sideways:g} × sideways and {up:g} × up "
            f"beyond it, as static loads; an assumption, no proof of a crash.{loose}"
        ),
        on.table(rows, (0.1, 0.26, 0.1, 0.26, 0.08, 0.2)),
    ]


def _information(on: PackPages) -> list[Any]:
    """Payload, centre of gravity, and readings after where there are any."""
    place = on.design.place
    said = [f"Payload left at its lightest: {show(place.payload_kg.value, 'kg', on.system)}."]
    if place.cog_m is not None and place.rollover_share is not None:
        said.append(
            f"For information: centre of gravity {show(place.cog_m.value, 'm', on.system)} up, static rollover "
            f"threshold {place.rollover_share.value:.2f} of the weight."
        )
    found = place.readings
    if found is not None:
        apart = ", ".join(f"{tag} {show(one.value, 'kg', on.system)}" for tag, one in found.differences.items())
        said.append(f"Weighbridge after, read minus predicted: {apart}.")
    return [on.text(" ".join(said))]
