from __future__ import annotations

import itertools

import pytest
from msgspec.structs import replace

from tests.building import told
from weighty_axle.design.derive import derive
from weighty_axle.design.roof.geometry import boxes_meet, flat_box, module_box, module_boxes, service_box, strays
from weighty_axle.design.roof.room import STEP_M, add_module
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.models.roof import Module


def test_a_module_goes_where_there_is_room_and_never_off_the_roof(puppet):
    job = few = replace(puppet, roof=replace(puppet.roof, modules=puppet.roof.modules[:2]))
    with pytest.raises(EditRefusedError, match="no room"):
        for _ in range(60):
            job = add_module("S1").apply(job)
    design = derive(job)
    assert len(job.roof.modules) >= len(puppet.roof.modules) > len(few.roof.modules)
    assert not design.roof.clashes and not design.roof.strays and not design.roof.taken and problems(job) == []
    # Modules of another system on the same roof are in the way as one's own are.
    beside = module_boxes(replace(job.roof, modules=job.roof.modules[2:])).values()
    with pytest.raises(EditRefusedError, match="no room"):
        add_module("S1", beside).apply(few)
    # By another route: each spot by itself, on a coarser grid.
    roof, boxes = job.roof, [*module_boxes(job.roof).values(), *(flat_box(one) for one in job.roof.obstacles)]
    boxes += [box for one in roof.obstacles if (box := service_box(one))] + [flat_box(one) for one in roof.lanes]
    for turned, nx, ny in itertools.product((False, True), range(60), range(25)):
        spot = Module(tag="PV", x_m=roof.start_m + nx * 0.2, y_m=ny * 0.1 - 1.25, turned=turned)
        box = module_box(spot, roof.module)
        # What fits by less than a step may be missed.
        roomy = (box[0] - STEP_M, box[1] + STEP_M, box[2] - STEP_M, box[3] + STEP_M)
        assert strays(roof, roomy) or any(boxes_meet(roomy, other) for other in boxes), spot


def test_modules_not_yet_strung_are_counted_apart_and_strung_by_one_press(puppet):
    bare = replace(
        puppet,
        roof=replace(puppet.roof, strings=(), modules=tuple(replace(one, string="") for one in puppet.roof.modules)),
    )
    design = derive(bare)
    assert design.roof.rated_w.value == 0 and design.roof.placed_w.value == derive(puppet).roof.rated_w.value
    (finding,) = told(bare, "roof.unassigned")
    strung = finding.remedy.apply(bare)
    assert not told(strung, "roof.unassigned") and not [
        one for one in told(strung) if one.rule.severity == "stop" and one.rule.step == "roof"
    ]
    assert not told(bare, "charging.no-sun") and not told(
        add_remote("CC1").apply(replace(bare, roof=replace(bare.roof, modules=()))), "charging.no-sun"
    )
