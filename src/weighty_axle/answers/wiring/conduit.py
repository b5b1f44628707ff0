"""The conduit that holds each AC cable alone, or all that leave a panel together."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.answers.place.ways_filled import FILL_SHARE
from weighty_axle.answers.wiring.cords import cords_of
from weighty_axle.answers.wiring.schedule import Conductor, schedule
from weighty_axle.design.cables import cores, feeder_cores
from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.table import Design
from weighty_axle.job.models.parts import Practice
from weighty_axle.reference.hardware import conduits


class AcCable(Struct, frozen=True, kw_only=True):
    """An AC cable: the conductor as it is scheduled, what is around it, and the conduit it asks for by itself.

    `about` is the tag of what it belongs to; `cord` marks the cord of an inlet; `panel` is the one a circuit
    leaves, empty for others. `conduit` is None where no one conduit holds it, and for a cord.
    """

    conductor: Conductor
    about: str
    cord: bool
    panel: str
    outer_mm: float
    conduit: str | None


class Bundle(Struct, frozen=True, kw_only=True):
    """All circuits that leave a panel, in one conduit; `conduit` is None where no one conduit holds them."""

    panel: str
    name: str
    cables: int
    conduit: str | None


def ac_cables(design: Design) -> tuple[AcCable, ...]:
    """Cords, feeders and circuits, each with its conduit.

    Source: NEC chapter 9 tables 1 and 4, IEC 61386-22 (recalled).
    """
    panels = {one.tag: one.panel for one in design.circuits}
    inlets = {one.tag: one.inlet.tag for one in cords_of(design)}
    found = []
    for one in schedule(design):
        if one.carries != "AC":
            continue
        around = outer_mm(one.size, cores_of(design, one))
        found.append(
            AcCable(
                conductor=one,
                about=inlets.get(one.tag, one.tag),
                cord=one.tag in inlets,
                panel=panels.get(one.tag, ""),
                outer_mm=around,
                conduit=conduit_for(design.job.practice, (around,)) if one.tag not in inlets else None,
            )
        )
    return tuple(found)


def cores_of(design: Design, one: Conductor) -> int:
    """Conductors in an AC cable: lines of the circuit, feeder or inlet, neutral and earth."""
    lines = {own.tag: len(own.lines) for own in design.circuits}
    lines |= {cord.tag: cord.inlet.lines for cord in cords_of(design)}
    if one.tag in lines:
        return cores(lines[one.tag])
    return feeder_cores(design.job.ac, design.job.inverters)[one.tag]


def bundles(design: Design, cables: tuple[AcCable, ...]) -> tuple[Bundle, ...]:
    """Of every panel the conduit that holds all its circuits.

    Source: NEC chapter 9 tables 1 and 4, IEC 61386-22 (recalled).
    """
    found = []
    for panel in design.ac.panels:
        around = tuple(one.outer_mm for one in cables if one.panel == panel.tag)
        if around:
            found.append(
                Bundle(
                    panel=panel.tag,
                    name=panel.name,
                    cables=len(around),
                    conduit=conduit_for(design.job.practice, around),
                )
            )
    return tuple(found)


def conduit_for(practice: Practice, cables_mm: tuple[float, ...]) -> str | None:
    """The smallest conduit that holds some cables by their outer diameters; None where they ask for more than one.

    Source: NEC chapter 9 tables 1 and 4, IEC 61386-22 (recalled).
    """
    if not cables_mm:
        return None
    share = FILL_SHARE[min(len(cables_mm), 3) - 1]
    taken_mm2 = math.pi / 4 * sum(one**2 for one in cables_mm)
    return next(
        (
            row.name
            for row in conduits().rows
            if row.practice == practice and taken_mm2 <= share * math.pi / 4 * row.inside_mm**2
        ),
        None,
    )
