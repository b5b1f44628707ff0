from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.building import v
from weighty_axle.answers.roof.shade import sample_points
from weighty_axle.answers.roof.sunny import home
from weighty_axle.answers.roof.yields import remote_day_wh
from weighty_axle.design.derive import derive
from weighty_axle.design.roof.geometry import (
    allowed_half_m,
    boxes_meet,
    flat_box,
    module_box,
    module_boxes,
    pull_m,
    service_box,
    strays,
)
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.models.roof import Lane, Module, Obstacle, Roof


@pytest.mark.parametrize("seed", range(8))
def test_boxes_meet_where_points_do(seed):
    """Two things on a roof by 4,000 points: some point lies in both, or none does; thin touches are neither asked nor
    answered.
    """
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
        lane = Lane(
            tag="B",
            name="B",
            x_m=float(dice.uniform(0, 4)),
            y_m=float(dice.uniform(-1.2, 1.2)),
            length_m=0.8,
            width_m=0.4,
        )
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
    """Sections are strips side by side across the short side; their points fill them evenly: the middle of the points
    is the middle of the strip.
    """
    spec = clinic.roof.module
    box = module_box(Module(tag="M", x_m=3.0, y_m=0.4, turned=turned), spec)
    points = sample_points(Module(tag="M", x_m=3.0, y_m=0.4, turned=turned), box, sections)
    long, short, long_0, short_0 = (
        (points.y_m, points.x_m, box[2], box[0]) if turned else (points.x_m, points.y_m, box[0], box[2])
    )
    wide = spec.width_m / sections
    for section in range(sections):
        own = points.section == section
        assert ((short[own] > short_0 + section * wide) & (short[own] < short_0 + (section + 1) * wide)).all()
        assert short[own].mean() == pytest.approx(short_0 + (section + 0.5) * wide) and long[
            own
        ].mean() == pytest.approx(long_0 + spec.length_m / 2)
        # Evenly spread points have the variance of a strip, less that of a cell's quarter.
        assert (
            np.ptp(long[own]) == pytest.approx(spec.length_m * (1 - 0.5 / 12))
            and len(set(np.round(long[own], 9))) == 24
        )


@pytest.mark.parametrize(
    ("where", "tilt", "hot"),
    [("trailer", 0.0, True), ("trailer", 30.0, False), ("ground", 0.0, False), ("building", 0.0, False)],
)
def test_only_a_flat_trailer_roof_is_as_hot_as_the_roof(puppet, where, tilt, hot):
    """Flush modules run hotter than open racks: lower voltage, less energy.

    Source of the 25 K of open racks: common practice, no source.
    """
    job = add_remote("CC1").apply(v(puppet, "roof.rise_c", 38.0))
    array = replace(job.roof.remote[0], where=where, tilt_deg=tilt)
    job = replace(job, roof=replace(job.roof, remote=(array,)))
    as_cool = v(job, "roof.rise_c", 25.0)
    for one in (job, as_cool):
        spec, cell_c = array.module, one.site.design_high_c + (one.roof.rise_c if hot else 25.0)
        by_hand = array.series * min(
            spec.vmp_v + spec.voc_v * spec.voc_per_c * (cell_c - 25), spec.vmp_v * (1 + spec.pmp_per_c * (cell_c - 25))
        )
        assert derive(one).remote[0].hot_vmp_v.value == pytest.approx(by_hand)
    june = [remote_day_wh(design, array, home(design))[5].value for design in (derive(job), derive(as_cool))]
    assert (june[0] < 0.985 * june[1]) if hot else june[0] == pytest.approx(june[1])


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
    marks = [other for tag, other in module_boxes(roof).items() if tag != "PV1"] + [
        flat_box(one) for one in roof.obstacles
    ]
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
