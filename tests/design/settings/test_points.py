from __future__ import annotations

import pytest

from tests.building import changed, v
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import set_value


def test_charge_settings_keep_the_sum_under_the_bank(clinic):
    for packs in (1, 2, 3, 6):
        design = derive(set_pack_count(packs).apply(clinic))
        points = {point.key: point.value for point in design.settings.points}
        left = min(design.bank.charge_limit_a.value, design.bank.one_pack_out_charge_a.value) * (1 + 1e-5)
        assert 2 * points["inverter_charge_a"] <= left, "with any one pack out"
        assert points["CC1_charge_a"] <= min(60, left)
        assert points["system_charge_a"] <= left
        assert points["monitor_capacity_ah"] == design.bank.capacity_ah.value


def test_own_set_points_stand_and_are_marked(clinic):
    job = changed(clinic, **{"settings__own_values[float_v]": 53.0}, charging__system_limit_a=250.0)
    points = {point.key: point for point in derive(job).settings.points}
    assert points["float_v"].value == 53.0 and points["float_v"].own and points["float_v"].computed.value == 54.0
    assert points["system_charge_a"].value == 250.0
    assert not points["absorption_v"].own


def test_set_points_keep_their_order_in_both_schools(design):
    for school, cell in (("gentle", 3.50), ("brim", 3.60)):
        result = derive(set_value("settings.full_charge", school, "").apply(design.job)).settings
        values = [point.value for point in result.ladder]
        assert values == sorted(set(values)) and values[-1] < result.bms_high_v.value
        assert values[-1] == pytest.approx(cell * design.bank.cells, abs=0.05)
        assert all(value == round(value, 1) for value in values)


@pytest.mark.parametrize(("full", "cell_v"), [("gentle", 3.5), ("brim", 3.6)])
def test_the_monitor_by_hand(clinic, full, cell_v):
    """Charged voltage 30 mV a cell under full charge, tail 3 % of capacity (common practice, no source)."""
    points = {one.key: one for one in derive(v(clinic, "settings.full_charge", full)).settings.points}
    assert points["monitor_charged_v"].value == pytest.approx(round(16 * (cell_v - 0.03), 1))
    assert points["monitor_tail_a"].value == 18 and points["monitor_capacity_ah"].value == 600
