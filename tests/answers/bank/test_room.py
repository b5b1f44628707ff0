from __future__ import annotations

import pytest

from tests.building import v
from weighty_axle.answers.bank.room import free_places
from weighty_axle.design.derive import derive


@pytest.mark.parametrize("width_m", [1.2, 1.8, 2.5])
def test_room_for_more_ends_at_the_walls(clinic, width_m):
    """In a narrow body fewer places, and none through a wall."""
    narrow = derive(v(clinic, "vehicle.width_m", width_m))
    half = clinic.bank.spec.size.width_m / 2
    places = free_places(narrow)
    assert all(abs(place.y_m) + half <= width_m / 2 + 1e-9 for place in places)
    assert width_m == 2.5 or len(places) < len(free_places(derive(v(clinic, "vehicle.width_m", 2.5))))
