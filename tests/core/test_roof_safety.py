"""Cables in the sun, fuses, windows of controllers and lining up: against the code's tables, by trying every count, and by laws that must hold."""

from __future__ import annotations

import math

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.design.roof.geometry import allowed_half_m, boxes_meet, flat_box, module_box, module_boxes, pull_m, rope_m, strays
from weighty_axle.design.roof.protection import STRING_FUSES_A, sun_cable_a
from weighty_axle.design.wiring.conductors import SUN_CABLE_C, ohm_per_m
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.models.roof import Module, Obstacle, Roof, String
from weighty_axle.rules.judge import judge


def v(job, path, value):
    return set_value(path, value, "").apply(job)


def told(job, rule):
    return [one for one in judge(derive(job)) if one.rule.id == rule]


# ---- cable ----


@pytest.mark.parametrize(("size", "table_a"), [("14 AWG", 25), ("12 AWG", 30), ("10 AWG", 40), ("8 AWG", 55), ("6 AWG", 75), ("2 AWG", 130)])
def test_cable_in_the_sun_against_the_code(size, table_a):
    """NEC (NFPA 70) 2023: table 310.16, copper, 90 °C, × 0.58 of table 310.15(B)(1)(1) for 66-70 °C. Recalled."""
    assert sun_cable_a(size, "enclosed_awg").value == pytest.approx(table_a * 0.58, rel=0.006)


@pytest.mark.parametrize(
    ("size", "ohm_per_1000_ft"), [("18 AWG", 7.95), ("14 AWG", 3.14), ("12 AWG", 1.98), ("10 AWG", 1.24), ("6 AWG", 0.491), ("4/0 AWG", 0.0608)]
)
def test_hot_copper_against_the_code(size, ohm_per_1000_ft):
    """NEC (NFPA 70) 2023 chapter 9 table 8, stranded uncoated copper at 75 °C. Recalled."""
    assert ohm_per_m(size, 75.0) * 304.8 == pytest.approx(ohm_per_1000_ft, rel=0.02)


@pytest.mark.parametrize("size", ["thick", "4.2 mm2", "10", "AWG 10", ""])
def test_a_size_in_no_table_is_never_judged_in_silence(puppet, size):
    """A drop of nothing would look good: the rule stops at it, on the roof and on the way to it."""
    job = add_remote("CC1").apply(puppet)
    assert not told(job, "roof.cable-unknown")
    assert math.isnan(ohm_per_m(size)) and sun_cable_a(size, "small_craft_awg") is None
    if size:
        assert [one.rule.severity for one in told(v(puppet, "roof.cable", size), "roof.cable-unknown")] == ["stop"]
        (far,) = told(v(job, "roof.remote[RA1].size", size), "roof.cable-unknown")
        assert far.tags == ("RA1",) and size in far.sentence()


@pytest.mark.parametrize("size", ["10 AWG", "6 mm2", "4 mm2", "14 AWG"])
def test_what_the_roof_cable_loses_is_what_heats_it(clinic, size):
    """Energy: share lost × volts × amps of the string = I² R of its loop, its metres counted out and back."""
    design = derive(v(clinic, "roof.cable", size))
    for guard in design.protection:
        own = [one for one in design.roof.strings if one.controller == guard.controller]
        length = max(rope_m(clinic.roof, guard.controller, one.modules) for one in own)
        spec, count = clinic.roof.module, len(own[0].modules)
        heat_w = spec.imp_a**2 * length * ohm_per_m(size, SUN_CABLE_C)
        assert guard.cable.drop_share.value * count * spec.vmp_v * spec.imp_a == pytest.approx(heat_w)
        assert guard.cable.length_m.value == length > 0


@pytest.mark.parametrize(
    ("parallel", "size", "small"), [(1, "14 AWG", True), (1, "10 AWG", False), (2, "10 AWG", True), (2, "6 AWG", False), (4, "6 AWG", True)]
)
def test_cables_to_arrays_elsewhere_carry_what_they_must(puppet, parallel, size, small):
    """1.56 × Isc of all strings side by side (NEC 690.8(B), recalled) in the sun: 13.9 A asks for 21.7 A, of two 43.4 A."""
    job = v(v(add_remote("CC1").apply(puppet), "roof.remote[RA1].parallel", parallel), "roof.remote[RA1].size", size)
    assert bool([one for one in told(job, "roof.cable-small") if one.tags == ("RA1",)]) is small


# ---- fuses ----


def _with_strings(job, count):
    """The clinic's roof with so many alike strings of one module on its first controller."""
    tag = job.roof.controllers[0].tag
    strings = tuple(String(tag=f"S{at + 1}", controller=tag) for at in range(count))
    modules = tuple(
        replace(one, string=f"S{at + 1}" if at < count else "") for at, one in enumerate(replace(one, string="") for one in job.roof.modules)
    )
    return replace(job, roof=replace(job.roof, strings=strings, modules=modules))


@pytest.mark.parametrize("count", range(1, 7))
@pytest.mark.parametrize("reverse_a", [15.0, 20.0, 25.0, 30.0])
def test_string_fuses_where_the_others_could_burn_a_module(clinic, count, reverse_a):
    """Fault: all other strings feed one. NEC 690.9(A), (B), recalled; ratings IEC 60269-6, recalled. Never asked for with one or two alike strings under the limit."""
    job = v(_with_strings(clinic, count), "roof.module.reverse_a", reverse_a)
    (guard,) = derive(job).protection
    isc = job.roof.module.isc_a
    fed_a = sum(1.25 * isc for _ in range(count - 1))
    assert guard.back_a.value == pytest.approx(fed_a)
    assert (guard.fuse_a is not None) == (fed_a > reverse_a)
    if guard.fuse_a is not None:
        rating = guard.fuse_a.value
        assert rating in STRING_FUSES_A and rating >= 1.56 * isc
        assert not [one for one in STRING_FUSES_A if 1.56 * isc <= one < rating], "no smaller one would do"
        assert bool(guard.fuse_a.limit) == (rating > reverse_a), "a fuse above the module's own limit protects nothing, and it is said"


# ---- windows ----


@pytest.mark.parametrize(
    ("start_margin", "start_v", "told"), [(5.0, None, None), (9.0, None, "roof.start-never"), (5.0, 30.0, "roof.start-never"), (20.0, 18.0, None)]
)
def test_starting_and_going_on_are_two_things(puppet, start_margin, start_v, told):
    """The commonest array of a 12 V class bank, one module of 36 cells: common practice, no source. By hand: it opens at 21.4 V at 31 °C and starts a full
    bank of 14.0 V with 5 V over it; on hot cells its peak is at 14.9 V and it is open at 18.9 V: it goes on, beside its peak, and nothing is a Stop.
    """
    module = replace(puppet.roof.module, voc_v=21.8, vmp_v=17.8, isc_a=9.6, imp_a=9.0, pmp_w=160.0, voc_per_c=-0.0030, pmp_per_c=-0.0040)
    bank = replace(puppet.bank, spec=replace(puppet.bank.spec, cells_in_series=4))
    spec = replace(puppet.roof.controllers[0].spec, start_margin_v=start_margin, start_v=start_v)
    roof = replace(
        puppet.roof, module=module, more_modules=(), modules=(replace(puppet.roof.modules[0], string="S1", kind=""),), strings=(puppet.roof.strings[0],),
        controllers=(replace(puppet.roof.controllers[0], spec=spec),), remote=(),
    )  # fmt: skip
    design = derive(replace(puppet, bank=bank, roof=roof))
    (string,) = design.roof.strings
    assert (string.dawn_voc_v.value, string.hot_voc_v.value, string.hot_vmp_v.value) == pytest.approx((21.41, 19.25, 15.03), abs=0.01)
    stops = [one.rule.id for one in judge(design) if one.rule.severity == "stop" and one.rule.id.startswith("roof.")]
    assert stops == ([told] if told else [])


@pytest.mark.parametrize("record_low_c", [-45.0, -30.0, -10.0, 5.0])
@pytest.mark.parametrize("max_pv_v", [100.0, 150.0, 250.0, 450.0])
def test_counts_in_series_by_trying_every_one(clinic, record_low_c, max_pv_v):
    """A count is inside exactly when neither the cold nor the hot rule speaks of the string made that long."""
    job = v(v(clinic, "site.record_low_c", record_low_c), "roof.controllers[CC1].spec.max_pv_v", max_pv_v)
    window = derive(job).roof.controllers[0]
    strings = tuple(String(tag=f"S{at}", controller="CC1") for at in (1,))
    for count in range(1, len(job.roof.modules) + 1):
        modules = tuple(replace(one, string="S1" if at < count else "") for at, one in enumerate(job.roof.modules))
        design = derive(replace(job, roof=replace(job.roof, strings=strings, modules=modules)))
        (string,) = design.roof.strings
        stands = string.cold_voc_v.value <= min(max_pv_v, job.roof.module.system_limit_v)
        starts = string.hot_vmp_v.value >= window.run_v.value and string.dawn_voc_v.value >= window.start_v.value
        assert stands == (count <= window.most_in_series) and starts == (count >= window.fewest_in_series), count
        fired = {one.rule.id for one in judge(design)}
        assert ("roof.cold-over-controller" in fired) == (string.cold_voc_v.value > max_pv_v)


@settings(max_examples=20)
@given(low=st.floats(-55, 20), colder=st.floats(0.1, 20))
@example(low=-40.0, colder=2.0)  # where the code's table ends
def test_colder_never_means_less_voltage(clinic, low, colder):
    warm, cold = (derive(v(clinic, "site.record_low_c", at)).roof.strings[0] for at in (low, max(-60.0, low - colder)))
    assert cold.cold_voc_v.value >= warm.cold_voc_v.value - 1e-9
    assert warm.cold_voc_v.value >= max(warm.cold_voc_linear_v.value, warm.cold_voc_code_v.value) - 1e-9


# ---- lining up ----

PLACES = st.tuples(st.floats(0.5, 9.5), st.floats(-0.9, 0.9))


def _roof_of(job, places, obstacle) -> Roof:
    modules = tuple(Module(tag=f"PV{at + 1}", x_m=x, y_m=y) for at, (x, y) in enumerate(places))
    box = Obstacle(tag="OB1", name="Hatch", x_m=obstacle[0], y_m=obstacle[1], length_m=0.6, width_m=0.6, height_m=0.1)
    return replace(job.roof, modules=modules, strings=(), obstacles=(box,))


@given(places=st.lists(PLACES, min_size=1, max_size=5), obstacle=PLACES, reach=st.floats(0.01, 0.1))
def test_pulling_stays_in_reach_and_lines_up(puppet, places, obstacle, reach):
    roof = _roof_of(puppet, places, obstacle)
    box = module_box(roof.modules[0], roof.module)
    by = pull_m(roof, box, frozenset({"PV1"}), reach)
    assert all(abs(one) < reach for one in by)
    there = (box[0] + by[0], box[1] + by[0], box[2] + by[1], box[3] + by[1])
    marks = [other for tag, other in module_boxes(roof).items() if tag != "PV1"] + [flat_box(one) for one in roof.obstacles]
    half = min(allowed_half_m(roof, x) for x in box[:2])
    ends = ((roof.start_m + roof.margin_m, roof.end_m - roof.margin_m), (-half, half))
    for axis, (low, high) in enumerate(ends):
        own = there[2 * axis : 2 * axis + 2]
        sides = [one[2 * axis : 2 * axis + 2] for one in marks]
        near = [own[0] - low, own[1] - high]
        for one in sides:
            near += [sum(one) / 2 - sum(own) / 2, own[0] - one[1] - roof.gap_m, one[0] - own[1] - roof.gap_m]
        nearest = min(map(abs, near))
        assert nearest < 1e-9 or (by[axis] == 0 and nearest >= reach - 1e-9)


@given(x=st.floats(1.2, 4.2), y=st.floats(-0.58, -0.56), shift=st.floats(-0.019, 0.015), axis=st.integers(0, 1))
def test_a_module_pulled_beside_another_keeps_the_gap(puppet, x, y, shift, axis):
    """Set down nearly beside a module, too near or too far, it ends at least one gap away, and stays on the roof."""
    roof = _roof_of(puppet, [(x, y), (x, y)], (x, 20.0))
    fixed = module_box(roof.modules[1], roof.module)
    length = fixed[2 * axis + 1] - fixed[2 * axis] + roof.gap_m + shift
    moved = tuple(side + (length if at // 2 == axis else 0.0) for at, side in enumerate(fixed))
    by = pull_m(roof, moved, frozenset({"PV1"}), 0.04)
    there = tuple(side + by[at // 2] for at, side in enumerate(moved))
    assert there[2 * axis] - fixed[2 * axis + 1] >= roof.gap_m - 1e-9
    assert not boxes_meet(there, fixed) and not strays(roof, there)


# ---- arrays elsewhere at their input ----


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
    """Every string feeds into the weakest one, whether it lies on the roof or on the ground (NEC 690.8, 690.9, recalled)."""
    job = v(_elsewhere(puppet, parallel, alone=alone), "roof.remote[RA1].module.reverse_a", reverse_a)
    design = derive(job)
    (guard,) = design.protection
    on_roof = [] if alone else [(13.8, 25.0)] * 2
    every = on_roof + [(13.8, reverse_a)] * parallel
    feeds = [(1.25 * (sum(isc for isc, _ in every) - isc), stands) for isc, stands in every]
    assert guard.back_a.value == pytest.approx(max(feeds, key=lambda one: one[0] / one[1])[0])
    assert (guard.fuse_a is not None) == any(back > stands for back, stands in feeds)
    assert guard.isolator_a.value == pytest.approx(1.25 * sum(isc for isc, _ in every))
    assert (guard.cable is None) == alone and "RA1" in guard.beside and any("Ground array" in one for one in guard.labels)
    assert bool(told(job, "roof.isc-over-controller")) == (1.25 * 13.8 * len(every) > puppet.roof.controllers[0].spec.max_isc_a)
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
    ("first", "second", "unlike"), [((), (), True), (("ST1",), (), True), (("ST1",), ("ST2",), False), (("ST1", "ST2"), ("ST2",), True)]
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
    """What a controller gives rises with every array on it, to its rating and no further; on the road only a trailer's counts."""
    job = v(_elsewhere(clinic, parallel, where=where), "roof.controllers[CC1].spec.output_a", 80.0)
    before, after = derive(v(clinic, "roof.controllers[CC1].spec.output_a", 80.0)).charging, derive(job).charging
    alone_w, array_w = sum(440 for one in clinic.roof.modules if one.string in ("S1", "S2")), 440 * 3 * parallel
    added = min(80.0, (alone_w + array_w) / 48) - min(80.0, alone_w / 48)
    old = {mix.name: mix.total_a.value for mix in before.mixes}
    gained = {mix.name: mix.total_a.value - old[mix.name] for mix in after.mixes}
    on_road = added if where == "trailer" else 0.0
    assert added > 0 and gained == pytest.approx(
        {
            "Parked in sun": added, "Hooked up, night": 0.0, "Hooked up in sun": added, "Driving in sun": on_road, "Hooked up, engine running": added,
        },
        abs=1e-9,
    )  # fmt: skip


def test_one_fuse_for_all_is_no_larger_than_the_weakest_module_stands(puppet):
    """The ground array's modules stand less than the fuse that the others' current asks for: it is a Stop whichever string gets most back."""
    for reverse_a, stopped in ((20.0, True), (25.0, False)):
        job = v(v(_elsewhere(puppet, 2), "roof.remote[RA1].module.reverse_a", reverse_a), "roof.remote[RA1].module.isc_a", 13.0)
        found = told(job, "roof.string-fuse-too-large")
        assert bool(found) is stopped and all("20 A" in one.sentence().replace("\u00a0", " ") for one in found)


def test_arrays_elsewhere_are_told_of_over_60_v_and_where_the_top_is_cut(puppet):
    """With nothing on the roof the array alone is over 60 V; with more of it the controller cuts."""
    alone = _elsewhere(puppet, 1, alone=True)
    assert [one.tags for one in told(alone, "roof.over-60-v")] == [("RA1",)] and not told(alone, "roof.clipping")
    (cut,) = told(_elsewhere(puppet, 3, alone=True), "roof.clipping")
    # 3,600 W of modules through dirt, wiring, mismatch and controller.
    assert "3.19 kW" in cut.sentence().replace("\u00a0", " ")
    assert not told(v(alone, "roof.remote[RA1].series", 1), "roof.over-60-v")


# ---- lift ----


@pytest.mark.parametrize("where", ["ground", "building", "trailer"])
@pytest.mark.parametrize(("mass_kg", "width_m", "hardest"), [(6.0, 1.1, True), (30.0, 1.134, False), (6.0, 0.4, False)])
@pytest.mark.parametrize("speed_km_per_h", [80.0, 130.0])
def test_the_hardest_pull_of_what_goes_along(puppet, where, mass_kg, width_m, hardest, speed_km_per_h):
    """Lift less weight of each type by hand; a light module pulls harder than a large heavy one, one on the ground does not travel. Source of the air's density: ISA, 1.225 kg/m3."""
    light = replace(puppet.roof.module, name="Light", mass_kg=mass_kg, width_m=width_m)
    job = add_remote("CC1").apply(v(puppet, "roof.fixing.speed_km_per_h", speed_km_per_h))
    job = replace(job, roof=replace(job.roof, remote=(replace(job.roof.remote[0], module=light, where=where),)))
    stated, held = job.roof.fixing, derive(job).fixings
    air = (stated.speed_km_per_h + stated.headwind_km_per_h) / 3.6
    along = [puppet.roof.module] + [light] * (where == "trailer")
    net = [0.5 * 1.225 * air**2 * stated.lift_coefficient * one.length_m * one.width_m - 9.81 * one.mass_kg for one in along]
    assert held.pull_n.value == pytest.approx(max(0.0, *net) * stated.safety / stated.each, rel=1e-3)
    assert held.needed_count.value * stated.allowed_n >= max(net) * stated.safety - 1e-6
    assert held.needed_count.value == 4 or (held.needed_count.value - 1) * stated.allowed_n < max(net) * stated.safety
    assert held.lift_n.limit.startswith("Light") == (hardest and where == "trailer")
    assert held.foot_kg.value == pytest.approx(max(one.mass_kg for one in along) / stated.each)
