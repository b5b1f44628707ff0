"""Cords and conduits by the codes' tables, by hand, and in every stated and unstated form."""

from __future__ import annotations

import pytest

from tests.building import changed
from weighty_axle.answers.wiring.conduit import ac_cables, bundles, conduit_for
from weighty_axle.answers.wiring.cords import cords_of
from weighty_axle.answers.wiring.schedule import schedule
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.reference.hardware import cords


@pytest.mark.parametrize(
    ("practice", "amps", "lines", "size"),
    [
        ("north_american", 15, 2, "14 AWG"),
        ("north_american", 30, 1, "10 AWG"),
        ("north_american", 50, 2, "6 AWG"),
        ("north_american", 50, 3, "4 AWG"),
        ("international", 10, 1, "1.5 mm2"),  # common practice, no source
        ("international", 16, 1, "2.5 mm2"),
        ("international", 32, 3, "6 mm2"),
        ("international", 63, 1, "16 mm2"),
    ],
)
def test_cords_are_those_of_the_codes(puppet, practice, amps, lines, size):
    """NEC (NFPA 70) 2023 table 400.5(A)(1) columns A and B; IEC 60364-7-721 connecting cords; recalled."""
    job = changed(puppet, practice=practice, **{"ac__inlets[IN1]__amps": amps, "ac__inlets[IN1]__lines": lines})
    one = cords_of(derive(job))[0]
    assert (one.wanted, one.size, one.fits) == (size, size, True)


def test_a_cord_loses_what_ohm_says_at_its_rating_and_is_judged_as_it_is(puppet):
    job = changed(puppet, **{"ac__inlets[IN1]__cord_m": 25.0, "ac__inlets[IN1]__cord_size": "1.5 mm2"})
    one = cords_of(derive(job))[0]
    # IEC 60228 class 5: 13.3 ohm/km for 1.5 mm2; copper 0.393 % per kelvin from 20 to 70 degC.
    ohm = 2 * 25 * 13.3e-3 * (1 + 0.00393 * 50)
    assert one.drop_share.value == pytest.approx(ohm * 16 / 230, rel=1e-3)
    assert one.fits is False
    beyond = changed(puppet, **{"ac__inlets[IN1]__amps": 200.0})
    assert cords_of(derive(beyond))[0].fits is None


@pytest.mark.parametrize(
    ("practice", "cables", "name"),
    [
        # One may fill 53 %, two 31 %, more 40 % (NEC chapter 9 table 1): by hand, the inner diameter it takes.
        ("north_american", (10.0,), "1/2 in"),  # 10 / sqrt(0.53) = 13.7 mm of 15.8
        ("north_american", (10.0, 10.0), "1 in"),  # 10 * sqrt(2 / 0.31) = 25.4 mm of 26.6
        ("north_american", (10.0, 10.0, 10.0), "1 1/4 in"),  # 10 * sqrt(3 / 0.4) = 27.4 mm of 35.1
        ("international", (10.0,), "20 mm"),  # 13.7 mm of 14.1
        ("international", (10.0, 10.0), "40 mm"),  # 25.4 mm of 31.2
        ("international", (60.0,), None),
        ("international", (), None),
    ],
)
def test_conduits_by_hand(practice, cables, name):
    assert conduit_for(practice, cables) == name


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
def test_every_ac_conductor_is_listed_once_and_every_circuit_lies_in_one_bundle(name):
    design = derive(demo(name))
    found = ac_cables(design)
    assert [one.conductor.tag for one in found] == [one.tag for one in schedule(design) if one.carries == "AC"]
    assert sum(one.cord for one in found) == len(design.ac.inlets)
    together = bundles(design, found)
    assert sum(one.cables for one in together) == len(design.circuits)
    assert all(one.conduit for one in found if not one.cord)


def test_cords_rise_in_both_columns():
    for practice in ("north_american", "international"):
        rows = [row for row in cords().rows if row.practice == practice]
        assert [row.amps for row in rows] == sorted(row.amps for row in rows)
        assert all(row.three_a <= row.amps for row in rows)
