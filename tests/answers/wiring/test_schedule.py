"""The schedule: glands that hold their cables, and rows of every kind."""

from __future__ import annotations

from collections import Counter

import pytest
from msgspec.structs import replace

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.labels import labels
from weighty_axle.answers.parts.needed import needs
from weighty_axle.answers.place.ways_filled import all_cables
from weighty_axle.answers.wiring.bonding import bonds
from weighty_axle.answers.wiring.schedule import gland, schedule
from weighty_axle.demos import demo, names
from weighty_axle.design.derive import derive
from weighty_axle.reference import hardware
from weighty_axle.rules.judge import judge


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


@pytest.mark.parametrize("name", names())
def test_every_inverter_is_earthed_and_every_circuit_has_its_loop_whatever_bank_it_shares(name):
    design = derive(demo(name))
    systems = (design, *design.others)
    units = {unit.tag for own in systems for unit in own.job.inverters.units}
    assert {bond.start for own in systems for bond in bonds(own) if bond.what.startswith("case of")} == units
    earths = [one for one in cuts(design) if one.carries == "earth"]
    assert units <= {one.start.at for one in earths}
    # DC negative meets the chassis once for every bank, frames of modules once.
    banks = [own for own in systems if not own.system.shares_bank]
    assert sum(one.words.startswith("DC negative") for one in earths) <= len(banks)
    assert sum(one.words.startswith("frames") for one in earths) == bool(design.whole.roof.modules)
    for own in systems:
        assert [one.tag for one in own.loops] == [one.tag for one in own.circuits]


def test_a_groups_circuit_that_its_inverter_cannot_trip_is_said():
    job = demo("library-bus")
    group = job.groups[0]
    bare = tuple(replace(one, rcd_ma=0.0, outlets=True, breaker_a=63.0) for one in group.ac.circuits)
    changed = replace(
        group, ac=replace(group.ac, circuits=bare, panels=tuple(replace(one, rcd_ma=0.0) for one in group.ac.panels))
    )
    said = {one.rule.id: one for one in judge(derive(replace(job, groups=(changed,))))}
    assert bare[0].tag in said["wiring.inverter-cannot-trip"].tags
    assert "wiring.inverter-cannot-trip" not in {one.rule.id for one in judge(derive(job))}


def test_leads_among_the_inverters_of_a_group_are_bought_cut_and_laid():
    job = demo("library-bus")
    group = job.groups[0]
    first = group.inverters.units[0]
    stack = replace(group.inverters, stacking="parallel", remote_switch=True, units=(first, replace(first, tag="INV4")))
    design = derive(replace(job, groups=(replace(group, inverters=stack),)))
    leads = {"SD-INV4", f"RS-{first.tag}"}
    assert leads <= {one.tag for one in cuts(design)} and "SD-INV4" in {one.tag for one in all_cables(design)}
    listed = [one for one in needs(design) if one.of in leads]
    assert {one.of for one in listed} == leads
    warned = {one.tag for one in labels(design) if "Several sources" in one.lines[0]}
    assert warned == {own.job.inverters.units[0].tag for own in (design, *design.others) if own.job.inverters.units}
