from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import told, words
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.models.brief import Existing


def found_on_board(**more):
    base = {"tag": "EX1", "name": "Old charger", "kind": "charger", "nominal_v": 12.0, "disposition": "keep"}
    return Existing(**{**base, **more})


BATTERY = {
    "tag": "EX2",
    "name": "Kept battery",
    "kind": "battery",
    "chemistry": "lead_acid",
    "ties_to": "other_battery",
}


LINK = {"tag": "EX3", "name": "Combiner", "kind": "battery_link"}


@pytest.mark.parametrize(
    ("pieces", "rule", "fires"),
    [
        ([{"fed_from": "inverter", "ties_to": "house_bank", "nominal_v": 48.0}], "brief.charger-on-inverter", True),
        ([{"fed_from": "inverter", "ties_to": "other_battery"}, BATTERY], "brief.charger-on-inverter", False),
        ([{"fed_from": "inverter", "ties_to": "starter_battery"}], "brief.charger-on-inverter", False),
        (
            [
                {"fed_from": "inverter", "ties_to": "other_battery"},
                {**LINK, "fed_from": "other_battery", "ties_to": "house_bank"},
            ],
            "brief.charger-on-inverter",
            None,
        ),
        (
            [
                {"fed_from": "inverter", "ties_to": "starter_battery"},
                {**LINK, "fed_from": "starter_battery", "ties_to": "house_bank"},
            ],
            "brief.charger-on-inverter",
            True,
        ),
        ([{"fed_from": "shore", "ties_to": "house_bank", "nominal_v": 48.0}], "brief.charger-on-inverter", False),
        ([BATTERY, {**LINK, "fed_from": "house_battery", "ties_to": "starter_battery"}], "brief.battery-link", False),
        ([{**LINK, "fed_from": "house_battery", "ties_to": "starter_battery"}], "brief.battery-link", True),
        ([{**LINK, "fed_from": "starter_battery", "ties_to": "house_bank"}], "brief.battery-link", True),
        (
            [
                {
                    "kind": "solar_controller",
                    "ties_to": "house_bank",
                    "also_v": 48.0,
                    "can_reprogram": True,
                    "disposition": "reprogram",
                }
            ],
            "brief.controller-other-voltage",
            False,
        ),
        (
            [
                {
                    "kind": "solar_controller",
                    "ties_to": "house_bank",
                    "also_v": 24.0,
                    "can_reprogram": True,
                    "disposition": "reprogram",
                }
            ],
            "brief.controller-other-voltage",
            True,
        ),
        ([{"kind": "breaker", "rated_v": 32.0, "fed_from": "modules"}], "brief.breaker-voltage", True),
        ([{"kind": "breaker", "rated_v": 150.0, "fed_from": "modules"}], "brief.breaker-voltage", False),
        (
            [{"kind": "breaker", "rated_v": 32.0, "fed_from": "starter_battery", "ties_to": "starter_battery"}],
            "brief.breaker-voltage",
            False,
        ),
    ],
)
def test_found_equipment_is_judged_by_what_it_really_meets(clinic, pieces, rule, fires):
    """Common practice, no source: a loop is a way round; two lead-acid batteries may be linked; a string's breaker
    meets the string's cold voltage.
    """
    if fires is None:
        pytest.skip("a link is fed from a battery the list of feeds does not name")
    job = replace(clinic, existing=tuple(found_on_board(**one) for one in pieces))
    assert problems(job) == []
    found = told(job, rule)
    assert bool(found) is fires
    if rule == "brief.breaker-voltage" and fires:
        cold = max(one.cold_voc_v.value for one in derive(job).roof.strings)
        assert f"{cold:.0f} V" in words(found[0])


def test_keep_is_respected_afterwards(clinic):
    pieces = (
        found_on_board(**BATTERY),
        found_on_board(tag="EX4", name="12 V lamps", kind="loads", fed_from="house_battery", ties_to="other_battery"),
    )
    feeds = {feed.consumer: feed.source for feed in derive(replace(clinic, existing=pieces)).equipment.feeds}
    assert feeds["12 V house loads"] == "Kept battery"
    going = tuple(replace(one, disposition="remove") if one.tag == "EX2" else one for one in pieces)
    assert (
        "new 48 V bank"
        in {feed.consumer: feed.source for feed in derive(replace(clinic, existing=going)).equipment.feeds}[
            "12 V house loads"
        ]
    )
