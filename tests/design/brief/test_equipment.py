from __future__ import annotations

import pytest

from weighty_axle.design.brief.equipment import equipment
from weighty_axle.job.models.brief import Existing


@pytest.mark.parametrize("kind", ["coach", "rigid_truck", "semi_trailer", "drawbar_trailer", "centre_axle_trailer"])
@pytest.mark.parametrize("found", ["tow_wire", "starting battery", "nothing"])
def test_what_keeps_up_the_battery_on_the_road(kind, found):
    """A trailer's tow wire gets a charger between; a starting battery its own; neither is invented where it is not
    (common practice, no source).
    """
    loads = Existing(tag="E1", name="House lamps", kind="loads", nominal_v=12.0)
    more = {
        "tow_wire": (Existing(tag="E2", name="Wire", kind="tow_wire", nominal_v=12.0),),
        "starting battery": (
            Existing(tag="E2", name="Starter", kind="battery", nominal_v=12.0, ties_to="starter_battery"),
        ),
        "nothing": (),
    }[found]
    feeds = {one.consumer: one for one in equipment((loads, *more), kind, 48).feeds}
    assert ("Bank, while towed" in feeds) == (found == "tow_wire" and "trailer" in kind)
    assert ("Starting battery" in feeds) == (found == "starting battery")
    assert "converter 48 to 12 V" in feeds["12 V house loads"].through
