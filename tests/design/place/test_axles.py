from __future__ import annotations

import random

import numpy as np
import pytest

from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import move
from weighty_axle.job.edits.roof import move_on_roof
from weighty_axle.job.models.document import Item
from weighty_axle.job.stated import Place, Size
from weighty_axle.physics.body.axles import Support, loads_kg


@pytest.mark.parametrize("seed", range(3))
def test_items_clash_as_boxes_do(puppet, seed):
    """Random boxes; interval overlap in all three axes, worked with numpy."""
    dice = random.Random(seed)
    boxes = [
        Item(
            tag=f"F{n}",
            kind="fitting",
            name="box",
            mass_kg=1.0,
            place=Place(x_m=dice.uniform(1, 6), y_m=dice.uniform(-1, 1), z_m=dice.uniform(0.6, 2)),
            size=Size(length_m=dice.uniform(0.2, 2), width_m=dice.uniform(0.2, 1), height_m=dice.uniform(0.2, 1)),
        )
        for n in range(12)
    ]
    from weighty_axle.design.place.axles import place

    found = {frozenset(pair) for pair in place(puppet.vehicle, tuple(boxes), puppet.roof, (), ()).clashes}
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


@pytest.mark.parametrize(
    ("dx", "dz", "outside"),
    [(0.0, 0.0, False), (-4.0, 0.0, True), (5.0, 0.0, True), (0.0, -0.2, True), (0.0, 3.0, True)],
)
def test_what_reaches_outside_is_said(puppet, dx, dz, outside):
    assert ("DB1" in derive(move(("DB1",), dx_m=dx, dz_m=dz).apply(puppet)).place.outside) == outside


def test_axle_loads_add_up_and_follow_the_bank(clinic):
    before = derive(clinic)
    assert sum(axle.load_kg.value for axle in before.place.axles) == pytest.approx(before.place.gross_kg.value)
    after = derive(move(tuple(pack.tag for pack in clinic.bank.packs), dx_m=-2.0).apply(clinic))
    # 282 kg moved 2 m over a wheel base of 6.5495 m (drive 63 %, tag 37 %): lever rule by hand.
    base = 0.63 * 9.3 + 0.37 * 10.65 - 2.75
    shift = 282 * 2.0 / base
    change = [
        new.load_kg.value - old.load_kg.value for new, old in zip(after.place.axles, before.place.axles, strict=True)
    ]
    assert change == pytest.approx([shift, -0.63 * shift, -0.37 * shift], abs=1e-6)
    assert after.wiring.runs[0].length_m.value != before.wiring.runs[0].length_m.value


def test_axle_loads_of_a_published_example():
    """T. D. Gillespie, Fundamentals of Vehicle Dynamics, chapter 1, first example (recalled): a car of 3635 lb with its
    centre of gravity 39.64 in behind the front axle, wheel base 109 in, stands on 2313 and 1322 lb.
    """
    inch, pound = 0.0254, 0.45359237
    supports = (Support(0.0, 1.0, True), Support(109 * inch, 1.0, False))
    loads = loads_kg(supports, [(3635 * pound, 39.64 * inch)])
    assert [load / pound for load in loads] == pytest.approx([2313, 1322], abs=0.5)


@pytest.mark.parametrize("stiffness", [2e4, 1e6, 1e9])
@pytest.mark.parametrize("share", [0.35, 0.5, 0.63])
def test_a_tag_axle_against_a_frame_that_bends(stiffness, share):
    """Finite elements of a beam on a front axle and on two rear axles whose air bags hold their loads in a ratio,
    entered as a constraint: whatever the frame's stiffness, the loads are those of the statics. Source: Euler-Bernoulli
    beam elements, textbook.
    """
    front, drive, tag = 2.75, 9.3, 10.65
    weights = [(282.0, 7.5), (1450.0, 4.1), (560.0, 12.6), (310.0, 0.9)]
    nodes = np.array(sorted({0.0, 13.7, front, drive, tag, *(x for _, x in weights)}))
    stiff = np.zeros((2 * len(nodes), 2 * len(nodes)))
    for at, long in enumerate(np.diff(nodes)):
        one = (
            stiffness
            / long**3
            * np.array(
                [
                    [12, 6 * long, -12, 6 * long],
                    [6 * long, 4 * long**2, -6 * long, 2 * long**2],
                    [-12, -6 * long, 12, -6 * long],
                    [6 * long, 2 * long**2, -6 * long, 4 * long**2],
                ]
            )
        )
        stiff[2 * at : 2 * at + 4, 2 * at : 2 * at + 4] += one
    held = np.zeros((2, len(stiff)))
    held[0, 2 * np.searchsorted(nodes, front)] = 1.0
    held[1, 2 * np.searchsorted(nodes, drive)] = share
    held[1, 2 * np.searchsorted(nodes, tag)] = 1 - share
    force = np.zeros(len(stiff))
    for mass, x_m in weights:
        force[2 * np.searchsorted(nodes, x_m)] -= mass
    whole = np.block([[stiff, held.T], [held, np.zeros((2, 2))]])
    solved = np.linalg.solve(whole, np.concatenate([force, np.zeros(2)]))
    first, rear = -solved[-2:]
    supports = (Support(front, 1.0, True), Support(drive, share, False), Support(tag, 1 - share, False))
    assert loads_kg(supports, weights) == pytest.approx((first, rear * share, rear * (1 - share)), rel=1e-4)
