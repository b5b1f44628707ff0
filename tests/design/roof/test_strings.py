from __future__ import annotations

import random

import pytest

from tests.building import changed
from weighty_axle.design.derive import derive
from weighty_axle.design.roof.geometry import boxes_meet, flat_box, module_box
from weighty_axle.job.edits.roof import take_module_out
from weighty_axle.job.models.roof import Module
from weighty_axle.reference import tables


@pytest.mark.parametrize("seed", range(3))
def test_clashes_and_strays_against_a_fine_grid(puppet, seed):
    """Modules thrown at random; two clash exactly when some grid point lies well inside both."""
    dice, roof = random.Random(seed), puppet.roof
    modules = tuple(
        Module(tag=f"PV{n}", x_m=dice.uniform(0, 7), y_m=dice.uniform(-1, 1), turned=dice.random() < 0.5)
        for n in range(9)
    )
    design = derive(changed(puppet, roof__modules=modules, roof__strings=())).roof
    step = 0.02
    points = [(x * step, y * step) for x in range(-50, 420) for y in range(-110, 111)]

    def inside(box):
        return {(x, y) for x, y in points if box[0] < x < box[1] and box[2] < y < box[3]}

    cover = {one.tag: inside(module_box(one, roof.module)) for one in modules} | {
        one.tag: inside(flat_box(one)) for one in roof.obstacles
    }
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
    """Count up and down by hand: `most` stays under the limit and one more does not; `fewest` reaches the start and one
    less does not.
    """
    job = changed(puppet, site__record_low_c=low)
    controller, module = derive(job).roof.controllers[0], job.roof.module
    factor = max(tables.voc_factor(low), 1 + module.voc_per_c * (low - 25))
    assert (
        controller.most_in_series * module.voc_v * factor
        <= 150
        < (controller.most_in_series + 1) * module.voc_v * factor
    )
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
