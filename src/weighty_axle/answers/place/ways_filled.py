"""What lies in every wire way: its cables and how full it is."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.cables import Cable
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.signals import signal_cables
from weighty_axle.job.models.vehicle import WireWay

FILL_SHARE = (0.53, 0.31, 0.40)
"""Share of a duct that one, two, or more cables may fill. Source: NEC chapter 9 table 1, recalled."""


class WayFilled(Struct, frozen=True, kw_only=True):
    """One way, the cables in it, and the share of its section they take against what they may."""

    way: WireWay
    cables: tuple[Cable, ...]
    fill_share: Figure
    allowed_share: float


def all_cables(design: Design) -> tuple[Cable, ...]:
    """Every cable of the vehicle with both its ends in their places: of the house, of every system, and for signals."""
    systems = (design, *design.others)
    banks = (design, *(one for one in design.others if not one.system.shares_bank))  # a group's runs are its bank's
    return (
        *design.house.cables,
        *(one for own in banks for one in own.cables),
        *(one for own in systems for one in signal_cables(own.signals)),
    )


def ways_filled(design: Design) -> tuple[WayFilled, ...]:
    """Every wire way with what lies in it.

    Source: NEC chapter 9 table 1 (recalled); a way counts as round, as wide as its clear width.
    """
    lying: dict[str, list[Cable]] = {}
    for cable in all_cables(design):
        for way in cable.path.ways if cable.path is not None else ():
            lying.setdefault(way.tag, []).append(cable)
    return tuple(_filled(way, tuple(lying.get(way.tag, ()))) for way in design.ways.vehicle.ways)


def _filled(way: WireWay, cables: tuple[Cable, ...]) -> WayFilled:
    count = sum(cable.count for cable in cables)
    taken = sum(cable.count * cable.outer_mm**2 for cable in cables) * math.pi / 4
    fill = Figure.quotient(
        name=f"{way.tag} filled",
        unit="1",
        formula="Σ π/4 × cable's diameter² ÷ (π/4 × clear width²)",
        inputs=(
            Given(f"{count} cables", taken, "mm2"),
            Given(f"Clear width of {way.clear_mm:g} mm", math.pi / 4 * way.clear_mm**2, "mm2"),
        ),
        source="NEC chapter 9 table 1 (recalled)",
        limit="cables' diameters are typical ones",
    )
    return WayFilled(way=way, cables=cables, fill_share=fill, allowed_share=FILL_SHARE[min(max(count, 1), 3) - 1])
