"""Earth: what a fault draws on shore and on the inverters alone, earth conductors, and the plan of all bonds."""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.cables import AC_FEEDER_M, CIRCUIT_M
from weighty_axle.design.conductors import AC_COPPER_C, conductor_area_mm2, ohm_per_m
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import LiveCircuit
from weighty_axle.design.table import Design
from weighty_axle.job.models.document import Practice
from weighty_axle.job.models.inverters import FROM_INVERTERS, Panel, line_v, units_on
from weighty_axle.reference import tables

AT_ONCE_TIMES = 10.0
"""Times its rating from which a breaker opens at once, at the most: type C, and usual moulded cases.

Source: IEC 60898-1 table 7 (5 to 10 times for type C), recalled; NEMA breakers alike, common practice, no source.
"""


CHASSIS_LEAST_MM2 = 16.0
"""The least conductor between DC negative and chassis [mm2]. Source: common practice, no source."""


FRAMES_MM2 = {"north_american": "6 AWG", "international": "6 mm2"}
"""Conductor of frames of modules. Source: NEC 690.45 and 250.120(C), IEC 60364-7-712, recalled."""


class FaultLoop(Struct, frozen=True, kw_only=True):
    """A circuit in a fault from line to earth at its far end.

    `guarded` says whether a residual-current device opens it whatever flows; `trips` whether its breaker does at once
    with the inverters alone.
    """

    tag: str
    name: str
    panel: str
    breaker_a: float
    size: str
    earth: str
    length_m: float
    rcd_ma: float
    loop_ohm: Figure
    on_inverters_a: Figure
    on_shore_a: Figure | None
    at_once_a: Figure
    trips: bool

    @property
    def guarded(self) -> bool:
        """Whether a residual-current device is on the way."""
        return self.rcd_ma > 0


class Bond(Struct, frozen=True, kw_only=True):
    """One bonding conductor: from where to where, its size, and why that."""

    what: str
    start: str
    end: str
    size: str
    why: str


def earth_size(practice: Practice, guard_a: float, line_size: str) -> str:
    """Earth conductor of a circuit: by its guard, or by its line where the practice goes by that.

    Source: NEC table 250.122; IEC 60364-5-54 table 54.7 (recalled).
    """
    if practice == "north_american":
        rows = tables.earths().rows
        return next((row.size for row in rows if row.most_a >= guard_a), rows[-1].size)
    area = _area(line_size)
    wanted = area if area <= 16 else 16.0 if area <= 35 else area / 2
    sizes = tables.iec_conductors().rows
    return next((row.size for row in sizes if row.area_mm2 >= wanted - 1e-9), sizes[-1].size)


def fault_loops(design: Design) -> tuple[FaultLoop, ...]:
    """Every AC circuit in a fault at its far end.

    Source: IEC 60364-4-41 clause 411.4 (loop impedance); an inverter gives no more than its surge.
    """
    if not design.job.inverters.units:
        return ()
    panels = {panel.tag: panel for panel in design.ac.panels}
    return tuple(_loop(design, circuit, panels) for circuit in design.circuits if circuit.panel in panels)


def _loop(design: Design, circuit: LiveCircuit, panels: dict[str, Panel]) -> FaultLoop:
    job, own = design.job, circuit.circuit
    volts, practice = line_v(job.inverters), job.practice
    path: list[Panel] = []
    rcd = own.rcd_ma
    feed: str = circuit.panel
    while feed in panels and len(path) <= len(panels):
        panel = panels[feed]
        path.append(panel)
        rcd = rcd or panel.rcd_ma
        feed = panel.fed_from
    given = []
    for panel in reversed(path):
        earth = earth_size(practice, panel.breaker_a, panel.size)
        length = design.house.length_m(panel.tag, AC_FEEDER_M).value
        given.append(Given(f"Feeder of {panel.tag}, line and earth", length * _both(panel.size, earth), "ohm"))
    length = design.house.length_m(circuit.tag, CIRCUIT_M).value
    earth = earth_size(practice, own.breaker_a, own.size)
    given.append(Given(f"{own.size} and earth of {earth}", length * _both(own.size, earth), "ohm"))
    loop = Figure.total(
        name=f"{circuit.tag} loop, line and earth",
        unit="ohm",
        formula="Σ length × (line + earth per metre, hot) of feeders and circuit",
        inputs=tuple(given),
        source=TEXTBOOK,
        limit="from the inverters or the inlet on",
    )
    line = circuit.lines[0] if circuit.lines else "L1"
    units = len(units_on(job.inverters, "AC" if job.inverters.stacking in ("single", "parallel") else line)) or 1
    most = job.inverters.spec.surge_va / job.inverters.spec.lines * units / volts
    alone = Figure(
        name=f"{circuit.tag} fault, inverters alone",
        value=min(most, volts / loop.value) if loop.value else most,
        unit="A",
        formula="the less of their surge ÷ line voltage and line voltage ÷ loop",
        inputs=(Given("They give at most", most, "A"), Given("Line voltage", volts, "V"), loop),
        source=f"{TEXTBOOK}; inverters give their surge for a moment, {PRACTICE}",
    )
    at_once = Figure.product(
        name=f"{circuit.tag} breaker opens at once from",
        unit="A",
        formula="rating × times",
        inputs=(Given("Breaker", own.breaker_a, "A"), Given("Times", AT_ONCE_TIMES, "ratio")),
        source="IEC 60898-1 table 7 (recalled)",
    )
    return FaultLoop(
        tag=circuit.tag,
        name=circuit.name,
        panel=circuit.panel,
        breaker_a=own.breaker_a,
        size=own.size,
        earth=earth,
        length_m=length,
        rcd_ma=rcd,
        loop_ohm=loop,
        on_inverters_a=alone,
        on_shore_a=_on_shore(design, circuit.tag, loop),
        at_once_a=at_once,
        trips=alone.value >= at_once.value,
    )


def _on_shore(design: Design, tag: str, loop: Figure) -> Figure | None:
    """The least that any source in its place drives through the loop; a generator gives what its rating lets it."""
    sources = [one for one in design.job.inverters.sources if one.kind == "shore"]
    if not sources:
        return None
    weakest = min(sources, key=lambda one: one.volts / (one.loop_ohm + loop.value))
    return Figure(
        name=f"{tag} fault, {weakest.name}",
        value=weakest.volts / (weakest.loop_ohm + loop.value),
        unit="A",
        formula="voltage ÷ (supply and lead + loop)",
        inputs=(
            Given("Voltage", weakest.volts, "V"),
            Given("Supply and lead, out and back", weakest.loop_ohm, "ohm"),
            loop,
        ),
        source=TEXTBOOK,
    )


def bonds(design: Design) -> tuple[Bond, ...]:
    """Every bond, each at its one place: DC negative, AC earth, cases, frames.

    Source: NEC table 250.122, IEC 60364-5-54 (recalled); common practice, no source.
    """
    return tuple(_bonds(design))


def chassis_size(design: Design) -> str:
    """What joins DC negative and chassis: half the main run's copper, at least the least.

    Source: common practice, no source.
    """
    stated = design.job.wiring.chassis_size
    if stated is not None:
        return stated
    main = design.wiring.main.chosen
    wanted = max(CHASSIS_LEAST_MM2, (_area(main.size) * main.count / 2) if main is not None else 0.0)
    return _next_size(design.job.practice, wanted)


def _next_size(practice: Practice, wanted_mm2: float) -> str:
    table = tables.ampacity_tables()["enclosed_awg"]
    sizes = (
        [row.size for row in table.rows]
        if practice == "north_american"
        else [row.size for row in tables.iec_conductors().rows]
    )
    rising = sorted(sizes, key=_area)
    return next((size for size in rising if _area(size) >= wanted_mm2 - 1e-9), rising[-1])


def _bonds(design: Design) -> Iterator[Bond]:
    job, practice = design.job, design.job.practice
    if design.system.shares_bank:
        return
    board = job.wiring.board
    yield Bond(
        what=f"DC negative of {board.tag}",
        start=f"minus bar of {board.tag}",
        end=job.wiring.chassis_at or "chassis, at one place",
        size=chassis_size(design),
        why="half the copper of the main run, at least 16 mm²; the only place where DC meets the chassis",
    )
    guards = {one.tag: one for one in design.guards.guards}
    for unit in job.inverters.units:
        guard = guards.get(f"W-{unit.tag}")
        if guard is not None:
            size = earth_size(practice, guard.rated_a, guard.size)
            yield Bond(
                what=f"case of {unit.tag}",
                start=unit.tag,
                end="chassis",
                size=size,
                why=f"carries a DC fault until its {guard.rated_a:g} A fuse opens",
            )
    bonded = [panel for panel in design.ac.panels if panel.bonded]
    for panel in design.ac.panels if job.inverters.units else ():
        neutral = "; neutral and earth meet here" if panel in bonded else "; neutral kept apart from earth here"
        start = panel.fed_from if panel.fed_from != FROM_INVERTERS else " and ".join(u.tag for u in job.inverters.units)
        yield Bond(
            what=f"earth of {panel.tag}",
            start=start,
            end=panel.tag,
            size=earth_size(practice, panel.breaker_a, panel.size),
            why=f"with its feeder of {panel.breaker_a:g} A{neutral}",
        )
    if job.inverters.units and design.ac.panels:
        first = bonded[0] if bonded else design.ac.panels[0]
        yield Bond(
            what="AC earth",
            start=first.tag,
            end="chassis, at one place",
            size=earth_size(practice, first.breaker_a, first.size),
            why="one place, beside that of DC negative",
        )
    for inlet in design.ac.inlets if job.inverters.units else ():
        yield Bond(
            what=f"earth of {inlet.tag}",
            start=inlet.tag,
            end=design.ac.fed_from if design.ac.fed_from != inlet.tag else "the inverters' inputs",
            size=earth_size(practice, inlet.amps, FRAMES_MM2[practice]),
            why=f"with its lines of {inlet.amps:g} A",
        )
    if job.roof.modules:
        yield Bond(
            what="frames of the modules and their rails",
            start="roof",
            end="chassis",
            size=FRAMES_MM2[practice],
            why="every rail; toothed washers through the anodising",
        )


def _both(line: str, earth: str) -> float:
    """A metre of line and earth [ohm]; nothing for a size no table has."""
    total = ohm_per_m(line, AC_COPPER_C) + ohm_per_m(earth, AC_COPPER_C)
    return 0.0 if math.isnan(total) else total


def _area(size: str) -> float:
    try:
        return conductor_area_mm2(size)
    except ValueError:
        return 0.0
