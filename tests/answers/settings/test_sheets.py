"""Settings sheets: ladders by hand, every unit of every job, what stands in units, changes, cut-out under load."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests import jobs, plants
from tests.building import v
from weighty_axle import demos
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.step_load import step_load
from weighty_axle.answers.proving.trials import trials
from weighty_axle.answers.settings.sheet import alike, all_settings, changes, sheets
from weighty_axle.answers.settings.under_load import under_load
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.tables.reading import TableError
from weighty_axle.exports.tables.readings import everything, read_readings, settings_csv, take_readings
from weighty_axle.job.edits.bank import set_pack
from weighty_axle.job.edits.proving import entered, unentered
from weighty_axle.job.models.proving import Entry
from weighty_axle.plant.serving import running
from weighty_axle.reference.tables import packs


def _by_key(job):
    return {one.key: one for one in all_settings(derive(job))}


@pytest.mark.parametrize("school", ["gentle", "brim"])
@pytest.mark.parametrize(
    ("chemistry", "cells", "nominal_v", "limits_v", "by_hand"),
    [
        # Cells × voltage of a cell (common practice, no source): cut-out, alarm, restart, rebulk, float, then full.
        ("lfp", 4, 3.2, (2.5, 3.65), (12.0, 12.4, 12.8, 13.2, 13.5, 14.0, 14.4)),
        ("lfp", 8, 3.2, (2.5, 3.65), (24.0, 24.8, 25.6, 26.4, 27.0, 28.0, 28.8)),
        ("lfp", 16, 3.2, (2.5, 3.65), (48.0, 49.6, 51.2, 52.8, 54.0, 56.0, 57.6)),
        ("flooded", 12, 2.0, (1.75, 2.55), (22.8, 23.4, 25.0, 25.4, 27.0, 28.8, 29.4)),
        ("agm", 24, 2.0, (1.75, 2.55), (45.6, 46.8, 49.9, 51.1, 54.5, 56.9, 58.1)),
    ],
)
def test_ladders_by_hand_from_cell_limits(puppet, school, chemistry, cells, nominal_v, limits_v, by_hand):
    job = puppet
    for path, value in (
        ("bank.spec.chemistry", chemistry),
        ("bank.spec.cells_in_series", cells),
        ("bank.spec.cell_nominal_v", nominal_v),
        ("bank.spec.cell_min_v", limits_v[0]),
        ("bank.spec.cell_max_v", limits_v[1]),
        ("settings.full_charge", school),
    ):
        job = v(job, path, value)
    found = {one.key.partition(" ")[2]: one for one in all_settings(derive(job)) if one.group == "INV1"}
    names = ("cut_out_v", "alarm_v", "restart_v", "rebulk_v", "float_v")
    assert [found[name].value for name in names] == pytest.approx(by_hand[:5], abs=0.051)
    full = by_hand[5 if school == "gentle" else 6]
    assert found["absorption_v"].value == pytest.approx(full, abs=0.051)
    assert full < found["high_alarm_v"].value < cells * limits_v[1]
    lithium = chemistry == "lfp"
    assert found["compensation"].said == ("off" if lithium else f"{-4 * cells:g}")
    assert found["equalise"].said == ("by hand only" if chemistry == "flooded" else "off")
    assert ("no_charge_below_c" in found) == lithium


@pytest.mark.parametrize("name", demos.names())
def test_every_unit_has_a_sheet_every_setting_a_reason_and_the_sum_stays_under_the_bank(name):
    job = demos.demo(name)
    design = derive(job)
    found = sheets(design)
    keys = [one.key for one in all_settings(design)]
    assert len(set(keys)) == len(keys) and all(one.why and one.source for one in all_settings(design))
    units = {unit.tag for own in (job, *job.groups) for unit in own.inverters.units}
    units |= {one.tag for one in job.roof.controllers} | {one.tag for one in job.converters}
    assert units <= {one.tag for one in found}
    assert sum(len(some) for some in alike(found)) == len(found)
    values = {one.key: one.value for one in all_settings(design)}
    held = design.source_states.held_to_a.value
    told = {one.tag: one.most_a for one in design.source_states.told}
    set_a = sum(min(values.get(f"{tag} charge_a", most), most) for tag, most in told.items() if tag not in _groups(job))
    shared = sum(values[f"{unit.tag} charge_a"] for group in job.groups for unit in group.inverters.units)
    assert set_a + shared <= held + 1e-6


@pytest.mark.parametrize("base", ["eye-clinic", "puppet-theatre"])
@pytest.mark.parametrize("plant", ["two_groups", "integrated", "staged", "transfer", "no_inverters", "second_system"])
def test_every_kind_of_plant_has_sheets_checks_and_tests_of_its_own(plant, base):
    """Groups on one bank, solar inputs built in, transfer both ways, stages, no inverters, a second system: every key
    once, every charger of every bank on a sheet, a plant that runs.
    """
    job = getattr(plants, plant)(jobs.plain(base))
    design = derive(job)
    known = [one.key for one in (*all_settings(design), *checks(design), *trials(design))]
    assert len(set(known)) == len(known)
    tags = {one.tag for one in sheets(design)}
    assert {one.tag for one in (*job.roof.controllers, *job.converters)} <= tags
    assert {unit.tag for own in (job, *job.groups) for unit in own.inverters.units} <= tags
    going = running(design)
    going.run(30)
    assert going.energy.error_share < 1e-6
    if plant == "integrated":
        way = f"W-{job.roof.controllers[0].unit}"
        in_the_sun = going.flow.ways[way].amps
        going.sun_w_per_m2 = 0.0
        going.run(1)
        assert going.flow.ways[way].amps > in_the_sun + 10, "its sun comes in through the inverter's own leads"


def _groups(job):
    return {one.tag for one in job.groups}


@pytest.mark.parametrize(
    ("key", "said", "verdict", "dangerous", "words"),
    [
        ("CC1 equalise", "on", "bad", True, "far over their limit"),
        ("INV1 compensation", "on", "bad", True, "in the cold"),
        ("ALT1 mode", "supply", "bad", True, "never ends"),
        ("CC2 profile", "flooded lead-acid", "bad", True, "another profile"),
        ("INV1 absorption_v", "57.6", "bad", True, "24 lead-acid cells"),
        ("CC1 float_v", "54.5 V", "bad", True, "2.27 V for each of 24"),
        ("CC1 absorption_v", "55.6", "bad", False, "stands in it"),
        ("INV1 cut_out_v", "44", "bad", True, "electronics open first"),
        ("INV1 charge_a", "70", "bad", True, "over its limit"),
        ("INV2 P30 limit", "30", "bad", True, "breaker ashore"),
        ("INV1 frequency", "50 Hz", "bad", True, "refuses every supply"),
        ("INV2 earth_relay", "on", "bad", True, "two"),
        ("INV2 role", "leads, L1, half a turn apart", "bad", True, "push against each other"),
        ("ALT1 on_v", "25.1", "bad", True, "starting battery"),
        ("INV1 absorption_v", "560", "asked", False, "point one place"),
        ("MON capacity_ah", "6000", "asked", False, "point one place"),
        ("MON capacity_ah", "full", "asked", False, "no number"),
        ("MON capacity_ah", "600 Ah", "good", False, ""),
        ("CC1 equalise", "OFF", "good", False, ""),
        ("CC1 equalise", "disabled", "good", False, ""),
        ("CC1 equalise", "auto", "asked", False, "is that off"),
        ("CC1 profile", "LiFePO4", "good", False, ""),
        ("CC1 profile", "AGM 2", "bad", True, "another profile"),
        ("CC1 profile", "preset 7", "asked", False, "is that lithium"),
        ("INV1 frequency", "60", "good", False, ""),
        ("INV1 ac_v", "230", "bad", True, "wrong voltage"),
        ("INV2 role", "follows INV1", "good", False, ""),
        ("INV2 role", "leads", "bad", True, "push against"),
        ("INV1 rebulk_v", "52,8", "good", False, ""),
    ],
)
def test_what_stands_in_a_unit_is_told(clinic, key, said, verdict, dangerous, words):
    one = _by_key(entered((Entry(setting=key, said=said),), "").apply(clinic))[key]
    assert (one.verdict, one.dangerous) == (verdict, dangerous), one.says
    assert words in one.says and one.done == (verdict == "good")


def test_changes_keep_who_when_why_old_and_new(clinic):
    job = clinic
    for said, on, by, why in (
        ("56.0", "2027-03-01", "OF", ""),
        ("57.6", "2027-05-02", "KL", "balancing"),
        ("56.0", "2027-05-09", "OF", "done"),
    ):
        job = entered((Entry(setting="CC1 absorption_v", said=said, on=on, by=by, why=why),), "").apply(job)
    found = changes(derive(job))
    assert [(one.old, one.entry.said, one.entry.by, one.entry.why) for one in found] == [
        ("56.0", "57.6", "KL", "balancing"),
        ("57.6", "56.0", "OF", "done"),
    ]
    assert _by_key(job)["CC1 absorption_v"].done
    back = unentered("CC1 absorption_v", "").apply(job)
    assert _by_key(back)["CC1 absorption_v"].says.startswith("57.6 V stands in it")
    assert unentered("CC1 float_v", "").apply(job) == job


def test_a_sheet_typed_back_is_taken_in_whole_or_not_at_all(clinic, tmp_path):
    design = derive(clinic)
    rows = list(csv.DictReader(io.StringIO(settings_csv(all_settings(design)).decode("utf-8-sig"))))
    for row in rows:
        row["in_the_unit"] = row["value"]
    rows[6]["in_the_unit"] = "57.6"
    path = tmp_path / "back.csv"

    def write(changed):
        with path.open("w", newline="") as file:
            writer = csv.DictWriter(file, list(changed[0]))
            writer.writeheader()
            writer.writerows(changed)

    write(rows)
    known = everything(design)
    found = read_readings(path, known)
    assert not found.problems and not found.unknown and len(found.read) == len(rows)
    job = take_readings(found, design, "2027-03-01", "OF").on(clinic)
    told = all_settings(derive(job))
    assert [one.key for one in told if not one.done] == [rows[6]["key"]]
    assert all(one.entries[-1].by == "OF" for one in told)
    again = take_readings(read_readings(path, everything(derive(job))), derive(job), "", "").on(job)
    assert again.proving == job.proving, "read back twice, nothing new is written down"

    write([*rows, rows[0]])
    assert "twice" in read_readings(path, known).problems[0]
    write([{**rows[0], "key": "NOBODY x"}])
    assert read_readings(path, known).unknown == ("NOBODY x",)
    path.write_text("unit,value\nCC1,3\n")
    with pytest.raises(TableError, match="key"):
        read_readings(path, known)


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_cut_out_under_load_by_another_route(request, name):
    """The inverter stands at its cut-out at full load; what the bank springs back by is current × its resistance, and
    the drop on the way is what the copper's own way shows: nodal solution put back in, energy closed.
    """
    design = derive(request.getfixturevalue(name))
    found = under_load(design)
    stack = design.job.inverters
    full_w = stack.spec.continuous_va * len(stack.units)
    step = step_load(design, full_w, found.back_v.value)
    cut_out = next(one.value for one in design.settings.points if one.key == "cut_out_v")
    assert step.ways[f"W-{found.unit_tag}"].end_v == pytest.approx(cut_out, abs=1e-3)
    assert min(at.end_v for tag, at in step.ways.items() if tag.startswith("W-INV")) == pytest.approx(cut_out, abs=1e-3)
    sag = step.main_a * design.bank.resistance_ohm.value
    assert found.back_v.value - found.bank_v.value == pytest.approx(sag, rel=1e-6)
    assert cut_out < found.bank_v.value < found.back_v.value
    assert 0 < found.left_share.value < 0.3


def test_a_group_on_the_same_bank_sags_it_further():
    """The story room's inverter runs too: the house's stop is judged with it, each step by the same Ohm's law."""
    design = derive(demos.demo("library-bus"))
    alone = under_load(replace(design, others=()))
    both = under_load(design)
    assert both.back_v.value - both.bank_v.value > alone.back_v.value - alone.bank_v.value + 0.05
    assert both.back_v.value > alone.back_v.value and both.left_share.value >= alone.left_share.value


@given(st.floats(1.0, 6.0))
def test_worse_packs_spring_back_further_and_leave_more(factor):
    puppet = jobs.plain("puppet-theatre")
    worn = v(puppet, "bank.spec.resistance_ohm", puppet.bank.spec.resistance_ohm * factor)
    new, old = under_load(derive(puppet)), under_load(derive(worn))
    assert old.back_v.value >= new.back_v.value - 1e-9
    assert old.left_share.value >= new.left_share.value - 1e-9


def test_a_bank_without_inverters_has_no_cut_out_under_load():
    design = derive(demos.demo("library-bus"))
    assert [under_load(one) is not None for one in design.others] == [False, True]


@pytest.mark.parametrize("ending", [".pdf", ".csv"])
def test_settings_on_the_command_line(tmp_path, ending, capsys):
    path = tmp_path / f"sheet{ending}"
    assert main(["settings", "demo:library-bus", "-o", str(path)]) == 0 and path.stat().st_size > 2000
    assert main(["settings", "demo:library-bus", "--json"]) == 0 and '"harm"' in capsys.readouterr().out
    assert main(["settings", "demo:library-bus", "-o", str(tmp_path / "x.txt")]) == 2
    assert main(["settings", "demo:library-bus"]) == 2 and "-o FILE" in capsys.readouterr().err


@pytest.mark.parametrize("chemistry", ["flooded", "agm"])
def test_settings_of_a_lead_acid_bank_speak_of_no_electronics(chemistry):
    """Nothing in it opens by itself: what is set wrong gasses, boils dry or sulphates. Common practice, no source."""
    job = demos.demo("puppet-theatre")
    spec = next(row for row in packs().rows if row.chemistry == chemistry and row.cells_in_series == 6)
    job = set_pack(spec, 2).apply(job)
    job = v(job, "dc.panels", tuple(replace(panel, cut_off_v=23.0) for panel in job.dc.panels))
    said = {one.key: f"{one.why} {one.hurts}" for one in all_settings(derive(job))}
    assert said["INV1 cut_out_v"].endswith("lose capacity for good")
    assert not [key for key, text in said.items() if "electronics" in text or "BMS" in text or "packs open" in text]
    lithium = {one.key: f"{one.why} {one.hurts}" for one in all_settings(derive(demos.demo("puppet-theatre")))}
    assert "electronics open first" in lithium["INV1 cut_out_v"]
