from __future__ import annotations

import pytest

from tests.building import v
from weighty_axle.answers.bank.joining import joining
from weighty_axle.design.derive import derive


def test_a_pack_meets_the_furthest_of_those_it_joins(puppet):
    """Three that stand together and one apart: it is measured against the one furthest from it, whichever side it
    stands on.
    """
    for apart, furthest in ((27.40, 26.40), (25.40, 26.45)):
        job = v(puppet, "bank.join_a", 60.0)
        for tag, volts in (("BP1", 26.40), ("BP2", 26.45), ("BP3", 26.42), ("BP4", apart)):
            job = v(job, f"bank.packs[{tag}].open_v", volts)
        result = joining(derive(job))
        assert result.allowed_v.value > 0.05, "the three may be joined"
        last = {one.tag: one for one in result.packs}["BP4"]
        assert last.current_a.value == pytest.approx(abs(apart - furthest) / result.loop_ohm.value) and not last.joins
