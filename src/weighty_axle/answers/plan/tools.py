"""Tools this job asks for, from its own conductors, studs, voltages, heights and weights."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.answers.plan.board import board_plans
from weighty_axle.answers.plan.task import LIFT_KG
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.answers.wiring.joints import stud_row
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import line_v
from weighty_axle.units import conductor_words

INDENT_MM2 = 10.0
"""From here on a lug is pressed hexagonally by a hydraulic or long-handled tool. Source: common practice, no source."""


class Tool(Struct, frozen=True, kw_only=True):
    """A tool or instrument: what it must be able to do, and what for."""

    name: str
    must: str
    because: str


def tools(design: Design) -> tuple[Tool, ...]:
    """Every tool of the job.

    Source: common practice, no source; ranges from the design.
    """
    return tuple(_tools(design))


def _area(size: str) -> float:
    try:
        return conductor_area_mm2(size)
    except ValueError:
        return 0.0


def _span(sizes: set[str]) -> str:
    known = sorted((size for size in sizes if _area(size)), key=_area)
    if not known:
        return ""
    ends = dict.fromkeys(conductor_words(size) for size in (known[0], known[-1]))
    return " to ".join(ends)


def _tools(design: Design) -> Iterator[Tool]:
    made = cuts(design)
    yield from _crimping(made)
    yield from _tightening(design)
    yield from _meters(design)
    yield from _holes(design)
    yield from _lifting(design)
    if any(cut.carries == "PV" for cut in made):
        yield Tool(name="Spanners for the PV plugs", must="of the plugs' own make", because="plugs of one make, sealed")
    yield Tool(name="Label printer and pens", must="withstands oil and sun", because=f"{2 * len(made)} cable labels")
    yield Tool(
        name="Insulated tools, gloves, goggles",
        must="1000 V, IEC 60900",
        because="packs cannot be switched off at their terminals",
    )
    yield Tool(name="Covers and caps for live ends", must="non-conducting", because="no loose end may touch anything")


def _crimping(made: tuple[Cut, ...]) -> Iterator[Tool]:
    lugs = {cut.size for cut in made for end in (cut.start, cut.end) if end.by == "lug"}
    large = {size for size in lugs if _area(size) >= INDENT_MM2}
    if large:
        yield Tool(
            name="Lug crimper, hexagonal dies",
            must=_span(large),
            because="lugs, hydraulic or long-handled; pull-test one first",
        )
    if lugs - large:
        yield Tool(name="Lug crimper by hand", must=_span(lugs - large), because="lugs of these conductors")
    ferrules = {cut.size for cut in made for end in (cut.start, cut.end) if end.by == "ferrule"}
    if ferrules:
        yield Tool(name="Ferrule crimper", must=_span(ferrules), because="ends under screws")
    if any(cut.carries == "PV" for cut in made):
        yield Tool(
            name="PV plug crimper",
            must=_span({cut.size for cut in made if cut.carries == "PV"}),
            because="plugs of the strings",
        )
    if lugs:
        thickest = max(lugs, key=_area)
        yield Tool(name="Cable shears", must=f"to {conductor_words(thickest)}", because="clean, square cuts")
        yield Tool(name="Hot-air gun", must="with a shield", because="adhesive shrink on every lug")
    data = [cut for cut in made if cut.carries == "signal" and "data" in cut.size]
    if data:
        yield Tool(name="Data plug pliers and line tester", must="4 pairs", because=f"{len(data)} data leads")


def _tightening(design: Design) -> Iterator[Tool]:
    wanted = sorted({one.wanted_nm for one in joints_due(design)})
    small = [nm for nm in wanted if nm < 5]
    large = [nm for nm in wanted if nm >= 5]
    for some, name in ((small, "Torque screwdriver or small wrench"), (large, "Torque wrench")):
        if some:
            yield Tool(
                name=name,
                must=f"{some[0]:g} to {some[-1]:g} N m",
                because="studs, in its middle third, checked this year",
            )


def _meters(design: Design) -> Iterator[Tool]:
    systems = (design, *design.others)
    pv = max((guard.isolator_v.value for own in systems for guard in own.protection), default=0.0)
    ac = max((line_v(own.job.inverters) for own in systems if own.job.inverters.units), default=0.0)
    dc = max(own.bank.max_v.value for own in systems)
    highest = max(pv, dc, ac)
    category = "CAT III 1000 V" if highest > 600 else "CAT III 600 V"
    yield Tool(name="Multimeter", must=f"{category}, to {highest:.0f} V", because="packs, strings, AC")
    amps = max((way.most_a.value for own in systems for way in own.flow.ways), default=0.0)
    yield Tool(
        name="Clamp meter for direct current",
        must=f"to {abs(amps):.0f} A",
        because="sharing of packs, joints under load",
    )
    if ac:
        yield Tool(name="Insulation tester", must="500 V DC", because="AC circuits before first power (IEC 60364-6)")
    if any(circuit.circuit.rcd_ma for own in systems for circuit in own.circuits):
        yield Tool(name="RCD and loop tester, socket tester", must="times and currents", because="outlets and panels")
    if pv:
        yield Tool(name="Irradiance meter", must="0 to 1200 W/m²", because="string currents against the sun")
    yield Tool(name="Thermal camera or probe thermometer", must="to 120 °C", because="joints in the run-hot test")
    yield Tool(name="Milliohm or drop measurement", must="to 0.1 mV", because="voltage across joints under load")


def _holes(design: Design) -> Iterator[Tool]:
    sizes = sorted({hole.hole_mm for board in board_plans(design) for hole in board.holes})
    if sizes:
        yield Tool(name="Drills", must=", ".join(f"{size:g} mm" for size in sizes), because="boards, by their plans")
    threads = sorted(
        {end.gland for cut in cuts(design) for end in (cut.start, cut.end) if end.gland},
        key=lambda thread: int(thread.removeprefix("M")),
    )
    if threads:
        yield Tool(name="Hole saws or step drill", must=", ".join(threads), because="cable glands; deburr, seal")
    studs = sorted({one.stud for one in joints_due(design)}, key=lambda stud: stud_row(stud).hole_mm)
    if studs:
        yield Tool(name="Sockets and spanners", must=", ".join(studs), because="studs of the DC side")


def _lifting(design: Design) -> Iterator[Tool]:
    heavy = [
        (item.tag, item.mass_kg)
        for item in design.items
        if item.mass_kg > LIFT_KG and not item.was_there and item.kind != "fitting"
    ]
    boards = [(one.tag, one.mass_kg.value) for one in board_plans(design) if one.mass_kg.value > LIFT_KG]
    if heavy or boards:
        tag, kg = max((*heavy, *boards), key=lambda one: one[1])
        yield Tool(
            name="Lifting gear or enough people",
            must=f"{kg:.0f} kg",
            because=f"{tag} is the heaviest of {len(heavy) + len(boards)} beyond {LIFT_KG:.0f} kg",
        )
    roof = design.whole.vehicle.roof_m
    if design.whole.roof.modules:
        yield Tool(
            name="Ladder or platform, fall arrest",
            must=f"roof at {roof:.1f} m",
            because=f"{len(design.whole.roof.modules)} modules; local rules on work at height",
        )
