"""Where one wrong sign, side or index would go unseen: each figure at its own edge, worked out here by another way."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.design.bank.joining import joining
from weighty_axle.design.bank.room import free_places
from weighty_axle.design.brief.run_together import run_together
from weighty_axle.design.derive import derive
from weighty_axle.design.roof.fill import fill
from weighty_axle.exports.drawings.long_section import long_section, placed_labels
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import move, set_value
from weighty_axle.job.models.brief import Load
from weighty_axle.reference import tables
from weighty_axle.rules.judge import judge


def v(job, path, value):
    return set_value(path, value, "").apply(job)


def found(job, rule):
    return next((each for one in judge(derive(job)) for each in (one, *one.also) if each.rule.id == rule), None)


def words(finding):
    return finding.sentence().replace("\u00a0", " ")


def test_a_pack_meets_the_furthest_of_those_it_joins(puppet):
    """Three that stand together and one apart: it is measured against the one furthest from it, whichever side it stands on."""
    for apart, furthest in ((27.40, 26.40), (25.40, 26.45)):
        job = v(puppet, "bank.join_a", 60.0)
        for tag, volts in (("BP1", 26.40), ("BP2", 26.45), ("BP3", 26.42), ("BP4", apart)):
            job = v(job, f"bank.packs[{tag}].open_v", volts)
        result = joining(derive(job))
        assert result.allowed_v.value > 0.05, "the three may be joined"
        last = {one.tag: one for one in result.packs}["BP4"]
        assert last.current_a.value == pytest.approx(abs(apart - furthest) / result.loop_ohm.value) and not last.joins


@pytest.mark.parametrize(("times", "stops"), [(0.99, True), (1.0, False), (1.01, False)])
def test_a_fixing_is_stopped_just_above_what_it_may_take(puppet, times, stops):
    """½ ρ v² c A − m g, times the safety, over the fixings of a module. Source: textbook relation; ρ = 1.225 kg/m³ (standard atmosphere, recalled)."""
    stated, spec = puppet.roof.fixing, puppet.roof.module
    wind = (stated.speed_km_per_h + stated.headwind_km_per_h) / 3.6
    lift = 0.5 * 1.225 * wind**2 * stated.lift_coefficient * spec.length_m * spec.width_m
    pull = (lift - 9.81 * spec.mass_kg) * stated.safety / stated.each
    assert derive(puppet).fixings.pull_n.value == pytest.approx(pull)
    assert (found(v(puppet, "roof.fixing.allowed_n", derive(puppet).fixings.pull_n.value * times), "roof.fixing-pull") is not None) == stops


def test_what_runs_together_is_counted_line_by_line(clinic):
    """What hangs across both lines is shared by them; each line's inverters lose by their own power."""
    loads = tuple(
        Load(tag=tag, name=tag, supply=feed, running_w=watts, power_factor=1.0, patterns={})
        for tag, feed, watts in (("ONE", "L1", 2000.0), ("TWO", "L2", 500.0), ("BOTH", "L1+L2", 600.0))
    )
    job = replace(clinic, loads=loads, ac=replace(clinic.ac, circuits=(), storage=replace(clinic.ac.storage, alive=())))
    design = derive(job)
    result = run_together(design, ("ONE", "TWO", "BOTH"))
    assert [leg.value for leg in result.legs_va] == [2300.0, 800.0]
    curve, volts, ohm = design.brief.curve, design.bank.lowest_working_v.value, design.bank.resistance_ohm.value
    amps = result.bank_a.value
    assert amps * (volts - ohm * amps) == pytest.approx(3100 + curve.loss_w(2300) + curve.loss_w(800))


@pytest.mark.parametrize("over_kg", [1.0, 4.0, 30.0])
@pytest.mark.parametrize("axle", ["A1", "A2"])
def test_the_bank_is_moved_just_far_enough_and_only_where_it_fits(clinic, axle, over_kg):
    """The press takes the axle under its plate; a centimetre less would not; where the body ends there is no press."""
    load = next(one.load_kg.value for one in derive(clinic).place.axles if one.tag == axle)
    job = v(clinic, f"vehicle.axles[{axle}].limit_kg", load - over_kg)
    remedy = found(job, "place.axle-over-plate").remedy
    packs = tuple(pack.tag for pack in job.bank.packs)
    after = remedy.apply(job)
    dx = after.bank.packs[0].place.x_m - job.bank.packs[0].place.x_m

    def margin(moved):
        return next(one.margin_kg.value for one in derive(moved).place.axles if one.tag == axle)

    assert margin(after) >= 0 and margin(move(packs, dx_m=dx - 0.011 * (1 if dx > 0 else -1)).apply(job)) < 0
    half = job.bank.spec.size.length_m / 2
    ends = job.vehicle.length_m - half if dx > 0 else half
    edge = ends - (max if dx > 0 else min)(pack.place.x_m for pack in job.bank.packs)
    job = move(packs, dx_m=round(edge, 3)).apply(job)
    again = next(one.load_kg.value for one in derive(job).place.axles if one.tag == axle)
    assert found(v(job, f"vehicle.axles[{axle}].limit_kg", again - over_kg), "place.axle-over-plate").remedy is None


@pytest.mark.parametrize(
    ("key", "value", "told"), [("monitor_capacity_ah", 555.0, "555 Ah"), ("monitor_tail_a", 33.0, "33 A"), ("absorption_v", 27.9, "27.9 V")]
)
def test_a_value_of_ones_own_is_told_in_its_own_unit(puppet, key, value, told):
    keys = {point.key for point in derive(puppet).settings.points}
    assert key in keys, sorted(keys)
    assert f"set to {told} by hand" in words(found(v(puppet, f"settings.own_values[{key}]", value), "settings.own-value"))


@pytest.mark.parametrize("width_m", [1.2, 1.8, 2.5])
def test_room_for_more_ends_at_the_walls(clinic, width_m):
    """In a narrow body fewer places, and none through a wall."""
    narrow = derive(v(clinic, "vehicle.width_m", width_m))
    half = clinic.bank.spec.size.width_m / 2
    places = free_places(narrow)
    assert all(abs(place.y_m) + half <= width_m / 2 + 1e-9 for place in places)
    assert width_m == 2.5 or len(places) < len(free_places(derive(v(clinic, "vehicle.width_m", 2.5))))


def test_two_types_fill_a_roof_that_neither_fills_alone(puppet):
    """Two large ones leave a strip that only small ones fit; each is laid, counted and weighed as its own type."""
    large = replace(puppet.roof.module, name="Large", length_m=1.7, width_m=1.1, pmp_w=400.0)
    small = replace(tables.modules().rows[0], name="Small", length_m=1.1, width_m=0.5, pmp_w=100.0)
    job = replace(
        puppet,
        roof=replace(
            puppet.roof, start_m=0.5, end_m=2.75, width_m=2.24, gap_m=0.02, margin_m=0.0, module=large, more_modules=(small,), modules=(), strings=(),
            obstacles=(), lanes=(),
        ),
    )  # fmt: skip
    layouts = fill(job.roof, job.vehicle.width_m, seconds=0.5)
    both = next(one for one in layouts if len({module.kind for module in one.modules}) == 2)
    assert both.rated_w.value == 1000 and sorted(module.kind for module in both.modules) == ["", "", "Small", "Small"]
    made = both.edit.apply(job)
    assert problems(made) == []
    assert derive(made).roof.mass_kg.value == pytest.approx(2 * large.mass_kg + 2 * small.mass_kg)


def test_what_is_wrong_with_one_item_names_it_once(library_bus):
    told = next(one for one in judge(derive(library_bus)) if "EX4" in one.tags and one.also)
    assert words(told).count("Converter-charger") == 1 and " It equalises" in words(told)


@pytest.mark.parametrize("name", demos.names())
@pytest.mark.parametrize("px_per_m", [45.0, 70.0, 110.0])
def test_names_in_the_long_section_never_lie_over_each_other(name, px_per_m):
    """Every unit is named once; names six pixels a letter and ten high keep clear of each other and of boxes in front of their own."""
    section = long_section(derive(demos.demo(name)))
    labels = placed_labels(section, lambda text: 6 * len(text) / px_per_m, 10 / px_per_m)
    named = [shape.label for shape in section.shapes if shape.role in ("unit", "bay")]
    assert sorted(label.text for label in labels) == sorted(named)
    boxes = [(one.x_m - 3 * len(one.text) / px_per_m, one.x_m + 3 * len(one.text) / px_per_m, one.z_m, one.z_m + 10 / px_per_m) for one in labels]
    for index, (x0, x1, z0, z1) in enumerate(boxes):
        for other, (u0, u1, w0, w1) in enumerate(boxes[:index]):
            assert x1 <= u0 + 1e-9 or u1 <= x0 + 1e-9 or z1 <= w0 + 1e-9 or w1 <= z0 + 1e-9, (labels[index].text, labels[other].text)
    for label in labels:
        box = next(shape.points for shape in section.shapes if shape.label == label.text and shape.role == label.role)
        if label.leads_to is not None:
            assert box[0][0] - 1e-9 <= label.leads_to[0] <= box[2][0] + 1e-9 and label.leads_to[1] == box[2][1], "its line ends at its own box"
