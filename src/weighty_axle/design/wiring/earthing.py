"""Earth: what a fault draws on shore and on the inverters alone, and earth conductors."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.cables import AC_FEEDER_M, CIRCUIT_M, HouseCables
from weighty_axle.design.conductors import AC_COPPER_C, conductor_area_mm2, ohm_per_m
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.job.models.inverters import Inverters, Panel, line_v, units_on
from weighty_axle.job.models.parts import Practice
from weighty_axle.reference import hardware, tables

AT_ONCE_TIMES = 10.0
"""Times its rating from which a breaker opens at once, at the most: type C, and usual moulded cases.

Source: IEC 60898-1 table 7 (5 to 10 times for type C), recalled; NEMA breakers alike, common practice, no source.
"""


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


def earth_size(practice: Practice, guard_a: float, line_size: str) -> str:
    """Earth conductor of a circuit: by its guard, or by its line where the practice goes by that.

    Source: NEC table 250.122; IEC 60364-5-54 table 54.7 (recalled).
    """
    if practice == "north_american":
        rows = hardware.earths().rows
        return next((row.size for row in rows if row.most_a >= guard_a), rows[-1].size)
    area = _area(line_size)
    wanted = area if area <= 16 else 16.0 if area <= 35 else area / 2
    sizes = tables.iec_conductors().rows
    return next((row.size for row in sizes if row.area_mm2 >= wanted - 1e-9), sizes[-1].size)


def fault_loops(
    wiring: AcWiring, circuits: tuple[LiveCircuit, ...], house: HouseCables, inverters: Inverters, practice: Practice
) -> tuple[FaultLoop, ...]:
    """Every AC circuit in a fault at its far end.

    Source: IEC 60364-4-41 clause 411.4 (loop impedance); an inverter gives no more than its surge.
    """
    if not inverters.units:
        return ()
    made = _Loops(wiring, house, inverters, practice)
    return tuple(made.of(circuit) for circuit in circuits if circuit.panel in made.panels)


class _Loops:
    """The loops while they are worked out."""

    def __init__(self, wiring: AcWiring, house: HouseCables, inverters: Inverters, practice: Practice) -> None:
        self.house, self.inverters, self.practice = house, inverters, practice
        self.panels: dict[str, Panel] = {panel.tag: panel for panel in wiring.panels}

    def of(self, circuit: LiveCircuit) -> FaultLoop:
        """One circuit's."""
        own, stack, volts = circuit.circuit, self.inverters, line_v(self.inverters)
        path = self._path(circuit.panel)
        length = self.house.length_m(circuit.tag, CIRCUIT_M).value
        earth = earth_size(self.practice, own.breaker_a, own.size)
        given = [self._feeder(panel) for panel in reversed(path)]
        given.append(Given(f"{own.size} and earth of {earth}", length * _both(own.size, earth), "ohm"))
        loop = Figure.total(
            name=f"{circuit.tag} loop, line and earth",
            unit="ohm",
            formula="Σ length × (line + earth per metre, hot) of feeders and circuit",
            inputs=tuple(given),
            source=TEXTBOOK,
            limit="from the inverters or the inlet on",
        )
        line = "AC" if stack.stacking in ("single", "parallel") else circuit.lines[0] if circuit.lines else "L1"
        most = stack.spec.surge_va / stack.spec.lines * (len(units_on(stack, line)) or 1) / volts
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
            rcd_ma=own.rcd_ma or next((panel.rcd_ma for panel in path if panel.rcd_ma), 0.0),
            loop_ohm=loop,
            on_inverters_a=alone,
            on_shore_a=self._on_shore(circuit.tag, loop),
            at_once_a=at_once,
            trips=alone.value >= at_once.value,
        )

    def _path(self, tag: str) -> list[Panel]:
        """The panel of a circuit and those it hangs on."""
        found: list[Panel] = []
        while tag in self.panels and len(found) <= len(self.panels):
            found.append(self.panels[tag])
            tag = found[-1].fed_from
        return found

    def _feeder(self, panel: Panel) -> Given:
        earth = earth_size(self.practice, panel.breaker_a, panel.size)
        length = self.house.length_m(panel.tag, AC_FEEDER_M).value
        return Given(f"Feeder of {panel.tag}, line and earth", length * _both(panel.size, earth), "ohm")

    def _on_shore(self, tag: str, loop: Figure) -> Figure | None:
        """The least that any pedestal or socket drives through the loop; what a generator gives nobody states."""
        sources = [one for one in self.inverters.sources if one.kind == "shore"]
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


def _both(line: str, earth: str) -> float:
    """A metre of line and earth [ohm]; nothing for a size no table has."""
    total = ohm_per_m(line, AC_COPPER_C) + ohm_per_m(earth, AC_COPPER_C)
    return 0.0 if math.isnan(total) else total


def _area(size: str) -> float:
    try:
        return conductor_area_mm2(size)
    except ValueError:
        return 0.0
