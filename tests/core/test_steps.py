"""Each step of the design by a second route: brute force, hand sums, limits and symmetry."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.design.roof.geometry import boxes_meet, flat_box, module_box
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import move, set_value
from weighty_axle.job.edits.inverters import set_stacking
from weighty_axle.job.edits.roof import move_on_roof, take_module_out
from weighty_axle.job.models.brief import Load, Span
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.roof import Module
from weighty_axle.job.stated import Place, Size
from weighty_axle.reference import tables
from weighty_axle.rules.judge import judge


def changed(job, **values):
    """Job with values set; dots of the path are written as double underscores."""
    for path, value in values.items():
        job = set_value(path.replace("__", "."), value, "").apply(job)
    return job


# ---- brief and inverters, minute by minute ----


def _minutes(job, kind):
    """Complex power of every feed in every minute of a day [VA], by a plain loop over loads."""
    design = derive(job)
    feeds = {name: np.zeros(1440, dtype=complex) for name in ("L1", "L2", "L1+L2", "AC", "DC")}
    for load in job.loads:
        phi = math.acos(load.power_factor)
        for span in load.patterns.get(kind, ()):
            power = load.running_w * load.count * span.level
            feeds[design.brief.feeds[load.tag]][span.start_min : span.end_min] += power * (1 + 1j * math.tan(phi))
        idle = np.ones(1440, dtype=bool)
        for span in load.patterns.get(kind, ()):
            idle[span.start_min : span.end_min] = False
        feeds[design.brief.feeds[load.tag]][idle] += load.standby_w * load.count
    return feeds


@pytest.mark.parametrize("name", ["clinic", "puppet"])
def test_highest_loads_and_starts_against_a_scan_of_every_minute(request, name):
    job = request.getfixturevalue(name)
    design = derive(job)
    for leg in design.inverters.legs:
        worst, worst_start = 0.0, 0.0
        for kind in job.day_kinds:
            if not kind.inverters_on or kind.use == "hooked_up":
                continue
            feeds = _minutes(job, kind.tag)
            on_leg = np.abs(feeds[leg.tag] + (feeds["L1+L2"] / 2 if leg.tag != "AC" else 0))
            worst = max(worst, on_leg.max())
            for load in job.loads:
                feed = design.brief.feeds[load.tag]
                if load.start_multiple <= 1 or feed not in (leg.tag, "L1+L2"):
                    continue
                extra = load.running_w / load.power_factor * (load.start_multiple - 1) * (0.5 if feed == "L1+L2" else 1)
                for span in load.patterns.get(kind.tag, ()):
                    worst_start = max(worst_start, (on_leg[span.start_min : span.end_min] + extra).max())
        assert leg.worst_va.value == pytest.approx(worst)
        assert leg.start_va.value == pytest.approx(worst_start)
    for kind in job.day_kinds:
        feeds = _minutes(job, kind.tag)
        total = sum(feeds[feed].real for feed in ("L1", "L2", "L1+L2", "AC"))
        assert design.brief.days[kind.tag].peak_ac_w.value == pytest.approx(total.max() if kind.inverters_on else 0.0, abs=1e-9)


def test_loads_without_a_leg_go_where_there_is_less(library_bus):
    job = library_bus
    for load in library_bus.loads:
        if load.supply in ("L1", "L2"):
            job = changed(job, **{f"loads[{load.tag}]__supply": "leg_open"})
    feeds = derive(job).brief.feeds
    on = {leg: sum(load.running_w * load.count for load in job.loads if feeds[load.tag] == leg) for leg in ("L1", "L2")}
    largest = max(load.running_w * load.count for load in job.loads)
    assert abs(on["L1"] - on["L2"]) <= largest


def test_a_single_line_carries_what_both_legs_would(clinic):
    one = derive(changed(set_stacking("parallel").apply(clinic))).inverters
    assert len(one.legs) == 1 and one.currents is None
    assert one.legs[0].continuous_va.value == pytest.approx(9000)
    both = derive(clinic).brief.days["CLINIC"].peak_ac_w.value
    assert derive(set_stacking("parallel").apply(clinic)).brief.days["CLINIC"].peak_ac_w.value == pytest.approx(both)


@pytest.mark.parametrize(("bay", "left"), [(20, 1.0), (25, 1.0), (35, 0.9), (60, 0.65), (150, 0.0)])
def test_derating_in_a_hot_bay(clinic, bay, left):
    assert derive(changed(clinic, site__bay_high_c=float(bay))).inverters.legs[0].continuous_va.value == pytest.approx(5000 * left)


@pytest.mark.parametrize(("tag", "limit", "lines", "alike"), [("P50", 40.0, 2, False), ("P30", 24.0, 1, True), ("P15", 12.0, 1, True)])
def test_source_table_by_hand(clinic, tag, limit, lines, alike):
    """Minute by minute on the days hooked up: each line up to its limit x 120 V, one line for both legs through an adapter, the rest from the bank."""
    design = derive(clinic)
    row = next(one for one in design.sources if one.tag == tag)
    assert (row.recommended_limit_a.value, row.continuous_w.value) == (limit, limit * 120 * lines)
    adds = []
    for kind in (one.tag for one in clinic.day_kinds if one.use == "hooked_up"):
        feeds = _minutes(clinic, kind)
        across = 0 if alike else feeds["L1+L2"] / 2
        legs = [feeds[leg] + across for leg in ("L1", "L2")]
        for group in [legs] if alike else [[one] for one in legs]:
            asked = sum(np.abs(one) for one in group)
            adds.append(sum(one.real for one in group) * np.maximum(0, 1 - limit * 120 / np.maximum(asked, 1e-9)))
    assert row.bank_adds_w.value == pytest.approx(sum(adds).max())
    assert row.gives_240 == (tag == "P50") and row.peak_w.value > 0 and "Hooked up" in row.day
    assert [(one.units, one.each_a.value) for one in row.unit_limits] == [(2, limit / 2) if alike else (1, limit)]


def test_a_limit_holds_for_each_line(clinic):
    """By hand: 5,600 W on L1 at 40 A a line of 120 V needs 800 W from the bank, however idle L2 is; for how long counts full-load efficiency and DC loads."""
    heater = Load(tag="LDH", name="Oven", supply="L1", running_w=5600.0, power_factor=1.0, patterns={"HOOKED": (Span(600, 660, 1.0),)})
    lamp = Load(tag="LDD", name="Lamps", supply="DC_48", running_w=240.0, power_factor=1.0, patterns={"HOOKED": (Span(0, 1440, 1.0),)})
    kind = next(one.tag for one in clinic.day_kinds if one.use == "hooked_up")
    loads = tuple(replace(one, patterns={kind: next(iter(one.patterns.values()))}) for one in (heater, lamp))
    design = derive(changed(replace(clinic, loads=loads), ac__circuits=()))
    row = next(one for one in design.sources if one.tag == "P50")
    assert row.bank_adds_w.value == pytest.approx(800) and row.bank_adds_va["L1"].value == pytest.approx(800) and row.bank_adds_va["L2"].value == 0
    full = clinic.inverters.spec.full_load_efficiency
    assert row.bank_lasts_h.value == pytest.approx(design.bank.usable_energy_wh.value / (800 / full + 240))


def test_currents_by_kirchhoff_over_the_figures(clinic):
    """Every current's own worst minute from the brute-force powers, by another formula: |S1/V - S2/V| apart, |S1/V + S2/V| together."""
    currents = derive(clinic).inverters.currents
    apart, alike, lines, pair = 0.0, 0.0, [0.0, 0.0], 0.0
    for kind in clinic.day_kinds:
        feeds = _minutes(clinic, kind.tag)
        s1, s2, across = feeds["L1"] / 120, feeds["L2"] / 120, feeds["L1+L2"] / 240
        worst = [np.abs(one).max() for one in (s1 - s2, s1 + s2, s1 + across, s2 + across, across)]
        alike = max(alike, worst[1])
        lines, pair = [max(a, b) for a, b in zip(lines, worst[2:4], strict=True)], max(pair, worst[4])
        if kind.use != "hooked_up":
            apart = max(apart, worst[0])
    assert [one.value for one in currents.lines_a] == pytest.approx(lines) and currents.pair_a.value == pytest.approx(pair)
    assert currents.neutral_split_a.value == pytest.approx(apart)
    assert currents.neutral_a.value == pytest.approx(alike), "an adapter feeds both legs from one line"


# ---- roof ----


@pytest.mark.parametrize("seed", range(3))
def test_clashes_and_strays_against_a_fine_grid(puppet, seed):
    """Modules thrown at random; two clash exactly when some grid point lies well inside both."""
    dice, roof = random.Random(seed), puppet.roof
    modules = tuple(Module(tag=f"PV{n}", x_m=dice.uniform(0, 7), y_m=dice.uniform(-1, 1), turned=dice.random() < 0.5) for n in range(9))
    design = derive(changed(puppet, roof__modules=modules, roof__strings=())).roof
    step = 0.02
    points = [(x * step, y * step) for x in range(-50, 420) for y in range(-110, 111)]

    def inside(box):
        return {(x, y) for x, y in points if box[0] < x < box[1] and box[2] < y < box[3]}

    cover = {one.tag: inside(module_box(one, roof.module)) for one in modules} | {one.tag: inside(flat_box(one)) for one in roof.obstacles}
    found = {frozenset(pair) for pair in design.clashes}
    for one in modules:
        for other in [*modules, *roof.obstacles]:
            if one.tag != other.tag:
                shared = len(cover[one.tag] & cover[other.tag])
                if shared > 60:
                    assert frozenset((one.tag, other.tag)) in found
                if shared == 0:
                    assert frozenset((one.tag, other.tag)) not in found
    for one in modules:
        x0, x1, y0, y1 = module_box(one, roof.module)
        outside = x0 < 0.2499 or x1 > 6.9501 or y0 < -1.1751 or y1 > 1.1751
        assert (one.tag in design.strays) == outside


def test_touching_is_not_clashing():
    assert not boxes_meet((0, 1, 0, 1), (1, 2, 0, 1))
    assert not boxes_meet((0, 1, 0, 1), (0.9995, 2, 0, 1))
    assert boxes_meet((0, 1, 0, 1), (0.9, 2, 0.5, 3))


@pytest.mark.parametrize("low", [-35.0, -18.0, 5.0])
def test_series_counts_of_the_window_are_the_last_that_fit(puppet, low):
    """Count up and down by hand: `most` stays under the limit and one more does not; `fewest` reaches the start and one less does not."""
    job = changed(puppet, site__record_low_c=low)
    controller, module = derive(job).roof.controllers[0], job.roof.module
    factor = max(tables.voc_factor(low), 1 + module.voc_per_c * (low - 25))
    assert controller.most_in_series * module.voc_v * factor <= 150 < (controller.most_in_series + 1) * module.voc_v * factor
    over = 31 + 33 - 25
    hot = min(module.vmp_v + module.voc_v * module.voc_per_c * over, module.vmp_v * (1 + module.pmp_per_c * over))
    full = 8 * 3.5  # gentle school
    dawn, spec = module.voc_v * (1 + module.voc_per_c * (31 - 25)), job.roof.controllers[0].spec

    def fits(count):
        return count * hot >= full + spec.run_margin_v and count * dawn >= full + spec.start_margin_v

    assert fits(controller.fewest_in_series) and not fits(controller.fewest_in_series - 1)


def test_the_table_or_the_coefficient_binds_as_said(puppet):
    mild = derive(changed(puppet, roof__module__voc_per_c=-0.0015)).roof.strings[0]
    steep = derive(changed(puppet, roof__module__voc_per_c=-0.0045)).roof.strings[0]
    assert "table binds" in mild.cold_voc_v.limit and mild.cold_voc_v.value == mild.cold_voc_code_v.value
    assert "coefficient binds" in steep.cold_voc_v.limit and steep.cold_voc_v.value == steep.cold_voc_linear_v.value


def test_modules_off_their_string_count_for_weight_only(puppet):
    before, after = derive(puppet), derive(take_module_out("S1").apply(puppet))
    assert after.roof.rated_w.value == before.roof.rated_w.value - 400
    assert after.roof.mass_kg.value == before.roof.mass_kg.value
    assert after.place.gross_kg.value == before.place.gross_kg.value
    assert after.roof.unassigned == ("PV3",)


# ---- charging, settings ----


def test_mixes_by_hand(clinic):
    """Sun 2 x 2640 W / 48 V, shore 2 x 70 A, alternator 3 x 1000 W / 48 V: a power gives most amperes into the lowest voltage."""
    result = derive(clinic).charging
    sun, shore, engine = 2 * 2640 / 48.0, 140.0, 3000 / 48.0
    totals = {mix.name: mix.total_a.value for mix in result.mixes}
    assert totals == pytest.approx(
        {
            "Parked in sun": sun, "Hooked up, night": shore, "Hooked up in sun": sun + shore, "Driving in sun": sun + engine,
            "Hooked up, engine running": sun + shore + engine,
        }
    )  # fmt: skip
    assert result.alternator_budget_a.value == pytest.approx(280 * 0.6 - 45)
    assert result.alternator_demand_a.value == pytest.approx(3000 / 0.92 / 28)
    assert derive(changed(clinic, charging__system_limit_a=150.0)).charging.into_bank_a.value == 150


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


# ---- place ----


@pytest.mark.parametrize("seed", range(3))
def test_items_clash_as_boxes_do(puppet, seed):
    """Random boxes; interval overlap in all three axes, worked with numpy."""
    dice = random.Random(seed)
    boxes = [
        Item(
            tag=f"F{n}", kind="fitting", name="box", mass_kg=1.0,
            place=Place(x_m=dice.uniform(1, 6), y_m=dice.uniform(-1, 1), z_m=dice.uniform(0.6, 2)),
            size=Size(length_m=dice.uniform(0.2, 2), width_m=dice.uniform(0.2, 1), height_m=dice.uniform(0.2, 1)),
        )
        for n in range(12)
    ]  # fmt: skip
    from weighty_axle.design.place.axles import place

    found = {frozenset(pair) for pair in place(puppet.vehicle, tuple(boxes), puppet.roof).clashes}
    low = np.array([[b.place.x_m - b.size.length_m / 2, b.place.y_m - b.size.width_m / 2, b.place.z_m] for b in boxes])
    high = low + np.array([[b.size.length_m, b.size.width_m, b.size.height_m] for b in boxes])
    for i, one in enumerate(boxes):
        for j in range(i):
            depth = (np.minimum(high[i], high[j]) - np.maximum(low[i], low[j])).min()
            if abs(depth - 0.001) > 1e-6:
                assert (frozenset((one.tag, boxes[j].tag)) in found) == (depth > 0.001)


def test_mirrored_weights_mirror_the_sides(puppet):
    across = {item.tag: -2 * item.place.y_m for item in derive(puppet).items}
    job = puppet
    for tag, dy in across.items():
        job = move((tag,), dy_m=dy).apply(job)
    for module in puppet.roof.modules:
        job = move_on_roof(module.tag, module.x_m, -module.y_m).apply(job)
    before, after = derive(puppet).place, derive(job).place
    assert after.right_minus_left_kg.value == pytest.approx(-before.right_minus_left_kg.value)
    assert [one.load_kg.value for one in after.axles] == pytest.approx([one.load_kg.value for one in before.axles])


@pytest.mark.parametrize(("dx", "dz", "outside"), [(0.0, 0.0, False), (-4.0, 0.0, True), (5.0, 0.0, True), (0.0, -0.2, True), (0.0, 3.0, True)])
def test_what_reaches_outside_is_said(puppet, dx, dz, outside):
    assert ("DB1" in derive(move(("DB1",), dx_m=dx, dz_m=dz).apply(puppet)).place.outside) == outside


# ---- wiring ----


def test_lengths_follow_places_until_measured(puppet):
    run = next(one for one in derive(puppet).wiring.runs if one.tag == "W-INV1")
    board, unit = puppet.wiring.board.place, puppet.inverters.units[0].place
    expected = abs(board.x_m - unit.x_m) + abs(board.y_m - unit.y_m) + abs(board.z_m - unit.z_m) + 0.6
    assert run.length_m.value == pytest.approx(expected)
    measured = derive(changed(puppet, **{"inverters__units[INV1]__lead_m": 2.4})).wiring
    assert next(one for one in measured.runs if one.tag == "W-INV1").length_m.value == 2.4


def test_longer_runs_need_more_copper_never_less(puppet):
    areas = []
    for length in (0.5, 2.0, 5.0, 9.0, 14.0):
        run = derive(changed(puppet, wiring__main_lead_m=length)).wiring.runs[0]
        areas.append(run.chosen.copper_kg / length)
    assert areas == sorted(areas)


def test_the_fault_current_falls_along_the_way(clinic):
    main, *branches = derive(clinic).wiring.runs
    assert all(branch.prospective_a.value < main.prospective_a.value for branch in branches)
    longer = derive(changed(clinic, wiring__main_lead_m=8.0)).wiring.runs
    assert longer[1].prospective_a.value < branches[0].prospective_a.value


@pytest.mark.parametrize("ambient", [10.0, 30.0, 60.0, 80.0])
def test_cool_air_is_not_counted_on_and_hot_air_costs(puppet, ambient):
    run = derive(changed(puppet, wiring__ambient_c=ambient)).wiring.runs[0]
    factor = min(1.0, math.sqrt((90 - ambient) / 60))
    row = next(row for row in tables.ampacity_tables()["small_craft_mm2"].rows if row.size == run.chosen.size)
    assert run.ampacity_a.value == pytest.approx(row.amps[90] * factor * run.chosen.count)


def test_an_own_choice_stands_even_in_parallel(puppet):
    run = derive(changed(puppet, **{"wiring__conductors[W-MAIN]": "2 x 70 mm2"})).wiring.runs[0]
    single = derive(changed(puppet, **{"wiring__conductors[W-MAIN]": "70 mm2"})).wiring.runs[0]
    assert run.own_choice and (run.chosen.size, run.chosen.count) == ("70 mm2", 2)
    assert run.chosen.drop_v == pytest.approx(single.chosen.drop_v / 2)
    assert run.ampacity_a.value == pytest.approx(2 * single.ampacity_a.value)


@pytest.mark.parametrize("size", ["x x y", "0 x 70 mm2", "99 AWG", "70", "2 x ", " x 70 mm2"])
def test_a_size_nobody_knows_is_a_finding_not_a_crash(puppet, size):
    job = changed(puppet, **{"wiring__conductors[W-INV1]": size})
    design = derive(job)
    assert "wiring.unknown-size" in {one.rule.id for one in judge(design)}
    assert math.isnan(design.wiring.worst_drop_share.value), "no drop is told where there is no conductor"


def test_an_inverters_lead_carries_its_charger_too(puppet):
    run = next(one for one in derive(changed(puppet, inverters__spec__charge_a=190.0)).wiring.runs if one.tag == "W-INV1")
    assert run.current_a.value == 190 and run.fuse_a.value == 250 <= run.ampacity_a.value


def test_either_practice_can_be_computed(puppet, clinic):
    """The same job by the other practice's table: conductors of like area, never thinner than a tenth less."""
    metric = derive(changed(clinic, practice="international", wiring__ampacity_table="small_craft_mm2")).wiring.runs[0]
    gauge = derive(clinic).wiring.runs[0]
    assert metric.chosen.size.endswith("mm2") and gauge.chosen.size.endswith("AWG")
    assert metric.chosen.copper_kg == pytest.approx(gauge.chosen.copper_kg, rel=0.35)
    assert derive(replace(puppet, practice="north_american")).wiring.runs[0].fuse_a.value in tables.fuse_ratings("north_american").amps


def test_findings_and_figures_do_not_depend_on_the_order_of_loads(clinic):
    turned = replace(clinic, loads=tuple(reversed(clinic.loads)))
    one, other = derive(clinic), derive(turned)
    assert other.brief.energy_per_day_wh.value == pytest.approx(one.brief.energy_per_day_wh.value)
    assert [leg.worst_va.value for leg in other.inverters.legs] == pytest.approx([leg.worst_va.value for leg in one.inverters.legs])
