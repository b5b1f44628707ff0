"""The schedule: glands that hold their cables, and rows of every kind."""

from __future__ import annotations

from collections import Counter

import pytest

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.place.ways_filled import all_cables
from weighty_axle.answers.wiring.schedule import gland, schedule
from weighty_axle.demos import demo, names
from weighty_axle.design.derive import derive
from weighty_axle.reference import hardware


@pytest.mark.parametrize("cable_mm", [3.0, 6.4, 6.6, 9.9, 12.0, 14.0, 18.0, 22.0, 30.0])
def test_the_smallest_gland_that_holds_a_cable(cable_mm):
    rows = {row.thread: row for row in hardware.glands().rows}
    found = rows[gland(cable_mm)]
    assert found.least_mm <= cable_mm <= found.most_mm
    smaller = [row for row in rows.values() if row.most_mm < found.most_mm]
    assert all(not row.least_mm <= cable_mm <= row.most_mm for row in smaller)
    assert gland(99.0) == hardware.glands().rows[-1].thread


def test_rows_of_every_kind_carry_what_a_bench_needs():
    design = derive(demo("eye-clinic"))
    rows = {one.tag: one for one in schedule(design)}
    assert {one.carries for one in rows.values()} == {"DC", "AC", "PV"}
    assert rows["CK1"].fuse_a == 20.0 and "5 mA" in rows["CK1"].guard and rows["CK1"].end_on == "socket's screws"
    assert rows["W-INV1"].start_nm == 12.0 and rows["S1"].guard == "none needed" and rows["S1"].fuse_a is None
    drops = {one.tag: one.drop_share.value for one in design.flow.ways}
    assert rows["DK3"].drop_share == drops["DK3"]


@pytest.mark.parametrize("name", names())
def test_every_cable_is_there_once_and_no_system_without_inverters_has_an_ac_side(name):
    """A group that shares a bank has the bank's answers: what lies in the ways is counted once all the same."""
    design = derive(demo(name))
    lying = Counter((one.tag, one.start, one.end) for one in all_cables(design))
    assert lying and max(lying.values()) == 1
    ordered = Counter(one.tag for one in cuts(design))
    assert max(ordered.values()) == 1
    for own in (design, *design.others):
        carries = {one.carries for one in schedule(own)}
        assert ("AC" in carries) is bool(own.job.inverters.units)
        assert ("DC" in carries) is not own.system.shares_bank
