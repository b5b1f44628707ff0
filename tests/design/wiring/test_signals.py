"""Signal and sense leads: what parts ask for, and what is stated beside or in its place."""

from __future__ import annotations

import itertools

import pytest
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.answers.place.ways_filled import all_cables
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.signals import AT_HAND
from weighty_axle.job.models.wiring import Signal


def _kinds(job):
    found: dict[str, list[tuple[str, str]]] = {}
    for one in derive(job).signals:
        found.setdefault(one.lead.kind, []).append((one.start, one.end))
    return found


def test_parts_ask_for_their_leads():
    """Trade facts (common practice, no source): packs are chained, units that act together are joined, every controller
    senses at the board, a shunt gets its supply through 1 A.
    """
    job = changed(demo("eye-clinic"), wiring__board__shunt_a=500.0, inverters__remote_switch=True)
    found = _kinds(job)
    packs = [pack.tag for pack in job.bank.packs]
    assert found["pack_data"] == list(itertools.pairwise(packs))
    assert found["bank_data"] == [(packs[0], "INV1")] and found["stacking"] == [("INV1", "INV2")]
    assert found["sense"] == [("DB1", "CC1"), ("DB1", "CC2")] and found["shunt_supply"] == [(packs[0], "DB1")]
    assert found["remote"] == [("INV1", AT_HAND)] and "temperature" not in found
    by_kind = {one.lead.kind: one for one in derive(job).signals}
    assert by_kind["sense"].fuse_a == by_kind["shunt_supply"].fuse_a == 1.0 and by_kind["pack_data"].fuse_a is None


def test_old_banks_have_a_sensor_and_no_data():
    design = derive(demo("library-bus"))
    old = next(one for one in design.others if one.system.key == "DBO")
    assert all(one.lead.kind not in ("pack_data", "bank_data") for one in old.signals)


@pytest.mark.parametrize("measured", [None, 4.5])
def test_a_stated_lead_stands_in_the_place_of_the_derived_one(clinic, measured):
    lead = Signal(tag="SL1", name="Sense of CC1", kind="sense", start="DB1", end="CC1", measured_m=measured, fuse_a=2.0)
    made = [one for one in derive(replace(clinic, signals=(lead,))).signals if one.end == "CC1"]
    (one,) = made
    assert one.stated and one.fuse_a == 2.0 and (measured is None or one.length_m.value == measured)


def test_leads_lie_in_the_ways_and_grow_with_the_distance():
    job = demo("eye-clinic")
    cables = {one.tag: one for one in all_cables(derive(job))}
    assert cables["BD-INV1"].kind == "data" and cables["BD-INV1"].path.ways
    place = job.roof.controllers[0].place
    away = derive(changed(job, **{"roof__controllers[CC1]__place": replace(place, x_m=place.x_m - 0.2)}))
    after = {one.tag: one for one in all_cables(away)}
    assert after["VS-CC1"].length_m.value == pytest.approx(cables["VS-CC1"].length_m.value + 0.2)
