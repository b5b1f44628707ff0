from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import told, v
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.roof import add_remote


def _elsewhere(job, parallel, *, alone=False, where="ground"):
    """The job with an array on its first controller, beside the roof's strings or instead of them."""
    tag = job.roof.controllers[0].tag
    if alone:
        kept = tuple(one for one in job.roof.strings if one.controller != tag)
        gone = {one.tag for one in job.roof.strings} - {one.tag for one in kept}
        modules = tuple(replace(one, string="" if one.string in gone else one.string) for one in job.roof.modules)
        job = replace(job, roof=replace(job.roof, strings=kept, modules=modules))
    job = add_remote(tag).apply(job)
    array = replace(job.roof.remote[0], parallel=parallel, series=3, where=where)
    return replace(job, roof=replace(job.roof, remote=(array,)))


@pytest.mark.parametrize("alone", [False, True])
@pytest.mark.parametrize("parallel", range(1, 6))
@pytest.mark.parametrize("reverse_a", [15.0, 25.0, 60.0])
def test_an_array_elsewhere_is_guarded_like_the_strings_beside_it(puppet, alone, parallel, reverse_a):
    """Every string feeds into the weakest one, whether it lies on the roof or on the ground (NEC 690.8, 690.9,
    recalled).
    """
    job = v(_elsewhere(puppet, parallel, alone=alone), "roof.remote[RA1].module.reverse_a", reverse_a)
    design = derive(job)
    (guard,) = design.protection
    on_roof = [] if alone else [(13.8, 25.0)] * 2
    every = on_roof + [(13.8, reverse_a)] * parallel
    feeds = [(1.25 * (sum(isc for isc, _ in every) - isc), stands) for isc, stands in every]
    assert guard.back_a.value == pytest.approx(max(feeds, key=lambda one: one[0] / one[1])[0])
    assert (guard.fuse_a is not None) == any(back > stands for back, stands in feeds)
    assert guard.isolator_a.value == pytest.approx(1.25 * sum(isc for isc, _ in every))
    assert (
        (guard.cable is None) == alone and "RA1" in guard.beside and any("Ground array" in one for one in guard.labels)
    )
    assert bool(told(job, "roof.isc-over-controller")) == (
        1.25 * 13.8 * len(every) > puppet.roof.controllers[0].spec.max_isc_a
    )
    # 1.56 x 13.8 A asks for a fuse of 25 A: modules that stand less cannot be fused at all.
    assert bool(told(job, "roof.string-fuse-too-large")) == (guard.fuse_a is not None and guard.reverse_a.value < 25)
    for one in told(job, "roof.string-fuses"):
        assert "RA1" in one.tags and guard.weakest in one.sentence()


@pytest.mark.parametrize(("limit_v", "stopped"), [(100.0, True), (133.0, False), (600.0, False)])
def test_an_array_elsewhere_stays_under_its_own_insulation(puppet, limit_v, stopped):
    """Three modules reach 131-132 V at -20 C: their insulation counts as well as the controller's 150 V."""
    job = v(_elsewhere(puppet, 1), "roof.remote[RA1].module.system_limit_v", limit_v)
    found = told(job, "roof.remote-over")
    assert bool(found) is stopped and all("insulation" in one.sentence() for one in found)
    both = told(v(job, "roof.controllers[CC1].spec.max_pv_v", 90.0), "roof.remote-over")
    assert len(both) == 1 + stopped


@pytest.mark.parametrize(
    ("first", "second", "unlike"),
    [((), (), True), (("ST1",), (), True), (("ST1",), ("ST2",), False), (("ST1", "ST2"), ("ST2",), True)],
)
def test_two_arrays_on_one_input_quarrel_only_where_they_meet(library_bus, first, second, unlike):
    stays = {"ST1": library_bus.stays[0].tag, "ST2": library_bus.stays[1].tag}
    job = _elsewhere(library_bus, 1, alone=True)
    one = job.roof.remote[0]
    arrays = (
        replace(one, series=2, stays=tuple(stays[tag] for tag in first)),
        replace(one, tag="RA2", series=3, stays=tuple(stays[tag] for tag in second)),
    )
    found = told(replace(job, roof=replace(job.roof, remote=arrays)), "roof.remote-beside-roof")
    assert [set(hit.tags) >= {"RA1", "RA2"} for hit in found] == [True] * unlike
    alike = tuple(replace(array, series=2) for array in arrays)
    assert not told(replace(job, roof=replace(job.roof, remote=alike)), "roof.remote-beside-roof")


@pytest.mark.parametrize("where", ["ground", "trailer", "building"])
@pytest.mark.parametrize("parallel", [1, 2, 6])
def test_arrays_elsewhere_charge_the_bank_too(clinic, where, parallel):
    """What a controller gives rises with every array on it, to its rating and no further; on the road only a trailer's
    counts.
    """
    job = v(_elsewhere(clinic, parallel, where=where), "roof.controllers[CC1].spec.output_a", 80.0)
    before, after = derive(v(clinic, "roof.controllers[CC1].spec.output_a", 80.0)).charging, derive(job).charging
    alone_w, array_w = sum(440 for one in clinic.roof.modules if one.string in ("S1", "S2")), 440 * 3 * parallel
    added = min(80.0, (alone_w + array_w) / 48) - min(80.0, alone_w / 48)
    old = {mix.name: mix.total_a.value for mix in before.mixes}
    gained = {mix.name: mix.total_a.value - old[mix.name] for mix in after.mixes}
    on_road = added if where == "trailer" else 0.0
    assert added > 0 and gained == pytest.approx(
        {
            "Parked in sun": added,
            "Hooked up, night": 0.0,
            "Hooked up in sun": added,
            "Driving in sun": on_road,
            "Hooked up, engine running": added,
        },
        abs=1e-9,
    )


def test_arrays_elsewhere_are_told_of_over_60_v_and_where_the_top_is_cut(puppet):
    """With nothing on the roof the array alone is over 60 V; with more of it the controller cuts."""
    alone = _elsewhere(puppet, 1, alone=True)
    assert [one.tags for one in told(alone, "roof.over-60-v")] == [("RA1",)] and not told(alone, "roof.clipping")
    (cut,) = told(_elsewhere(puppet, 3, alone=True), "roof.clipping")
    # 3,600 W of modules through dirt, wiring, mismatch and controller.
    assert "3.19 kW" in cut.sentence().replace("\u00a0", " ")
    assert not told(v(alone, "roof.remote[RA1].series", 1), "roof.over-60-v")


def test_one_fuse_for_all_is_no_larger_than_the_weakest_module_stands(puppet):
    """The ground array's modules stand less than the fuse that the others' current asks for: it is a Stop whichever
    string gets most back.
    """
    for reverse_a, stopped in ((20.0, True), (25.0, False)):
        job = v(
            v(_elsewhere(puppet, 2), "roof.remote[RA1].module.reverse_a", reverse_a),
            "roof.remote[RA1].module.isc_a",
            13.0,
        )
        found = told(job, "roof.string-fuse-too-large")
        assert bool(found) is stopped and all("20 A" in one.sentence().replace("\u00a0", " ") for one in found)
