"""The packs of the plant: strings side by side with charge, resistance, and their own electronics."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from weighty_axle.design.table import Design
from weighty_axle.physics.electric.cells import interpolated
from weighty_axle.reference.tables import open_circuit

CELL_J_PER_KG_K = 1000.0
"""Heat a kilogram of pack takes for a degree [J/(kg K)]. Source: typical of lithium cells (recalled)."""

STEEP_V, OVER_SHARE = 30.0, 0.05
"""Beyond full a cell's voltage rises so steeply [V for all of its charge], up to so much more than full. Source:
judgement.
"""


@dataclass(slots=True)
class String:
    """Packs in series: their tags, charge as a share, resistance with links, whether their electronics have opened
    (the reason; empty: closed).
    """

    tags: tuple[str, ...]
    ohm: float
    soc: float
    opened: str = ""
    amps: float = 0.0
    cells_c: float = 20.0


@dataclass(slots=True)
class Packs:
    """All strings of a bank; `amps` are out of the bank."""

    strings: list[String]
    cells: int
    capacity_ah: float
    """Of one string."""
    most_charge_a: float
    most_discharge_a: float
    low_v: float
    high_v: float
    charge_low_c: float
    heat_j_per_k: float
    """Of one string."""
    _soc: tuple[float, ...] = field(default=())
    _cell_v: tuple[float, ...] = field(default=())

    @classmethod
    def of(cls, design: Design, soc: float, worn: Mapping[str, float]) -> Packs:
        """The packs of a design at a charge, as cold as the air; `worn` multiplies the resistance of packs by tag."""
        air_c = design.whole.proving.air_c
        bank, spec = design.job.bank, design.job.bank.spec
        row = next(row for row in open_circuit().rows if row.chemistry == spec.chemistry)
        whole = design.bank.resistance_ohm.value
        strings = [
            String(one.tags, whole / one.share * max(worn.get(tag, 1.0) for tag in one.tags), soc, cells_c=air_c)
            for one in design.bank.sharing.strings
            if one.share > 0
        ]
        cells = design.bank.cells
        return cls(
            strings=strings,
            cells=cells,
            capacity_ah=spec.capacity_ah,
            most_charge_a=spec.charge_a * 1.2,
            most_discharge_a=spec.discharge_a * 1.2,
            low_v=cells // bank.series * bank.series * spec.cell_min_v,
            high_v=cells // bank.series * bank.series * spec.cell_max_v,
            charge_low_c=spec.charge_low_c,
            heat_j_per_k=spec.mass_kg * bank.series * CELL_J_PER_KG_K,
            _soc=row.soc,
            _cell_v=row.cell_v,
        )

    @property
    def soc(self) -> float:
        """Charge of all strings together, as a share."""
        return sum(one.soc for one in self.strings) / max(1, len(self.strings))

    def rest_v(self, soc: float) -> float:
        """Rest voltage of a string [V]."""
        within = min(max(soc, self._soc[0]), self._soc[-1])
        return self.cells * (interpolated(within, self._soc, self._cell_v) + STEEP_V * (soc - within))

    def live(self, on: Iterable[str]) -> list[String]:
        """Strings whose packs are all switched on and closed."""
        there = set(on)
        return [one for one in self.strings if not one.opened and set(one.tags) <= there]

    def behind(self, live: list[String]) -> tuple[float, float]:
        """Voltage and resistance of the strings together: what a source in their place would have."""
        conductance = sum(1 / one.ohm for one in live)
        volts = sum(self.rest_v(one.soc) / one.ohm for one in live) / conductance
        return volts, 1 / conductance

    def carry(self, live: list[String], terminal_v: float, dt_s: float) -> float:
        """Let each string carry what the voltage at the terminals asks of it; returns the heat in the strings [J]."""
        heat = 0.0
        for one in self.strings:
            one.amps = 0.0
        for one in live:
            one.amps = (self.rest_v(one.soc) - terminal_v) / one.ohm
            own = one.amps**2 * one.ohm * dt_s
            heat += own
            one.cells_c += own / self.heat_j_per_k
            one.soc = min(1.0 + OVER_SHARE, max(0.0, one.soc - one.amps * dt_s / 3600 / self.capacity_ah))
        return heat
