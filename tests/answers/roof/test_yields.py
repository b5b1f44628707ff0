from __future__ import annotations

import pytest

from tests.building import v
from weighty_axle.design.derive import derive


def test_the_southern_year_is_turned_and_told(clinic):
    from weighty_axle.answers.roof.sunny import home
    from weighty_axle.answers.roof.yields import sun_yield

    north, south = (
        sun_yield(derive(job), home(derive(job)))
        for job in (clinic, v(clinic, "site.latitude_deg", -clinic.site.latitude_deg))
    )
    days = [[month.day_wh.value for month in one.months] for one in (north, south)]
    # The earth stands nearer the sun in January: the south's summer is a little brighter, within 8 %.
    assert days[1] == pytest.approx([*days[0][6:], *days[0][:6]], rel=0.09)
    assert "turned by half a year" in south.months[0].day_wh.limit and "turned" not in north.months[0].day_wh.limit
