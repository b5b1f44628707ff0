"""Conductors side by side: by hand, by the network, and alike when cut alike."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.answers.wiring.abreast import sides_of
from weighty_axle.design.derive import derive
from weighty_axle.job.models.wiring import Abreast
from weighty_axle.physics.electric.network import Branch, solve


@pytest.mark.parametrize("lengths", [(1.0, 1.0), (0.8, 1.6), (0.5, 2.0)])
def test_each_carries_by_its_own_resistance(puppet, lengths):
    """Independent route: two resistors between two nodes, solved."""
    job = changed(puppet, **{"wiring__conductors[W-MAIN]": "2 x 70 mm2"})
    job = replace(job, wiring=replace(job.wiring, abreast=(Abreast(run="W-MAIN", lengths_m=lengths),)))
    design = derive(job)
    run = design.wiring.main
    found = sides_of(design, run)
    # IEC 60228 class 5, 70 mm2: 0.272 ohm/km at 20 °C; copper at 90 °C; two lugs each.
    ohm = [length * 0.272e-3 * (1 + 0.00393 * 70) + 2 * job.bank.links.lug_ohm for length in lengths]
    solved = solve([Branch("a", "b", one) for one in ohm], drawn_a={"b": run.current_a.value}, ground="a")
    assert [one.carries_a.value for one in found] == pytest.approx(list(solved.branch_a), rel=1e-6)
    assert sum(one.carries_a.value for one in found) == pytest.approx(run.current_a.value)
    way = next(one for one in design.tree.ways if one.tag == "W-MAIN")
    cables = sum(part.ohm for part in way.parts if part.kind == "cable")
    assert cables == pytest.approx(2 * 0.272e-3 * (1 + 0.00393 * 70) / sum(1 / one for one in lengths))


def test_nothing_is_told_of_single_conductors(puppet):
    design = derive(puppet)
    assert all(sides_of(design, run) == () for run in design.wiring.runs)
