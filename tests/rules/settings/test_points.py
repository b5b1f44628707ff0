from __future__ import annotations

import pytest

from tests.building import found, v, words
from weighty_axle.design.derive import derive


@pytest.mark.parametrize(
    ("key", "value", "told"),
    [("monitor_capacity_ah", 555.0, "555 Ah"), ("monitor_tail_a", 33.0, "33 A"), ("absorption_v", 27.9, "27.9 V")],
)
def test_a_value_of_ones_own_is_told_in_its_own_unit(puppet, key, value, told):
    keys = {point.key for point in derive(puppet).settings.points}
    assert key in keys, sorted(keys)
    assert f"set to {told} by hand" in words(
        found(v(puppet, f"settings.own_values[{key}]", value), "settings.own-value")
    )
