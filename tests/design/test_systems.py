"""Systems of a job: apart and together again, sums over all of them, kept against afresh."""

from __future__ import annotations

import pytest
from msgspec.json import encode
from msgspec.structs import replace

from tests import jobs, plants
from tests.building import v
from weighty_axle import demos
from weighty_axle.design.derive import Deriver, derive
from weighty_axle.exports.data.figures import design_data
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import WHOLE, set_value
from weighty_axle.job.edits.inverters import add_circuit
from weighty_axle.job.edits.sheet import remove_entry, set_stated
from weighty_axle.job.systems import HOUSE, part_of, put_back, systems
from weighty_axle.rules.judge import Judged, judge

SHAPED = {f"{shape}, {name}": make(jobs.plain(name)) for shape, make in plants.SHAPES.items() for name in jobs.names()}
SEVERAL = {name: job for name, job in SHAPED.items() if job.bars or job.groups}


@pytest.mark.parametrize("job", SHAPED.values(), ids=SHAPED)
def test_every_shape_is_sound_and_comes_together_again(job):
    assert problems(job) == []
    loads = [load.tag for one in systems(job) for load in part_of(job, one.key).loads]
    assert sorted(loads) == sorted(load.tag for load in job.loads), "every load belongs to one system"
    for one in systems(job):
        assert put_back(job, one.key, part_of(job, one.key)) == job
        changed = set_pack_count(len(part_of(job, one.key).bank.packs) + 4).on(replace(job), one.key)
        assert problems(changed) == []
        others = [other.key for other in systems(job) if other.bar != one.bar]
        assert all(part_of(changed, key).bank == part_of(job, key).bank for key in others)


# Every shape once, on one job after the other: each case derives everything anew for each of its edits.
_ONE_OF_EACH = {
    name: SEVERAL[name]
    for at, shape in enumerate(dict.fromkeys(name.partition(",")[0] for name in SEVERAL))
    for name in [[one for one in SEVERAL if one.startswith(f"{shape},")][at % len(jobs.names())]]
}


@pytest.mark.parametrize("job", _ONE_OF_EACH.values(), ids=_ONE_OF_EACH)
def test_what_is_kept_of_other_systems_is_what_would_be_derived_afresh(job):
    deriver, judged = Deriver(), Judged()
    deriver.derive(job)
    other = systems(job)[-1]
    edits = [
        (HOUSE, set_value("bank.usable_share", 0.71, "")),
        (HOUSE, set_value("bank.links.lug_ohm", 0.00021, "")),
        (other.key, set_value("bank.usable_share", 0.66, "")),
        (other.key, set_value("site.record_low_c", -11.0, "")),
        (HOUSE, set_value("wiring.ambient_c", 33.0, "")),
        (WHOLE, set_value("roof.modules[PV1].x_m", 2.75, "")),
        (HOUSE, set_value("loads", part_of(job, HOUSE).loads[:-1], "")),
    ]
    for key, edit in edits:
        job = replace(edit, system=key).on(job)
        kept, fresh = deriver.derive(job), derive(job)
        assert encode(design_data(kept)) == encode(design_data(fresh))
        assert [one.sentence() for one in judge(kept, judged)] == [one.sentence() for one in judge(fresh)]


def test_nothing_of_the_plant_changes_unseen():
    """Answers about bars, converters and groups stay only while all they read stays (Deriver's `plant`)."""
    job = demos.demo("eye-clinic")
    deriver = Deriver()
    deriver.derive(job)
    edits = [
        set_value(f"converters[{job.converters[0].tag}].spec.output_a", 11.0, ""),
        set_value(f"converters[{job.converters[-1].tag}].lead_m", 9.5, ""),
        set_value(f"dc.circuits[{job.dc.circuits[0].tag}].length_m", 14.0, ""),
        set_value(f"bars[{job.bars[0].tag}].bank.usable_share", 0.31, ""),
        set_value("charging.alternators[AL1].rated_a", 90.0, ""),
        set_value("charging.slow_rpm", 900.0, ""),
        set_value("wiring.ambient_c", 58.0, ""),
        set_value("practice", "international", ""),
        set_value("bank.spec.cell_nominal_v", 3.19, ""),
    ]
    for edit in edits:
        before, job = job, replace(edit, system=WHOLE).on(job)
        assert job != before
        kept, fresh = deriver.derive(job), derive(job)
        assert encode(design_data(kept)) == encode(design_data(fresh))
        assert [one.sentence() for one in judge(kept)] == [one.sentence() for one in judge(fresh)]


def test_two_groups_draw_what_each_would_alone():
    """Sums by another route: the bank's day with both groups is the day of each alone, and their currents add."""
    job = plants.two_groups(jobs.plain("eye-clinic"))
    both, alone = derive(job), derive(part_of(replace(job), HOUSE))
    (second,) = both.others
    without = derive(replace(part_of(job, HOUSE), groups=()))
    for kind, day in both.brief.days.items():
        apart = without.brief.days[kind].bank_energy_wh.value + second.brief.days[kind].bank_energy_wh.value
        assert day.bank_energy_wh.value == pytest.approx(apart)
    spec = job.groups[0].inverters.spec
    more = spec.continuous_va / spec.full_load_efficiency / both.bank.lowest_working_v.value
    assert both.bank.continuous_a.value == pytest.approx(without.bank.continuous_a.value + more)
    assert both.bank.surge_a.value - without.bank.surge_a.value == pytest.approx(
        spec.surge_va / spec.full_load_efficiency / both.bank.lowest_working_v.value
    )
    assert second.bank.at_surge_v.value == both.bank.at_surge_v.value < without.bank.at_surge_v.value
    # Hooked up, the second group's charger adds to the first's, as far as its own socket lets it.
    shore = {one.tag: one.shore_a.value for one in both.beside}
    total = next(part for mix in both.charging.mixes for part in mix.parts if part.name == "Shore").value
    first = next(part for mix in without.charging.mixes for part in mix.parts if part.name == "Shore").value
    assert total == pytest.approx(first + shore["G2"]) and 0 < shore["G2"] <= spec.charge_a
    assert alone.bank.nominal_v.value == both.bank.nominal_v.value


def test_a_maintainer_takes_what_the_other_bank_gives():
    """Energy balance: what the kept bank's loads take a day comes out of the house bank over the converter."""
    job = plants.staged(jobs.plain("eye-clinic"))
    both, without = derive(job), derive(v(job, "converters[DCY]", None))
    (old,) = both.others
    for kind, day in both.brief.days.items():
        need = old.brief.days[kind].bank_energy_wh.value / 0.85 + 24 * 0.5
        most = 24 * (5.0 * 14.4 / 0.85 + 0.5)
        assert day.beside_energy_wh.value - without.brief.days[kind].beside_energy_wh.value == pytest.approx(
            min(need, most)
        )


def test_a_new_thing_has_a_tag_that_nothing_else_in_the_whole_has():
    job = plants.two_groups(jobs.plain("eye-clinic"))
    house = {one.tag for one in job.ac.circuits}
    changed = add_circuit().on(job, "G2")
    (new,) = {one.tag for one in changed.groups[0].ac.circuits} - {"CKK"}
    assert problems(changed) == [] and new not in house and changed.ac == job.ac


def test_parts_of_one_datasheet_change_together_and_what_names_a_thing_that_goes_lets_go():
    job = jobs.plain("eye-clinic")
    changed = set_stated("converters[ALT1].spec.output_w", 900.0, "Output").on(job)
    assert [one.spec.output_w for one in changed.converters] == [900.0] * 3
    job = plants.staged(jobs.plain("puppet-theatre"))
    gone = remove_entry("bars[DB12]", "Old 12 V bar").on(job)
    assert problems(gone) == [] and not gone.dc.switches and gone.dc.panels[0].bar == ""
    assert [one.tag for one in gone.converters] == ["DCX"]


@pytest.mark.parametrize(
    ("path", "value", "sentence"),
    [
        ("converters[DCX].end", "DBX", "There is no bar DBX."),
        ("converters[DCX].end", "", "DCX starts and ends at DB1."),
        ("converters[DCX].end", "VEHICLE", "State the vehicle's bar before DCX charges it."),
        ("converters[DCX].spec.output_a", None, "DCX needs an output in A or in W."),
        ("dc.panels[DP1].bar", "X1", "There is no bar X1."),
        ("dc.circuits[DK1].panel", "X1", "There is no DC panel X1."),
        ("dc.switches[DS1].now", "DB1", "Either-or switch does not stand at one of its bars."),
        ("dc.switches[DS1].feeds", "X1", "There is no DC panel X1."),
        ("roof.controllers[CC1].bar", "X1", "There is no bar X1."),
        ("roof.controllers[CC1].unit", "X1", "There is no inverter X1."),
        ("loads[LD7].on", "X1", "There is no bar or inverter group X1."),
        ("charging.gives_way", ("sun",) * 5, "Each of shore, generator, converters, engine, sun gives way once."),
        ("bars[DB12].bank.series", 2, None),
        ("bars[DB12].bank.series", 3, "2 packs cannot be grouped by 3 in series."),
        ("ac.second_input", "IN9", "There is no other inlet IN9 for a second input."),
    ],
)
def test_what_a_plant_cannot_be_is_said_in_a_sentence(path, value, sentence):
    job = v(plants.staged(jobs.plain("puppet-theatre")), path, value)
    assert [one.message for one in problems(job)][:1] == ([sentence] if sentence else [])


def test_a_controller_on_another_bar_charges_that_and_its_modules_stand_in_the_way_all_the_same():
    job = plants.second_system(jobs.plain("eye-clinic"))
    design = derive(job)
    (trailer,) = design.others
    own = {one.tag for one in design.roof.controllers}
    assert {one.tag for one in trailer.roof.controllers} == {"CC2"} and own == {"CC1"}
    sun = next(part for mix in design.charging.mixes for part in mix.parts if part.name == "Sun")
    assert sun.value == design.roof.controllers[0].output_a.value
    here, there = design.job.roof.modules[0], trailer.job.roof.modules[0]
    onto = v(v(job, f"roof.modules[{there.tag}].x_m", here.x_m), f"roof.modules[{there.tag}].y_m", here.y_m)
    assert any({here.tag, there.tag} == set(pair) for pair in derive(onto).roof.clashes)
    assert design.place.added_kg.value == derive(jobs.plain("eye-clinic")).place.added_kg.value + sum(
        item.mass_kg for item in design.items if item.tag in ("Z0", "INVK", "DBZ")
    )
