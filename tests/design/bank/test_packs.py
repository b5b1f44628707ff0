from __future__ import annotations

import pytest

from weighty_axle.design.derive import derive
from weighty_axle.job.edits.bank import set_pack_count


@pytest.mark.parametrize("count", [1, 4, 9])
def test_more_packs_scale_what_they_should(clinic, count):
    design = derive(set_pack_count(count).apply(clinic)).bank
    assert design.capacity_ah.value == 100 * count
    assert design.least_resistance_ohm.value == pytest.approx(0.012 / count)
    assert 0.012 / count < design.resistance_ohm.value < 0.015 / count + 0.0005, "links and leads on top"
    assert design.one_pack_out_a.value == pytest.approx(100 * (count - 1), rel=0.01)
