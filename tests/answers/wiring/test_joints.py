"""Ends of ways: lugs, studs, torque, shrink, order of parts, and studs as somebody found them."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.answers.wiring.joints import ENDS, joints, stacks_judged
from weighty_axle.demos import demo
from weighty_axle.design.conductors import conductor_area_mm2, outer_mm
from weighty_axle.design.derive import derive
from weighty_axle.job.models.wiring import FoundStack
from weighty_axle.job.stated import Clear
from weighty_axle.reference import hardware


def _joint(job, tag):
    return next(one for one in joints(derive(job)) if one.tag == tag)


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
def test_every_end_has_a_stud_that_carries_a_lug_that_is_made_and_shrink_that_grips(name):
    """The fuse lies on the bar and the lug on the fuse: common practice, no source."""
    design = derive(demo(name))
    rows = {row.stud: row for row in hardware.studs().rows}
    shrinks = {row.supplied_mm: row for row in hardware.shrinks().rows}
    for one in joints(design):
        for name_of_end in ENDS:
            end = one.of(name_of_end)
            if end.stud is None:
                assert end.fitting.startswith("ferrule") and conductor_area_mm2(one.size) <= 10
                continue
            row = rows[end.stud]
            assert row.carries_a >= one.amps and row.largest_mm2 >= conductor_area_mm2(one.size)
            assert end.torque_nm.value == row.torque_nm < row.steel_nm
            shrink = shrinks[float(end.shrink.split(" ")[0])]
            assert shrink.shrunk_mm < outer_mm(one.size) < shrink.supplied_mm
            assert end.order[-3:] == ("washer", "spring_washer", "nut")
            faces = [part for part in end.order if part in ("bar", "fuse", "lug")]
            assert list(end.order[: len(faces)]) == faces, "nothing lies between current faces"


def test_torque_of_steel_is_as_handbooks_have_it():
    """VDI 2230, class 8.8, friction 0.14 (recalled): M6 10.1, M8 24.6, M10 48, M12 84 N m, within 5 %."""
    expected = {"M6": 10.1, "M8": 24.6, "M10": 48.0, "M12": 84.0}
    for row in hardware.studs().rows:
        if row.stud in expected:
            assert row.steel_nm == pytest.approx(expected[row.stud], rel=0.05)


def test_a_stated_stud_wins_and_is_marked(puppet):
    one = _joint(changed(puppet, wiring__studs={"W-INV1 end": "M12"}), "W-INV1")
    assert (one.end.stud, one.end.own, one.start.own) == ("M12", True, False) and one.end.fitting.endswith("M12")


@pytest.mark.parametrize(
    ("here", "there", "turn"),
    [
        ("front", "front", "alike"),
        ("front", "rear", "half a turn apart"),
        ("front", "above", "a quarter apart"),
        ("none", "above", "lay out first"),
    ],
)
def test_lugs_are_turned_as_the_faces_they_meet(puppet, here, there, turn):
    board, spec = puppet.wiring.board, puppet.inverters.spec
    job = changed(
        puppet,
        wiring__board=replace(board, clear=Clear(service=here)),
        inverters__spec=replace(spec, clear=Clear(service=there)),
    )
    assert _joint(job, "W-INV1").turn == turn


def test_a_washer_between_faces_heats_as_by_hand(puppet):
    order = ("bar", "washer", "fuse", "washer", "lug", "spring_washer", "nut")
    design = derive(replace(puppet, stacks=(FoundStack(tag="TS1", way="W-INV1", order=order),)))
    made = joints(design)
    (judged,) = stacks_judged(design, made)
    amps = next(one.amps for one in made if one.tag == "W-INV1")
    assert judged.between == ("washer", "washer") and judged.locked
    assert judged.heat_w.value == pytest.approx(amps**2 * 2 * 0.0004)
