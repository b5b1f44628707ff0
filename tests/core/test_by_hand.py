"""Parts of the design a second time: by a calendar laid out day by day, minute by minute, by Monte Carlo, by fixed points, by hand."""

from __future__ import annotations

import itertools
import random

import numpy as np
import pytest
from msgspec.structs import replace

from weighty_axle.design.brief.equipment import equipment
from weighty_axle.design.brief.peaks import coincidence, honest_peak
from weighty_axle.design.brief.run_together import run_together
from weighty_axle.design.derive import derive
from weighty_axle.design.inverters.ac_wiring import ac_wiring, live_circuits
from weighty_axle.design.inverters.balance import balanced
from weighty_axle.design.inverters.faults import far_end
from weighty_axle.design.roof.geometry import boxes_meet, flat_box, module_box, service_box
from weighty_axle.design.roof.shade import sample_points
from weighty_axle.design.roof.yields import home, remote_day_wh
from weighty_axle.exports.data.figures import working_lines
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.bank import set_pack, set_pack_count
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import add_inlet, add_panel, remove_part, set_arrangement
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.files.store import encode
from weighty_axle.job.models.brief import ALL_YEAR, Existing, Load, Span, Stay
from weighty_axle.job.models.document import items
from weighty_axle.job.models.roof import Lane, Module, Obstacle
from weighty_axle.reference import tables
from weighty_axle.units import show


def v(job, path, value):
    return set_value(path, value, "").apply(job)


# ---- the year ----


@pytest.mark.parametrize("seed", range(12))
def test_the_year_against_a_calendar(library_bus, seed):
    """Every day of the year written down: what kind it is, whether a plug is there, how far one drives."""
    dice = random.Random(seed)
    kinds, plugs = [kind.tag for kind in library_bus.day_kinds], [source.tag for source in library_bus.inverters.sources]
    stays, day = [], 1 + dice.randrange(20)
    while day < 340 and len(stays) < 14:
        days = dice.randint(1, 40)
        if day + days > 366:
            break
        stays.append(
            Stay(
                tag=f"ST{len(stays) + 1}", place=f"Place {len(stays)}", latitude_deg=45.0, longitude_deg=0.0, height_m=10.0, first_day=day, days=days,
                day_kind=dice.choice(kinds), source=dice.choice(["", "", *plugs]), driven_h=dice.choice([0.0, 0.5, 3.0]),
            )
        )  # fmt: skip
        day += days + dice.choice([0, 0, 3])
    dice.shuffle(stays)
    year = derive(replace(library_bus, stays=tuple(stays))).itinerary
    calendar = {day: stay for stay in stays for day in range(stay.first_day, stay.first_day + stay.days)}
    uses = {kind.tag: kind.use for kind in library_bus.day_kinds}
    assert year.days_of_kind == {kind: sum(stay.day_kind == kind for stay in calendar.values()) for kind in kinds}
    without = [day in calendar and not calendar[day].source and uses[calendar[day].day_kind] != "stored" for day in range(1, 366)]
    assert year.off_grid_days.value == sum(without) and year.planned_days.value == len(calendar)
    assert year.longest_off_grid_days.value == max((len(list(run)) for alone, run in itertools.groupby(without) if alone), default=0)
    assert year.driven_h.value == pytest.approx(sum(stay.driven_h for stay in calendar.values()))


# ---- loads ----


@pytest.mark.parametrize("seed", range(6))
def test_steady_loads_minute_by_minute(puppet, seed):
    """Loads that do not cycle need no drawing: every drawn day is the painted one, standby in the gaps, minute by minute."""
    dice = random.Random(seed)
    loads = []
    for at in range(5):
        cuts = sorted(dice.sample(range(0, 1440, 5), 4))
        spans = tuple(Span(a, b, dice.choice([0.5, 1.0])) for a, b in (cuts[:2], cuts[2:]))
        loads.append(
            Load(
                tag=f"LD{at}", name=f"Thing {at}", supply="AC" if at % 2 else "DC_24", power_factor=1.0, running_w=float(dice.randint(20, 900)), count=dice.randint(1, 3),
                standby_w=float(dice.choice([0, 0, 4])), patterns={"SHOW": spans}, seasons=ALL_YEAR,
            )
        )  # fmt: skip
    design = derive(replace(v(puppet, "ac.circuits", ()), loads=tuple(loads)))
    minutes = np.zeros((2, 1440))
    for load in loads:
        own = np.full(1440, load.standby_w * load.count)
        for span in load.patterns["SHOW"]:
            own[span.start_min : span.end_min] = load.running_w * load.count * span.level
        minutes[int(load.supply == "AC")] += own
    got = coincidence(design, "SHOW")
    assert got.all_feeds.mean_w == pytest.approx(minutes.sum(axis=0)[::5]) and got.all_feeds.p95_w == pytest.approx(got.all_feeds.mean_w)
    assert honest_peak(design, "SHOW").value == pytest.approx(minutes[1].max()) == pytest.approx(design.brief.days["SHOW"].peak_ac_w.value)
    assert design.brief.days["SHOW"].ac_energy_wh.value == pytest.approx(minutes[1].sum() / 60)
    assert design.brief.days["SHOW"].dc_energy_wh.value == pytest.approx(minutes[0].sum() / 60)


@pytest.mark.parametrize("switch", [True, False])
@pytest.mark.parametrize("remote", [True, False])
@pytest.mark.parametrize("must_run", [True, False])
def test_what_a_sleeping_vehicle_takes(puppet, switch, remote, must_run):
    """By hand: packs always, a load by its standby, without one by its mean power if it must run; inverters off only where something turns them off."""
    cooler = Load(tag="CL", name="Cooler", supply="DC_24", power_factor=1.0, running_w=60.0, count=3, duty=0.25, must_run=must_run, patterns={})
    lamp = Load(tag="LP", name="Lamps", supply="DC_24", power_factor=1.0, running_w=10.0, count=2, standby_w=0.5, must_run=must_run, patterns={})
    job = replace(v(v(puppet, "ac.circuits", ()), "ac.storage.switch", switch), loads=(cooler, lamp))
    job = v(v(job, "inverters.remote_switch", remote), "ac.storage.alive", ("CL",))
    took = {one.tag: one for one in derive(job).storage.sleepers}
    assert ("CL" in took) is must_run and (not must_run or (took["CL"].watts == pytest.approx(60 * 3 * 0.25) and took["CL"].alive))
    assert took["LP"].watts == pytest.approx(0.5 * 2) and took["LP"].alive is not switch
    unit = job.inverters.units[0].tag
    assert took[unit].watts == (job.inverters.spec.off_w if switch or remote else job.inverters.spec.no_load_w)
    assert took[unit].alive is not switch
    packs = sum(not one.out for one in job.bank.packs)
    expected = job.ac.storage.pack_w * packs + sum(one.watts for tag, one in took.items() if one.alive and tag != job.bank.packs[0].tag)
    assert derive(job).storage.alive_w.value == pytest.approx(expected)


# ---- AC ----


@pytest.mark.parametrize("seed", range(10))
def test_legs_move_only_for_a_gain(clinic, seed):
    """From any legs: never worse on the worst line, the bound never above it, and a second go finds nothing to move."""
    dice = random.Random(seed)
    job = clinic
    for circuit in clinic.ac.circuits:
        if circuit.leg in ("L1", "L2"):
            job = v(job, f"ac.circuits[{circuit.tag}].leg", dice.choice(["L1", "L2"]))
    got = balanced(derive(job))
    assert got.after_va.value <= got.before_va.value + 1e-6 and got.bound_va.value <= got.after_va.value + 1e-6
    if got.edit is None:
        assert (got.after_va.value, got.neutral_after_va.value) == (got.before_va.value, got.neutral_before_va.value)
        return
    better_line, better_neutral = got.after_va.value < got.before_va.value - 1e-3, got.neutral_after_va.value < got.neutral_before_va.value - 1e-3
    assert better_line or better_neutral
    moved = got.edit.apply(job)
    again = balanced(derive(moved))
    assert again.edit is None and again.before_va.value == pytest.approx(got.after_va.value, abs=0.1)
    assert again.neutral_before_va.value == pytest.approx(got.neutral_after_va.value, abs=0.1)


@pytest.mark.parametrize(
    ("feed", "stacking", "lines"),
    [("L1", "split_phase", ("L1",)), ("L2", "split_phase", ("L2",)), ("L1+L2", "split_phase", ("L1", "L2")), ("AC", "split_phase", ("L1",)), ("open", "split_phase", ("L1",))],
)  # fmt: skip
def test_loads_without_a_circuit_hang_where_they_are_fed(clinic, feed, stacking, lines):
    load = replace(clinic.loads[0], circuit="")
    wired = live_circuits(replace(clinic.ac, circuits=()), (load,), {load.tag: feed}, v(clinic, "inverters.stacking", stacking).inverters)
    assert [one.lines for one in wired] == [lines]


@pytest.mark.parametrize(("legs", "expected"), [(1, 2), (2, 2), (3, 3)])
def test_the_inlet_nobody_stated_has_a_pin_for_every_line(clinic, legs, expected):
    sources = tuple(replace(one, legs=legs, legs_in_phase=False) for one in clinic.inverters.sources)
    made = ac_wiring(replace(clinic.ac, inlets=()), replace(clinic.inverters, sources=sources))
    assert [one.lines for one in made.inlets] == [expected]
    assert made.inlets[0].amps == max(one.amps for one in sources)


@pytest.mark.parametrize(("running_w", "start_multiple"), [(200.0, 1.0), (900.0, 3.0), (1500.0, 5.0)])
@pytest.mark.parametrize("loop_ohm", [0.2, 0.9])
def test_the_far_end_by_a_fixed_point(puppet, running_w, start_multiple, loop_ohm):
    """One panel, one motor: volts behind a resistance, constant power by iteration, the start as an impedance of power factor 0.4 (common practice, no source)."""
    motor = Load(
        tag="MO",
        name="Motor",
        supply="AC",
        power_factor=0.8,
        running_w=running_w,
        start_multiple=start_multiple,
        circuit="CK1",
        patterns={"SHOW": (Span(0, 1440, 1.0),)},
    )
    job = replace(puppet, loads=(motor,), ac=replace(puppet.ac, circuits=puppet.ac.circuits[:1], panels=puppet.ac.panels[:1]))
    job = v(job, "inverters.sources[P16].loop_ohm", loop_ohm)
    design = derive(job)
    source = next(one for one in job.inverters.sources if one.tag == "P16")
    got = far_end(design, source)
    panel = design.ac.panels[0]
    ohm = loop_ohm + 2 * panel.length_m * design.panels.panels[0].drop_share.inputs[1].value
    va, start_va = design.panels.circuits[0].running_a.value * 230.0, running_w / motor.power_factor * (start_multiple - 1)

    def settled(extra_va):
        volts = 230.0 + 0j
        for _ in range(400):
            amps = np.conj(va / volts)
            if extra_va:
                amps += volts / (230.0**2 / np.conj(extra_va * (0.4 + 1j * np.sqrt(1 - 0.16))))
            volts = 0.5 * volts + 0.5 * (230.0 - ohm * amps)
        return abs(volts)

    assert got.running_v.value == pytest.approx(settled(0.0), abs=0.05)
    assert got.starting_v.value == pytest.approx(settled(start_va), abs=0.1)
    assert got.starting_v.value <= got.running_v.value + 1e-9


# ---- roof ----


@pytest.mark.parametrize("seed", range(8))
def test_boxes_meet_where_points_do(seed):
    """Two things on a roof by 4,000 points: some point lies in both, or none does; thin touches are neither asked nor answered."""
    dice = np.random.default_rng(seed)
    one = Obstacle(
        tag="A",
        name="A",
        x_m=2.0,
        y_m=0.0,
        length_m=float(dice.uniform(0.2, 1.5)),
        width_m=float(dice.uniform(0.2, 1.5)),
        height_m=0.2,
        service_m=0.3,
    )
    for _ in range(30):
        lane = Lane(tag="B", name="B", x_m=float(dice.uniform(0, 4)), y_m=float(dice.uniform(-1.2, 1.2)), length_m=0.8, width_m=0.4)
        x, y = dice.uniform(-1, 5, 4000), dice.uniform(-2.5, 2.5, 4000)
        for box, around in ((flat_box(one), 0.0), (service_box(one), one.service_m)):
            inside = (abs(x - one.x_m) < one.length_m / 2 + around) & (abs(y - one.y_m) < one.width_m / 2 + around)
            both = inside & (abs(x - lane.x_m) < lane.length_m / 2) & (abs(y - lane.y_m) < lane.width_m / 2)
            if both.any():
                assert boxes_meet(box, flat_box(lane))
        edge_x = max(0.0, abs(lane.x_m - one.x_m) - (one.length_m + lane.length_m) / 2)
        edge_y = max(0.0, abs(lane.y_m - one.y_m) - (one.width_m + lane.width_m) / 2)
        assert boxes_meet(flat_box(one), flat_box(lane)) == (edge_x == 0 and edge_y == 0) or min(edge_x, edge_y) < 0.002


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("sections", [1, 2, 3, 6])
def test_sample_points_lie_evenly_in_their_own_section(clinic, turned, sections):
    """Sections are strips side by side across the short side; their points fill them evenly: the middle of the points is the middle of the strip."""
    spec = clinic.roof.module
    box = module_box(Module(tag="M", x_m=3.0, y_m=0.4, turned=turned), spec)
    points = sample_points(Module(tag="M", x_m=3.0, y_m=0.4, turned=turned), box, sections)
    long, short, long_0, short_0 = (points.y_m, points.x_m, box[2], box[0]) if turned else (points.x_m, points.y_m, box[0], box[2])
    wide = spec.width_m / sections
    for section in range(sections):
        own = points.section == section
        assert ((short[own] > short_0 + section * wide) & (short[own] < short_0 + (section + 1) * wide)).all()
        assert short[own].mean() == pytest.approx(short_0 + (section + 0.5) * wide) and long[own].mean() == pytest.approx(long_0 + spec.length_m / 2)
        # Evenly spread points have the variance of a strip, less that of a cell's quarter.
        assert np.ptp(long[own]) == pytest.approx(spec.length_m * (1 - 0.5 / 12)) and len(set(np.round(long[own], 9))) == 24


@pytest.mark.parametrize(
    ("where", "tilt", "hot"), [("trailer", 0.0, True), ("trailer", 30.0, False), ("ground", 0.0, False), ("building", 0.0, False)]
)
def test_only_a_flat_trailer_roof_is_as_hot_as_the_roof(puppet, where, tilt, hot):
    """Flush modules run hotter than open racks: lower voltage, less energy. Source of the 25 K of open racks: common practice, no source."""
    job = add_remote("CC1").apply(v(puppet, "roof.rise_c", 38.0))
    array = replace(job.roof.remote[0], where=where, tilt_deg=tilt)
    job = replace(job, roof=replace(job.roof, remote=(array,)))
    as_cool = v(job, "roof.rise_c", 25.0)
    for one in (job, as_cool):
        spec, cell_c = array.module, one.site.design_high_c + (one.roof.rise_c if hot else 25.0)
        by_hand = array.series * min(spec.vmp_v + spec.voc_v * spec.voc_per_c * (cell_c - 25), spec.vmp_v * (1 + spec.pmp_per_c * (cell_c - 25)))
        assert derive(one).remote[0].hot_vmp_v.value == pytest.approx(by_hand)
    june = [remote_day_wh(design, array, home(design))[5].value for design in (derive(job), derive(as_cool))]
    assert (june[0] < 0.985 * june[1]) if hot else june[0] == pytest.approx(june[1])


# ---- voltages, settings ----


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_fuses_offered_at_every_voltage_break_what_they_must(request, name):
    """Every kind told for 12, 24 and 48 V against its own datasheet row; none that would do is left out."""
    design = derive(request.getfixturevalue(name))
    for choice in design.voltages.choices:
        highest = {12: 4, 24: 8, 48: 16}[choice.volts] * 3.65
        fits = {
            kind.name
            for kind in tables.fuse_kinds().values()
            if kind.volts >= highest and kind.breaks_a >= choice.prospective_a.value and kind.largest_a >= choice.fuse_a.value
        }
        assert set(choice.fuses) == fits
        assert set(choice.isolators) == {
            one.name for one in tables.isolators().rows if one.volts >= highest and one.amps >= choice.continuous_a.value
        }


@pytest.mark.parametrize(("full", "cell_v"), [("gentle", 3.5), ("brim", 3.6)])
def test_the_monitor_by_hand(clinic, full, cell_v):
    """Charged voltage 30 mV a cell under full charge, tail 3 % of capacity (common practice, no source)."""
    points = {one.key: one for one in derive(v(clinic, "settings.full_charge", full)).settings.points}
    assert points["monitor_charged_v"].value == pytest.approx(round(16 * (cell_v - 0.03), 1))
    assert points["monitor_tail_a"].value == 18 and points["monitor_capacity_ah"].value == 600


@pytest.mark.parametrize("limit_a", [0.1, 4.0, 500.0])
@pytest.mark.parametrize("stacking", ["split_phase", "legs_in_phase", "one_two_legs", "independent", "parallel"])
def test_a_source_and_the_bank_share_what_runs(clinic, stacking, limit_a):
    """Energy: what the source gives and the bank adds is what the loads and the inverters take; nothing coming in, it is the bank alone, plenty, none of it."""
    spec = next(
        one for one in tables.inverters().rows if (one.lines == 2) == (stacking == "one_two_legs") and one.dc_min_v > 30 and one.ac_v in (120, 240)
    )
    job = set_arrangement(spec, 2, stacking).apply(clinic)
    source = replace(
        job.inverters.sources[0],
        amps=600.0,
        limit_a=limit_a,
        legs=1 if stacking in ("parallel", "independent") else 2,
        legs_in_phase=stacking == "legs_in_phase",
    )
    job = replace(
        job, inverters=replace(job.inverters, sources=(source,)), ac=replace(job.ac, inlets=tuple(replace(one, amps=600.0) for one in job.ac.inlets))
    )
    design = derive(job)
    everything = tuple(load.tag for load in job.loads if load.supply not in ("DC_12", "DC_24", "DC_48"))
    result = run_together(design, everything)
    (at,) = result.sources
    ac_w = result.running_w.value
    losses = next(one.value for one in at.bank_adds_w.inputs if one.name == "Inverter losses")
    if not design.sources[0].accepted:
        assert at.gives_w.value == 0
    dead_w = sum(load.running_w * load.count for load in job.loads if load.tag in at.dead)
    assert at.gives_w.value + at.bank_adds_w.value == pytest.approx(ac_w - dead_w + losses)
    alone = design.brief.curve
    least = len(job.inverters.units) * alone.loss_w((ac_w - dead_w) / len(job.inverters.units))
    if at.gives_w.value < 0.02 * ac_w:
        assert losses == pytest.approx(least, rel=0.35), "about what two units lose under all of it"
    if limit_a == 500.0 and design.sources[0].accepted and stacking != "independent":
        assert (at.bank_adds_w.value, losses) == (0, 0)


# ---- equipment on board ----


@pytest.mark.parametrize("kind", ["coach", "rigid_truck", "semi_trailer", "drawbar_trailer", "centre_axle_trailer"])
@pytest.mark.parametrize("found", ["tow_wire", "starting battery", "nothing"])
def test_what_keeps_up_the_battery_on_the_road(kind, found):
    """A trailer's tow wire gets a charger between; a starting battery its own; neither is invented where it is not (common practice, no source)."""
    loads = Existing(tag="E1", name="House lamps", kind="loads", nominal_v=12.0)
    more = {
        "tow_wire": (Existing(tag="E2", name="Wire", kind="tow_wire", nominal_v=12.0),),
        "starting battery": (Existing(tag="E2", name="Starter", kind="battery", nominal_v=12.0, ties_to="starter_battery"),),
        "nothing": (),
    }[found]
    feeds = {one.consumer: one for one in equipment((loads, *more), kind, 48).feeds}
    assert ("Bank, while towed" in feeds) == (found == "tow_wire" and "trailer" in kind)
    assert ("Starting battery" in feeds) == (found == "starting battery")
    assert "converter 48 to 12 V" in feeds["12 V house loads"].through


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
@pytest.mark.parametrize("load_w", [200.0, 2500.0, 9000.0])
def test_24_v_is_only_enough_where_one_conductor_one_fuse_and_one_switch_carry_it(request, name, load_w):
    job = request.getfixturevalue(name)
    result = derive(
        replace(job, inverters=replace(job.inverters, spec=replace(job.inverters.spec, continuous_va=load_w, surge_va=2 * load_w)))
    ).voltages
    choice = next(one for one in result.choices if one.volts == 24)
    one_of_each = choice.conductor is not None and choice.conductor.count == 1 and choice.fuses and choice.isolators and choice.fuse_a.value <= 300
    assert result.recommended == (24 if one_of_each else 48) and str(result.recommended) in result.reason


# ---- edits ----


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
@pytest.mark.parametrize("series", [1, 2, 4])
@pytest.mark.parametrize("pack", [one.name for one in tables.packs().rows])
def test_another_pack_keeps_the_strings(request, name, series, pack):
    """As many strings as before, each of the new number in series; tags stay, the first stands where it stood, the others close up without touching."""
    job = request.getfixturevalue(name)
    spec = next(one for one in tables.packs().rows if one.name == pack)
    changed = set_pack(spec, series).apply(job)
    strings = len(job.bank.packs) // job.bank.series
    tags, before = [one.tag for one in changed.bank.packs], [one.tag for one in job.bank.packs]
    assert len(tags) == len(set(tags)) == strings * series and tags[: len(before)] == before[: len(tags)]
    assert changed.bank.packs[0].place == job.bank.packs[0].place and changed.bank.spec == spec and changed.bank.series == series
    gaps = [after.place.x_m - one.place.x_m - spec.size.length_m for one, after in itertools.pairwise(changed.bank.packs)]
    assert all(0 < gap < 0.1 for gap in gaps), gaps
    assert replace(changed, bank=job.bank) == job, "nothing but the bank"


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_fewer_packs_and_more_again(request, name):
    job = request.getfixturevalue(name)
    for count in (1, 3, 9, 2, len(job.bank.packs)):
        changed = set_pack_count(count).apply(job)
        tags = [one.tag for one in changed.bank.packs]
        assert len(tags) == len(set(tags)) == count and changed.bank.packs[: min(count, len(job.bank.packs))] == job.bank.packs[:count]
        taken = {one.tag for one in items(replace(job, bank=replace(job.bank, packs=())))}
        assert not taken & set(tags), "a new pack takes nobody's tag"


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_what_goes_leaves_no_name_behind(request, name):
    """Any inlet, panel, circuit or selector taken away: the job is sound, nothing names it, and what it fed hangs on what fed it, or on the first inlet, or on the inverters."""
    job = request.getfixturevalue(name)
    job = add_inlet().apply(job)
    inlet = job.ac.inlets[-1].tag
    for feed in (inlet, job.ac.inlets[0].tag, "PNL1"):
        job = add_panel(feed).apply(job)
    ac = job.ac
    assert problems(job) == [] and [one.fed_from for one in ac.panels[-3:]] == [inlet, ac.inlets[0].tag, "PNL1"]
    before = {one.tag: one.fed_from for one in ac.panels}
    for part in (*ac.inlets, *ac.panels, *ac.circuits, *ac.selectors):
        left = remove_part(part.tag).apply(job)
        assert problems(left) == [], part.tag
        text = encode(replace(left, loads=tuple(replace(one, name="-") for one in left.loads))).decode()
        assert f'"{part.tag}"' not in text and f'"{part.tag}.' not in text, part.tag
        others = [one.tag for one in ac.inlets if one != part]
        for panel in left.ac.panels:
            was = before[panel.tag]
            if was != part.tag:
                assert panel.fed_from == was
            elif part in ac.panels:
                assert panel.fed_from == before[part.tag]
            else:
                assert panel.fed_from == (others[0] if part in ac.inlets else "INVERTERS")


@pytest.mark.parametrize("system", ["metric", "us"])
def test_a_working_as_lines_holds_all_of_it(clinic, system):
    """Name and value, formula, every input in its own unit, source, and what bounds it: copied out, nothing is lost."""
    bounded = 0
    for path, figure in derive(clinic).figures():
        lines = working_lines(figure, system)
        assert lines[0] == f"{figure.name}: {show(figure.value, figure.unit, system)}" and lines[1] == f"= {figure.formula}", path
        assert lines[2 : 2 + len(figure.inputs)] == [f"   {one.name} = {show(one.value, one.unit, system)}" for one in figure.inputs], path
        rest = lines[2 + len(figure.inputs) :]
        assert rest[0] == f"Source: {figure.source}" and len(figure.source) > 3 and len(rest) == 1 + bool(figure.limit), path
        if figure.limit:
            bounded += 1
            assert rest[1].casefold() == figure.limit.casefold() and rest[1][:1] == rest[1][:1].upper()
    assert bounded > 20
