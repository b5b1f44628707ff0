from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import set_value
from weighty_axle.reference import tables


def test_trade_facts():
    """Common practice, no source: manual values the design must reproduce."""
    amps = {
        (row.practice, row.tag): row.volts * row.amps * (1 if row.legs_in_phase else row.legs)
        for row in tables.usual_sources().rows
    }
    assert amps["north_american", "P30"] == 3600
    assert amps["north_american", "P50"] == 12_000
    assert [round(amps["international", tag], -1) for tag in ("P10", "P15", "P16")] == [2300, 3450, 3680]
    assert amps["international", "GEN1"] == pytest.approx(850, rel=0.01)
    table = {row.size: row.amps for row in tables.ampacity_tables()["small_craft_awg"].rows}
    assert table["4/0 AWG"][105] >= 400  # 3 kVA at 12 V: 4/0 and a 400 A fuse
    assert table["2/0 AWG"][75] >= 200  # 2/0 welding cable: 200 A
    enclosed = {row.size: row.amps for row in tables.ampacity_tables()["enclosed_awg"].rows}
    assert [
        enclosed[size][60] >= amps for size, amps in (("12 AWG", 20), ("10 AWG", 30), ("8 AWG", 40), ("6 AWG", 50))
    ] == [True] * 4


def test_a_50_a_controller_sits_on_60_a_and_1_kw_is_20_a(clinic):
    """Common practice, no source."""
    job = set_value("roof.controllers[CC1].spec.output_a", 50.0, "").apply(clinic)
    run = next(run for run in derive(job).wiring.runs if run.tag == "W-CC1")
    assert run.fuse_a.value == 60
    one_kw = 1000 / (clinic.inverters.spec.peak_efficiency * derive(clinic).bank.nominal_v.value)
    assert one_kw == pytest.approx(20, rel=0.05)


def test_four_times_the_voltage_needs_a_quarter_of_the_current(clinic):
    """Common practice, no source: 48 V against 12 V for the same power."""
    block = next(one for one in tables.packs().rows if one.cells_in_series == 4)
    clinic = replace(
        clinic, loads=tuple(load for load in clinic.loads if load.supply != "DC_12")
    )  # a 12 V bank feeds those without a converter
    twelve = replace(clinic, bank=replace(clinic.bank, spec=block))
    ratio = derive(twelve).bank.continuous_a.value / derive(clinic).bank.continuous_a.value
    assert ratio == pytest.approx(4)
