"""Step Bank: energy three ways, currents against the packs' limits, autonomy."""

from __future__ import annotations

import math
from dataclasses import dataclass

from weighty_axle.design.brief import BriefResult
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.model import Bank, Inverters
from weighty_axle.physics.batteries import prospective_current_a

CUT_OUT_CELL_V = 3.0
"""Lowest working voltage of an LFP cell under load. Source: common practice, no source."""


@dataclass(frozen=True, slots=True)
class BankResult:
    """The bank as one battery, and the ceilings every other step uses."""

    cells: int
    parallel: int
    nominal_v: Figure
    max_v: Figure
    lowest_working_v: Figure
    capacity_ah: Figure
    nominal_energy_wh: Figure
    usable_energy_wh: Figure
    equivalent_12v_ah: Figure
    days: Figure
    charge_limit_a: Figure
    discharge_limit_a: Figure
    peak_limit_a: Figure
    resistance_ohm: Figure
    prospective_a: Figure
    continuous_a: Figure
    surge_a: Figure
    one_pack_out_a: Figure
    c_rate: Figure
    mass_kg: Figure


def bank(stated: Bank, inverters: Inverters, brief: BriefResult) -> BankResult:
    """Everything that follows from packs, series and parallel.

    Source: textbook relations; see docs/methods.md.
    """
    spec, series = stated.spec, stated.series
    parallel = max(1, len(stated.packs) // series)
    cells = spec.cells_in_series * series
    p, s = Given("Packs in parallel", parallel, "count"), Given("Cells in series", cells, "count")

    def volts(name: str, cell_v: float, why: str) -> Figure:
        return Figure(name, cells * cell_v, "V", "cells in series × cell voltage", (s, Given("Cell voltage", cell_v, "V")), why)

    nominal = volts("Bank voltage, nominal", spec.cell_nominal_v, TEXTBOOK)
    highest = volts("Bank voltage, highest", spec.cell_max_v, "pack datasheet; nominal is not maximum")
    lowest = volts("Bank voltage, lowest working", CUT_OUT_CELL_V, PRACTICE)
    capacity = Figure(
        "Bank capacity",
        parallel * spec.capacity_ah,
        "Ah",
        "packs in parallel × capacity of one",
        (p, Given("Capacity of one", spec.capacity_ah, "Ah")),
        TEXTBOOK,
    )
    energy = Figure("Bank energy, nominal", nominal.value * capacity.value, "Wh", "nominal voltage × capacity", (nominal, capacity), TEXTBOOK)
    usable = Figure(
        "Bank energy, usable",
        energy.value * stated.usable_share,
        "Wh",
        "nominal energy × usable share",
        (energy, Given("Usable share", stated.usable_share, "1")),
        TEXTBOOK,
    )
    need = brief.energy_per_day_wh
    days = Figure(
        "Days without sun or hook-up",
        usable.value / need.value if need.value else math.inf,
        "days",
        "usable energy ÷ energy out of the bank per day",
        (usable, need),
        TEXTBOOK,
    )

    def limit(name: str, each_a: float) -> Figure:
        return Figure(
            name,
            parallel * each_a,
            "A",
            "packs in parallel × limit of one",
            (p, Given("Limit of one pack", each_a, "A")),
            "pack datasheet",
            "equal sharing is assumed here",
        )

    discharge = limit("Bank discharge limit", spec.discharge_a)
    resistance = Figure(
        "Bank resistance",
        spec.resistance_ohm * series / parallel,
        "ohm",
        "pack resistance × series ÷ parallel",
        (Given("Pack resistance", spec.resistance_ohm, "ohm"), p, Given("Packs in series", series, "count")),
        TEXTBOOK,
    )
    prospective = Figure(
        "Short-circuit current at the bank",
        prospective_current_a(open_circuit_v=highest.value, resistance_ohm=resistance.value),
        "A",
        "highest voltage ÷ bank resistance",
        (highest, resistance),
        TEXTBOOK,
        "leads and links left out on purpose: they only lower it",
    )
    continuous, surge = _inverter_currents(inverters, lowest, brief)
    return BankResult(
        cells, parallel, nominal, highest, lowest, capacity, energy, usable,
        Figure("Bank in 12 V ampere-hours", energy.value / 12.8, "Ah", "nominal energy ÷ 12.8 V", (energy,), PRACTICE),
        days, limit("Bank charge limit", spec.charge_a), discharge, limit("Bank peak limit", spec.peak_a), resistance, prospective, continuous, surge,
        Figure("Discharge limit with one pack out", max(parallel - 1, 0) * spec.discharge_a, "A", "(packs in parallel − 1) × limit of one", (p, Given("Limit of one pack", spec.discharge_a, "A")), TEXTBOOK),
        Figure("C-rate at full inverter load", continuous.value / capacity.value, "per h", "bank current ÷ capacity", (continuous, capacity), TEXTBOOK),
        Figure("Bank mass", len(stated.packs) * spec.mass_kg, "kg", "packs × mass of one", (Given("Packs", len(stated.packs), "count"), Given("Mass of one", spec.mass_kg, "kg")), TEXTBOOK),
    )  # fmt: skip


def _inverter_currents(inverters: Inverters, lowest: Figure, brief: BriefResult) -> tuple[Figure, Figure]:
    spec, count = inverters.spec, len(inverters.units)
    dc_w = max((max(day.running_w.values[4]) for day in brief.days.values()), default=0.0)
    dc = Given("DC loads together", dc_w, "W")
    units = Given("Inverters", count, "count")
    full = Given("Efficiency at full load", spec.full_load_efficiency, "1")
    continuous = Figure(
        "Bank current, inverters at full load", (count * spec.continuous_va / spec.full_load_efficiency + dc_w) / lowest.value, "A",
        "(units × rating ÷ efficiency + DC loads) ÷ lowest working voltage",
        (units, Given("Rating of one", spec.continuous_va, "W"), full, dc, lowest), TEXTBOOK, "rating taken as watts: power factor 1",
    )  # fmt: skip
    surge = Figure(
        "Bank current, inverters at surge", (count * spec.surge_va / spec.full_load_efficiency + dc_w) / lowest.value, "A",
        "(units × surge ÷ efficiency + DC loads) ÷ lowest working voltage",
        (units, Given("Surge of one", spec.surge_va, "W"), full, dc, lowest), TEXTBOOK,
    )  # fmt: skip
    return continuous, surge
