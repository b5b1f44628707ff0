"""Pre-charge of a job: capacitors, resistor, what closing does; and that more of either changes it the right way."""

from __future__ import annotations

import math

import pytest

from tests.building import changed
from weighty_axle.design.derive import derive


def test_closing_is_the_series_circuit_of_bank_run_leads_and_capacitors(puppet):
    """By hand: R and L along the way, C of the unit, the damped sine of the textbook."""
    design = derive(changed(puppet, inverters__spec__input_uf=12_000.0, wiring__board__precharge=True))
    found = design.precharge
    main, lead = (next(one for one in design.tree.ways if one.tag == tag) for tag in ("W-MAIN", "W-INV1"))
    ohm = design.bank.least_resistance_ohm.value + main.least_ohm + lead.least_ohm
    henry, farad, volts = 1e-6 * (main.length_m + lead.length_m), 0.012, design.bank.max_v.value
    alpha, omega = ohm / 2 / henry, math.sqrt(1 / (henry * farad) - (ohm / 2 / henry) ** 2)
    times = [step * 1e-6 for step in range(4000)]
    sine = [volts / omega / henry * math.exp(-alpha * t) * math.sin(omega * t) for t in times]
    assert found.peak_without_a.value == pytest.approx(max(sine), rel=1e-5)
    assert found.highest_without_v.value == pytest.approx(volts * (1 + math.exp(-alpha * math.pi / omega)), rel=1e-9)
    assert found.peak_a.value == pytest.approx(max(sine) * found.left_v.value / volts, rel=1e-5)
    assert found.filled_s.value == pytest.approx(3 * found.resistor_ohm.value * farad, rel=2e-3)
    assert found.filled_s.value <= 3.0


def test_nothing_to_fill_where_no_inverter_hangs(puppet):
    assert derive(changed(puppet, inverters__units=(), inverters__sources=())).precharge is None


@pytest.mark.parametrize("uf", [1_000.0, 20_000.0, 400_000.0])
def test_a_larger_capacitor_takes_a_smaller_resistor_and_more_energy(puppet, uf):
    small = derive(changed(puppet, inverters__spec__input_uf=uf)).precharge
    large = derive(changed(puppet, inverters__spec__input_uf=4 * uf)).precharge
    assert large.resistor_ohm.value < small.resistor_ohm.value
    assert large.energy_j.value == pytest.approx(4 * small.energy_j.value, rel=1e-3)
    assert large.peak_without_a.value > small.peak_without_a.value
