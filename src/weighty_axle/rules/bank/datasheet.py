"""Rules of step Bank: slips on the pack's datasheet, asked about rather than refused."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.bank.packs import CELL_MOHM_AH, cell_mohm_ah
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.rules.registry import Hit, amps, hit, rule


@rule(
    "bank.slip-current", "check", "{pack}: {current} from {capacity}? Are amperes and ampere-hours swapped?", PRACTICE
)
def slip_current(design: Design) -> Iterator[Hit]:
    """Continuous current over 3 C or under 0.1 C."""
    spec = design.job.bank.spec
    if not 0.1 <= spec.discharge_a / spec.capacity_ah <= 3:
        yield hit(pack=spec.name, current=amps(spec.discharge_a), capacity=Given("", spec.capacity_ah, "Ah"))


@rule(
    "bank.slip-energy",
    "check",
    "{pack}: the label says {label}, volts × ampere-hours make {computed}.",
    "textbook relation: V × Ah",
)
def slip_energy(design: Design) -> Iterator[Hit]:
    """A label's energy more than 8 % off."""
    spec = design.job.bank.spec
    nominal, capacity = (
        Given("Nominal voltage", spec.cells_in_series * spec.cell_nominal_v, "V"),
        Given("Capacity", spec.capacity_ah, "Ah"),
    )
    computed = Figure.product(
        name="Energy of one pack",
        unit="Wh",
        formula="nominal voltage × capacity",
        inputs=(nominal, capacity),
        source=PRACTICE,
    )
    if spec.energy_wh is not None and abs(spec.energy_wh / computed.value - 1) > 0.08:
        yield hit(pack=spec.name, label=Given("", spec.energy_wh, "Wh"), computed=computed)


@rule("bank.slip-peak", "check", "{pack}: a peak of {peak} below {continuous} for hours?", PRACTICE)
def slip_peak(design: Design) -> Iterator[Hit]:
    """BMS peak below its continuous current."""
    spec = design.job.bank.spec
    if spec.peak_a < spec.discharge_a:
        yield hit(
            pack=spec.name,
            peak=amps(spec.peak_a),
            continuous=amps(spec.discharge_a),
            remedy=set_value("bank.spec.peak_a", spec.discharge_a, "Peak as the continuous current"),
        )


@rule(
    "bank.slip-resistance",
    "check",
    "{pack}: {stated} for {capacity}? About {usual} is usual; a fault is judged with {counted}.",
    PRACTICE,
    "Read the datasheet again: milliohms, of the whole pack, terminal to terminal.",
)
def slip_resistance(design: Design) -> Iterator[Hit]:
    """A decimal slip in the resistance: too large, it would hide a fuse that cannot break the bank."""
    spec = design.job.bank.spec
    low, high = CELL_MOHM_AH
    if not low <= cell_mohm_ah(spec) <= high:
        usual = Given("", math.sqrt(low * high) / 1000 * spec.cells_in_series / spec.capacity_ah, "ohm")
        yield hit(
            pack=spec.name,
            stated=Given("", spec.resistance_ohm, "ohm"),
            capacity=Given("", spec.capacity_ah, "Ah"),
            usual=usual,
            counted=Given("", design.bank.fault_pack_ohm, "ohm"),
        )


@rule("bank.slip-mass", "check", "{pack}: {mass} for {energy}; {usual} is usual.", PRACTICE)
def slip_mass(design: Design) -> Iterator[Hit]:
    """Mass per energy out of range."""
    spec = design.job.bank.spec
    energy_wh = spec.cells_in_series * spec.cell_nominal_v * spec.capacity_ah
    low, high = (6, 14) if spec.managed else (18, 40)
    if not low <= spec.mass_kg / (energy_wh / 1000) <= high:
        yield hit(
            pack=spec.name,
            mass=Given("", spec.mass_kg, "kg"),
            energy=Given("", energy_wh, "Wh"),
            usual=f"{low} to {high} kg per kWh",
        )
