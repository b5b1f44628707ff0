"""Shapes of plant, each built in the real window from an empty job: saved, opened again, printed, and their key numbers
worked out by hand.
"""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from weighty_axle.design.plainest import addable
from weighty_axle.job.sheets import sheet_of, stated_paths


def value(figure):
    return pytest.approx(figure, rel=1e-3)


def test_a_reading_room_on_twelve_volts_with_two_fuse_panels(hands, tmp_path):
    """12 V bank in parallel, two 120 V units split-phase, fused feeds to two DC panels with their circuits."""
    own = hands("bus-front", "Bank: 12 V", "AC: 120/240 V split-phase")
    front = own.add("dc.panels", name="Front panel", fuse_a="60 A", ways=6)
    rear = own.add("dc.panels", name="Rear panel", fuse_a="40 A", ways=8)
    lamps = own.add("dc.circuits", name="Reading lamps", panel=front, length_m="4 m")
    fans = own.add("dc.circuits", name="Fans", panel=rear, fuse_a="10 A")
    pump = own.add("dc.circuits", name="Pump", panel=rear)
    own.load("Lamps", "DC_12", 60, (8, 20), circuit=lamps)
    own.load("Fan", "DC_12", 24, (10, 18), circuit=fans, count=2)
    own.load("Water pump", "DC_12", 90, (12, 13), circuit=pump, start_multiple=3)
    design = own.house
    assert len(own.whole.bank.packs) == 4 and own.whole.bank.series == 1
    assert own.whole.inverters.stacking == "split_phase" and len(own.whole.inverters.units) == 2
    # 4 LFP cells at 3.0 V: 60 W / 12 V, 48 W + 90 W at noon, the pump's start 90 + 180 W.
    amps = {one.tag: one.current_a.value for one in design.direct.wires}
    assert amps == {lamps: value(5.0), fans: value(4.0), pump: value(7.5), front: value(5.0), rear: value(11.5)}
    assert next(one for one in design.direct.circuits if one.tag == pump).start_a.value == value(22.5)
    assert [panel.ways_free for panel in design.direct.panels] == [5, 6]
    # Two units of 2000 VA at 87 %, and all DC loads together at noon: 60 + 48 + 90 W.
    assert design.bank.continuous_a.value == value((2 * 2000 / 0.87 + 198) / 12.0)
    assert not {one for one in own.rules() if one.startswith("wiring.dc")} - {"wiring.dc-start", "wiring.dc-drop"}
    own.put(f"dc.circuits[{pump}]", fuse_a="8 A")
    assert "wiring.dc-circuit-over" in own.rules()
    own.ends(tmp_path)


def test_a_workshop_lorry_on_twelve_volts_charged_in_amps(hands, tmp_path):
    """12 V bank linked at opposite ends, alternator chargers stated in amps, each on its own fuse, spare ways kept."""
    own = hands("truck-2", "Bank: 12 V", "AC: one line")
    own.put("bank.links", take_off="opposite_ends")
    own.add("charging.alternators", rated_a="180 A", volts="14.2 V", vehicle_a="30 A")
    tags = [own.add("converters") for _ in range(2)]
    for tag in tags:
        own.take_type(f"converters[{tag}].spec", "Charger 12 to 12 V 30 A")
        own.add("fitted", name="Strip fuse", run=f"W-{tag}", amps="40 A", dc_v="58 V")
    own.put("wiring.board", ways=12, spare=3)
    design = own.house
    engine = next(part for mix in design.charging.mixes for part in mix.parts if part.name == "Alternator")
    assert engine.value == 60.0
    # 2 x 30 A x 14.4 V / 0.88 / 14.2 V against 180 A x 0.6 - 30 A.
    (budget,) = design.budgets
    assert budget.asked_a.value == value(2 * 30 * 14.4 / 0.88 / 14.2)
    assert budget.spare.spare_a["slow"].value == value(78.0)
    runs = {run.tag: run for run in design.wiring.runs}
    assert all(runs[f"W-{tag}"].fuse_a.value == 40 and runs[f"W-{tag}"].fuse_a.formula == "as fitted" for tag in tags)
    assert design.bank.sharing.take_off == "opposite_ends" and design.bank.sharing.spread > 1.0
    assert "wiring.bar-ways" not in own.rules() and "wiring.fitted-small" not in own.rules()
    own.put("wiring.board", spare=10)
    own.put(f"fitted[{own.whole.fitted[0].tag}]", amps="25 A")
    assert {"wiring.bar-ways", "wiring.fitted-small"} <= own.rules()
    own.ends(tmp_path)


def test_a_staged_conversion_keeps_its_lead_acid_bank(hands, tmp_path):
    """Lead-acid kept for the 12 V loads beside a 24 V lithium bank for the inverter, with an either-or switch."""
    own = hands("bus-2", "Bank: 24 V", "AC: one line")
    kept = own.add("bars", name="Old 12 V bar")
    own.state(f"bars[{kept}].bank")
    new = own.add("bars", name="New 12 V bar")
    supply = own.add("converters")
    own.take_type(f"converters[{supply}].spec", "Supply 24 to 12 V 30 A")
    own.put(f"converters[{supply}]", start="", end=new, works="always")
    panel = own.add("dc.panels", name="Saloon panel", bar=kept)
    switch = own.add("dc.switches", name="Either-or switch", bars=f"{kept} {new}", now=kept)
    circuit = own.add("dc.circuits", name="Saloon lamps", panel=panel)
    energy = 72 * own.hours(own.load("Lamps", "DC_12", 72, (8, 18), circuit=circuit))
    old = own.of(kept)
    # On the old bank: 72 W / (6 x 1.90 V); some 720 Wh of 100 Ah x 12 V x 50 %.
    assert old.direct.circuits[0].current_a.value == value(72 / 11.4) and old.job.bank.role == "kept"
    assert old.bank.days.value == value(100 * 12 * 0.5 / energy)
    base = own.house.brief.energy_per_day_wh.value
    own.put(f"dc.switches[{switch}]", now=new)
    # Thrown over, the same lamps take that energy / 0.92 from the lithium bank, at the 13.2 V the supply holds.
    assert own.house.direct.circuits[0].current_a.value == value(72 / 13.2)
    assert own.house.brief.energy_per_day_wh.value - base == value(energy / 0.92)
    assert not own.of(kept).direct.circuits and "charging.switch-classes" not in own.rules()
    # The kept bank was weighed with the vehicle; the old charger leaves it.
    before = own.house.place.added_kg.value
    own.add("removed", name="Old charger", mass_kg="18 kg")
    assert before - own.house.place.added_kg.value == value(18.0)
    own.ends(tmp_path)


def test_three_chargers_on_one_cable_from_a_rear_engine(hands, tmp_path):
    """Several alternator chargers on one shared 24 V cable from a rear engine into 48 V."""
    own = hands("coach-3", "Bank: 48 V")
    own.add("charging.alternators", rated_a="240 A", volts="28.4 V", vehicle_a="40 A", hot_share="60 %")
    for _ in range(3):
        tag = own.add("converters")
        own.take_type(f"converters[{tag}].spec", "Charger 24 to 48 V 8 A")
        own.put(f"converters[{tag}]", feed="Rear cable")
    assert {"charging.feed-unmeasured", "charging.own-way"} <= own.rules()
    own.put(f"converters[{tag}]", feed_m="9.5 m")
    (feed,) = own.house.feeds_in
    # 3 x 8 A x 57.6 V / 0.90 from a bar that sags to 28.4 x 12 / 14.4 V.
    assert feed.current_a.value == value(3 * 8 * 57.6 / 0.9 / (28.4 * 12 / 14.4))
    assert len(feed.converters) == 3 and feed.length_m.value == 9.5
    assert feed.drop_share.value <= own.whole.wiring.drop_allowed
    # 3 x 8 A x 57.6 V / 0.90 arrive behind the cable's drop from 28.4 V; against 240 A x 0.6 - 40 A.
    (budget,) = own.house.budgets
    amps = budget.asked_a.value
    assert amps * (28.4 - amps * feed.loop_ohm) == value(3 * 8 * 57.6 / 0.9)
    assert budget.spare.spare_a["slow"].value == value(104.0)
    assert "charging.feed-unmeasured" not in own.rules()
    own.ends(tmp_path)


def test_one_integrated_unit_with_two_solar_inputs(hands, tmp_path):
    """One two-leg unit whose solar inputs share its DC limit, a second controller, arrays on the ground and a roof."""
    own = hands("bus-front", "Bank: 48 V", "AC: 120/240 V split-phase")
    own.sheet.open_path("inverters.units[INV2]")
    QTest.mouseClick(own.sheet._remove, Qt.MouseButton.LeftButton)
    own.take_type("inverters.spec", "Integrated unit 48 V 8 kVA 120/240 V")
    own.put("inverters", stacking="one_two_legs")
    first, second = (own.add("roof.controllers") for _ in range(2))
    own.take_type(f"roof.controllers[{first}].spec", "Solar input 500 V 22 A, built in")
    own.take_type(f"roof.controllers[{second}].spec", "Solar input 500 V 22 A, built in")
    for tag in (first, second):
        own.put(f"roof.controllers[{tag}]", unit="INV1")
    beside = own.add("roof.controllers")
    own.take_type(f"roof.controllers[{beside}].spec", "Controller 250 V 60 A")
    own.put(f"roof.controllers[{beside}]", unit="")
    for controller, where in ((first, "ground"), (second, "building"), (beside, "ground")):
        own.add("roof.remote", name=f"Array {controller}", controller=controller, where=where, series=7, parallel=2)
    design = own.house
    module = own.whole.roof.module
    assert [one.rated_w.value for one in design.remote] == [value(14 * module.pmp_w)] * 3
    # An input built in weighs nothing of its own and has no lead of its own; the unit's lead carries both.
    assert {item.tag for item in design.items if item.kind == "controller"} == {beside}
    assert f"W-{first}" not in {run.tag for run in design.wiring.runs}
    assert next(run for run in design.wiring.runs if run.tag == "W-INV1").current_a.value == value(
        max(8000 / 0.92 / 48, min(140 + 160, 190))
    )
    assert own.whole.roof.controllers[0].spec.start_v == 120
    own.put("inverters.spec", solar_w="5 kW")
    assert "roof.inputs-power" in own.rules()
    own.put("inverters.spec", solar_inputs=1)
    assert "roof.inputs-too-many" in own.rules()
    own.ends(tmp_path)


def test_two_independent_units_each_with_its_own_inlets(hands, tmp_path):
    """Two units of different types, each with its own inlet and generator inlet, without inventing selectors."""
    own = hands("bus-2", "Bank: 48 V", "AC: one line")
    own.add("ac.inlets", name="Shore inlet", amps="16 A")
    generator = own.add("ac.inlets", name="Generator inlet", amps="16 A")
    own.put("ac", second_input=generator)
    tag = own.add("inverters.sources", name="Petrol generator", kind="generator", amps="13 A", inlet=generator)
    group = own.add("groups", name="Kitchen inverter")
    own.take_type(f"groups[{group}].inverters.spec", "Inverter-charger 48 V 3 kVA 230 V")
    own.add(f"groups[{group}].ac.inlets", name="Kitchen inlet", amps="16 A")
    second = own.add(f"groups[{group}].ac.inlets", name="Kitchen generator inlet", amps="16 A")
    own.put(f"groups[{group}].ac", second_input=second)
    source = own.add(f"groups[{group}].inverters.sources", name="Kitchen pedestal", amps="16 A", limit_a="10 A")
    own.load("Oven", "AC", 2000, (11, 13), on=group)
    own.load("Books scanner", "AC", 300, (9, 17))
    house, kitchen = own.house, own.of(group)
    assert kitchen.system.shares_bank and not own.whole.ac.selectors and not own.whole.groups[0].ac.selectors
    # With only the generator's lead in, the house unit passes it through at its second input.
    passing = next(one for one in house.states.states if one.plugged == (tag,) and one.mode == "on")
    assert passing.passing == ("INV1",)
    both = [one for one in house.states.states if len(one.plugged) == 2 and one.mode == "on"]
    assert both and not any(hazard for one in both for hazard in one.hazards)
    assert [row.tag for row in kitchen.sources] == [source] and kitchen.sources[0].accepted
    # The bank carries both at full load: 5000 / 0.91 and 3000 / 0.90, at 16 x 3.0 V.
    assert house.bank.continuous_a.value == value((5000 / 0.91 + 3000 / 0.90) / 48)
    assert kitchen.bank.continuous_a.value == house.bank.continuous_a.value
    unit = own.whole.groups[0].inverters.units[0].tag
    assert {"W-INV1", f"W-{unit}"} <= {run.tag for run in house.wiring.runs}
    # The oven's 4 kWh and the kitchen unit's idling and losses are in the bank's day.
    beside = house.brief.days["PARKED"].beside_energy_wh.value
    assert beside == value(kitchen.brief.days["PARKED"].bank_energy_wh.value) and beside > 4000 + 13 * 24
    assert kitchen.inverters.legs[0].worst_va.value == value(2000)
    assert house.inverters.legs[0].worst_va.value == value(300)
    own.ends(tmp_path)


def test_everything_from_one_bank_asleep_by_one_switch(hands, tmp_path):
    """48 V bank with 48 to 24 and 48 to 12 V converters, their loads and panels, and one switch that puts all of it to
    sleep.
    """
    own = hands("coach-3", "Bank: 48 V", "AC: none: DC only")
    twelve, twenty_four = own.add("bars", name="12 V bar"), own.add("bars", name="24 V bar")
    own.put(f"bars[{twenty_four}]", volts=24)
    for bar, kind in ((twelve, "Supply 48 to 12 V 30 A"), (twenty_four, "Supply 48 to 24 V 20 A")):
        tag = own.add("converters")
        own.take_type(f"converters[{tag}].spec", kind)
        own.put(f"converters[{tag}]", start="", end=bar, works="always")
        own.add("dc.panels", name=f"Panel of {bar}", bar=bar)
    panels = [panel.tag for panel in own.whole.dc.panels]
    lamps = own.add("dc.circuits", name="Lamps", panel=panels[0])
    fridge = own.add("dc.circuits", name="Vaccine fridge", panel=panels[1])
    light = own.load("Lamps", "DC_12", 120, (16, 22), circuit=lamps)
    cold = own.load("Vaccine fridge", "DC_24", 96, (0, 24), circuit=fridge, must_run=True)
    own.put("ac.storage", switch="Storage switch by the door")
    bars = {one.tag: one for one in own.house.direct.bars}
    assert bars[twelve].demand_a.value == value(120 / 13.2) and bars[twelve].given_a.value == 30
    assert bars[twenty_four].demand_a.value == value(96 / 26.4) and bars[twenty_four].given_a.value == 20
    # Some 720 Wh / 0.90 + 2304 Wh / 0.92 + the converters' own 1 W + 1 W all day.
    energy = 120 * own.hours(light) / 0.90 + 96 * own.hours(cold) / 0.92 + 48
    assert own.house.brief.energy_per_day_wh.value == value(energy) and energy > 3200
    assert not own.house.others and not own.whole.inverters.units
    asleep = {one.name: one.alive for one in own.house.storage.sleepers}
    assert asleep["Supply 48 to 12 V 30 A"] is asleep["Supply 48 to 24 V 20 A"] is False
    assert asleep["Vaccine fridge"] is False and "inverters.no-storage-switch" not in own.rules()
    own.put(f"loads[{own.whole.loads[0].tag}]", running_w="450 W")
    assert "charging.converter-short" in own.rules()
    own.ends(tmp_path)


def test_two_banks_that_help_each_other_cannot_hunt(hands, tmp_path):
    """A 12 V and a 48 V bank with transfer both ways and thresholds that cannot hunt."""
    own = hands("semi", "Bank: 48 V", "AC: one line")
    bar = own.add("bars", name="12 V bar")
    own.state(f"bars[{bar}].bank")
    tag = own.add("converters")
    own.take_type(f"converters[{tag}].spec", "Transfer 12 and 48 V 15 A")
    own.put(f"converters[{tag}]", start="", end=bar, both_ways=True, works="voltage")
    assert "charging.thresholds-missing" in own.rules()
    own.put(f"converters[{tag}]", on_v="53 V", off_v="51 V", back_on_v="14.6 V", back_off_v="13.6 V")
    hunting = {"charging.thresholds-missing", "charging.transfer-hunts", "charging.transfer-round"}
    assert not hunting & own.rules()
    house, other = own.house, own.of(bar)
    # Into the 12 V bank 15 A; out of the 48 V bank 15 A x 14.4 V / 0.93 / 48 V. Back: 15 A into 48 V.
    (there,), (here,) = other.ends, house.ends
    assert there.gives_a.value == 15 and here.takes_a.value == value(15 * 14.4 / 0.93 / 48)
    assert here.gives_a.value == 15 and there.takes_a.value == value(15 * 57.6 / 0.93 / 11.4)
    # That many amperes sag the 48 V bank by I x R: a threshold closer than that hunts.
    sag = here.takes_a.value * house.bank.resistance_ohm.value
    own.put(f"converters[{tag}]", off_v=f"{53 - 0.8 * sag:.5f} V")
    assert "charging.transfer-hunts" in own.rules()
    own.put(f"converters[{tag}]", back_off_v="12.6 V", back_on_v="13.2 V")
    assert "charging.transfer-round" in own.rules()
    own.ends(tmp_path)


def test_every_field_of_the_model_is_on_a_sheet_or_an_instrument(open_window):
    """Walks everything a large job states: each field has its line on the sheet of what holds it, or is a part, a list
    or a value painted elsewhere.
    """
    window = open_window("demo:eye-clinic")
    sheet = window.bench.sheet
    owners: dict[str, list[str]] = {}
    for path, field in stated_paths(window.session.shown.whole):
        owner = path[: -len(field.name)].rstrip(".")
        owners.setdefault(owner, []).append(field.name)
    seen = set()
    for owner, names in owners.items():
        kind = type(sheet._value(owner)).__name__
        if kind in seen:
            continue
        seen.add(kind)
        sheet.open_path(owner)
        shown = {field.path for fields in sheet._fields for field in fields._fields}
        for name in names:
            path = f"{owner}.{name}" if owner else name
            reached = path in shown or name in ("patterns", "format", "format_version")
            reached |= any(key.endswith((path, f"add {path}")) for key in sheet.presses)
            told = next(one for one in sheet_of(type(sheet._value(owner))) if one.name == name)
            if told.form == "part":
                reached |= any(told.title in key for key in sheet.presses) or any(
                    one.startswith(f"{path}.") for one in shown
                )
            if told.form == "entries" and told.part is not None and not addable(told.part):
                # Made by an instrument alone: variants in Year, states and maps in Log, what stands in units in
                # Settings, lessons in First power.
                reached |= name in ("variants", "feeds", "states", "maps", "columns", "entries", "rehearsed")
            assert reached, (owner, name)
    assert len(seen) > 35
