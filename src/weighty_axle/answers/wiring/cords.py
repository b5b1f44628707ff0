"""Cords that bring power to the inlets."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.conductors import AC_COPPER_C, conductor_area_mm2, ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.lengths import measured, taken
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import Inlet, line_v
from weighty_axle.reference.hardware import cords

CORD_M = 7.5
"""Length of a cord that nobody states [m]. Source: common practice, no source."""


class Cord(Struct, frozen=True, kw_only=True):
    """The cord of an inlet: what its rating asks for, what it is of, and what it loses at the whole rating.

    `wanted` is None for a rating beyond the table. `fits` is False for a stated size that is too thin, None where
    nothing can be told.
    """

    tag: str
    inlet: Inlet
    wanted: str | None
    size: str
    length_m: Figure
    drop_share: Figure
    fits: bool | None


def cords_of(design: Design) -> tuple[Cord, ...]:
    """The cord of every inlet.

    Source: reference/cords.json.
    """
    return tuple(_cord(design, one) for one in design.ac.inlets) if design.job.inverters.units else ()


def _cord(design: Design, inlet: Inlet) -> Cord:
    rows = [row for row in cords().rows if row.practice == design.job.practice]
    enough = [row for row in rows if (row.three_a if inlet.lines > 2 else row.amps) >= inlet.amps - 1e-9]
    wanted = enough[0].size if enough else None
    size = inlet.cord_size or wanted or rows[-1].size
    tag = f"CORD-{inlet.tag}"
    length = measured(tag, inlet.cord_m) if inlet.cord_m is not None else taken(tag, CORD_M)
    volts = line_v(design.job.inverters)
    ohm = ohm_per_m(size, AC_COPPER_C)
    drop = Figure(
        name=f"Drop in {tag}",
        value=2 * length.value * ohm * inlet.amps / volts,
        unit="1",
        formula="2 × length × resistance per metre, hot × rating ÷ line voltage",
        inputs=(
            length,
            Given(f"Resistance per metre at {AC_COPPER_C:.0f} °C", ohm, "ohm"),
            Given("Rating of the inlet", inlet.amps, "A"),
            Given("Line voltage", volts, "V"),
        ),
        source=TEXTBOOK,
        limit="out and back, at the whole rating of the inlet",
    )
    return Cord(
        tag=tag,
        inlet=inlet,
        wanted=wanted,
        size=size,
        length_m=length,
        drop_share=drop,
        fits=_fits(inlet.cord_size, wanted),
    )


def _fits(stated: str | None, wanted: str | None) -> bool | None:
    if wanted is None:
        return None
    if stated is None:
        return True
    try:
        return conductor_area_mm2(stated) >= conductor_area_mm2(wanted) * 0.97
    except ValueError:
        return None
