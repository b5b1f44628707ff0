from __future__ import annotations

import math

import pytest

from tests.building import changed, told, v
from weighty_axle.design.conductors import conductor_ohm_per_km
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import set_value
from weighty_axle.reference import tables
from weighty_axle.rules.judge import judge


def test_lengths_follow_places_until_measured(puppet):
    run = next(one for one in derive(puppet).wiring.runs if one.tag == "W-INV1")
    board, unit = puppet.wiring.board.place, puppet.inverters.units[0].place
    expected = abs(board.x_m - unit.x_m) + abs(board.y_m - unit.y_m) + abs(board.z_m - unit.z_m) + 0.6
    assert run.length_m.value == pytest.approx(expected)
    measured = derive(changed(puppet, **{"inverters__units[INV1]__lead_m": 2.4})).wiring
    assert next(one for one in measured.runs if one.tag == "W-INV1").length_m.value == 2.4


def test_longer_runs_need_more_copper_never_less(puppet):
    areas = []
    for length in (0.5, 2.0, 5.0, 9.0, 14.0):
        run = derive(changed(puppet, wiring__main_lead_m=length)).wiring.runs[0]
        areas.append(run.chosen.copper_kg / length)
    assert areas == sorted(areas)


def test_the_fault_current_falls_along_the_way(clinic):
    main, *branches = derive(clinic).wiring.runs
    assert all(branch.prospective_a.value < main.prospective_a.value for branch in branches)
    longer = derive(changed(clinic, wiring__main_lead_m=8.0)).wiring.runs
    assert longer[1].prospective_a.value < branches[0].prospective_a.value


@pytest.mark.parametrize("ambient", [10.0, 30.0, 60.0, 80.0])
def test_cool_air_is_not_counted_on_and_hot_air_costs(puppet, ambient):
    run = derive(changed(puppet, wiring__ambient_c=ambient)).wiring.runs[0]
    factor = min(1.0, math.sqrt((90 - ambient) / 60))
    row = next(row for row in tables.ampacity_tables()["small_craft_mm2"].rows if row.size == run.chosen.size)
    assert run.ampacity_a.value == pytest.approx(row.amps[90] * factor * run.chosen.count)


def test_an_own_choice_stands_even_in_parallel(puppet):
    run = derive(changed(puppet, **{"wiring__conductors[W-MAIN]": "2 x 70 mm2"})).wiring.runs[0]
    single = derive(changed(puppet, **{"wiring__conductors[W-MAIN]": "70 mm2"})).wiring.runs[0]
    assert run.own_choice and (run.chosen.size, run.chosen.count) == ("70 mm2", 2)
    assert run.chosen.drop_v == pytest.approx(single.chosen.drop_v / 2)
    assert run.ampacity_a.value == pytest.approx(2 * single.ampacity_a.value)


@pytest.mark.parametrize("size", ["x x y", "0 x 70 mm2", "99 AWG", "70", "2 x ", " x 70 mm2"])
def test_a_size_nobody_knows_is_a_finding_not_a_crash(puppet, size):
    job = changed(puppet, **{"wiring__conductors[W-INV1]": size})
    design = derive(job)
    assert "wiring.unknown-size" in {one.rule.id for one in judge(design)}
    assert math.isnan(design.wiring.worst_drop_share.value), "no drop is told where there is no conductor"


def test_an_inverters_lead_carries_its_charger_too(puppet):
    run = next(
        one for one in derive(changed(puppet, inverters__spec__charge_a=190.0)).wiring.runs if one.tag == "W-INV1"
    )
    assert run.current_a.value == 190 and run.fuse_a.value == 250 <= run.ampacity_a.value


def test_chosen_conductors_hold_their_fuse_and_drop(design):
    stated = design.job.wiring
    for run in design.wiring.runs:
        assert run.chosen is not None and not run.chosen.against
        assert run.ampacity_a.value >= run.fuse_a.value >= run.current_a.value
        assert run.drop_share.value <= stated.drop_allowed
        # Ohm's law by another way: hot loop resistance from the table times current.
        hot = conductor_ohm_per_km(run.chosen.size) / 1000 * (1 + 0.00393 * (stated.insulation_c - 20))
        assert run.chosen.drop_v == pytest.approx(2 * run.length_m.value * hot * run.current_a.value / run.chosen.count)
        smaller = [
            one for one in run.candidates if one.count == run.chosen.count and one.ampacity_a < run.chosen.ampacity_a
        ]
        assert all(one.against for one in smaller)


def test_main_run_carries_the_larger_of_discharge_and_charge(clinic, sound_clinic):
    assert derive(clinic).wiring.runs[0].current_a.value == pytest.approx(derive(clinic).charging.into_bank_a.value)
    small = set_value("charging.system_limit_a", 100.0, "").apply(sound_clinic)
    assert derive(small).wiring.runs[0].current_a.value == pytest.approx(derive(small).bank.continuous_a.value)


def test_a_slip_in_resistance_does_not_hide_what_a_fuse_must_break(puppet):
    """0.05 for 0.005 ohm: asked about, and the fault is judged with the least plausible resistance (50 mΩ Ah a cell:
    common practice, no source).
    """
    slipped = derive(v(puppet, "bank.spec.resistance_ohm", 0.05))
    each = 0.050 * 8 / 200
    assert slipped.bank.least_resistance_ohm.value == pytest.approx(each / len(puppet.bank.packs))
    assert slipped.bank.prospective_a.value > derive(puppet).bank.prospective_a.value
    weak = v(v(puppet, "wiring.main_fuse", "bolt_strip_80"), "bank.spec.resistance_ohm", 0.05)
    assert told(weak, "wiring.fuse-breaking") and told(weak, "bank.slip-resistance")


@pytest.mark.parametrize(
    ("runs", "count", "factor"),
    [(1, 1, 1.0), (1, 2, 0.8), (1, 3, 0.8), (2, 1, 0.8), (2, 2, 0.7), (3, 2, 0.5), (5, 1, 0.5)],
)
def test_loaded_conductors_together_in_an_enclosure(clinic, runs, count, factor):
    """NEC (NFPA 70) 2023 table 310.15(C)(1), recalled: 4-6 conductors 80 %, 7-9 70 %, 10-20 50 %; terminals for 75 °C
    (110.14(C), recalled).
    """
    job = v(
        v(v(clinic, "wiring.ampacity_table", "enclosed_awg"), "wiring.insulation_c", 90), "wiring.runs_together", runs
    )
    job = v(job, "wiring.ambient_c", 30.0)
    found = next(one for one in derive(job).wiring.main.candidates if one.size == "2/0 AWG" and one.count == count)
    assert found.ampacity_a == pytest.approx(count * min(195 * factor, 175)), (
        "195 A at 90 °C, 175 A at 75 °C: table 310.16, recalled"
    )
    cool = v(job, "wiring.terminals_c", 60)
    assert next(
        one for one in derive(cool).wiring.main.candidates if one.size == "2/0 AWG" and one.count == count
    ).ampacity_a == pytest.approx(count * min(195 * factor, 145))


def test_faults_are_counted_with_the_least_resistance_and_drops_with_the_most(clinic):
    """IEC 60028 copper of the full area, cold, for faults; for drops hot, with lay.

    Bank sag starts from the lowest working voltage.
    """
    design = derive(clinic)
    main = design.wiring.main
    bank_ohm = design.bank.least_resistance_ohm.value
    branch_ohm = design.bank.max_v.value / design.wiring.runs[1].prospective_a.value
    area = {"4/0 AWG": 107.2, "3/0 AWG": 85.0, "2/0 AWG": 67.4, "1/0 AWG": 53.5, "2 AWG": 33.6}[main.chosen.size]
    loop = 2 * main.length_m.value * 1.7241e-2 / area / main.chosen.count
    assert branch_ohm == pytest.approx(bank_ohm + loop, rel=2e-3)
    assert main.drop_share.value * design.bank.nominal_v.value / main.current_a.value > 1.02 * loop
    assert design.bank.at_surge_v.value < design.bank.lowest_working_v.value and "copper only" in main.drop_share.limit


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_fuses_offered_at_every_voltage_break_what_they_must(request, name):
    """Every kind told for 12, 24 and 48 V against its own datasheet row; none that would do is left out."""
    design = derive(request.getfixturevalue(name))
    for choice in design.voltages.choices:
        highest = {12: 4, 24: 8, 48: 16}[choice.volts] * 3.65
        fits = {
            kind.name
            for kind in tables.fuse_kinds().values()
            if kind.volts >= highest
            and kind.breaks_a >= choice.prospective_a.value
            and kind.largest_a >= choice.fuse_a.value
        }
        assert set(choice.fuses) == fits
        assert set(choice.isolators) == {
            one.name
            for one in tables.isolators().rows
            if one.volts >= highest and one.amps >= choice.continuous_a.value
        }
