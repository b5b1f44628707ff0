"""How a charger sees the engine: verdicts held to a simulation of its switching, second by second."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests import jobs
from tests.building import v
from weighty_axle.design.derive import derive

CLINIC = jobs.plain("eye-clinic")


def _detection(low_v=None, on_v=26.9, off_v=25.5, delay_s=0.0, feed_m=9.0, senses="voltage", sag_s=300.0):
    job = CLINIC
    for one in job.converters:
        job = v(job, f"converters[{one.tag}].feed", "Rear cable")
    values = {
        "converters[ALT1].feed_m": feed_m,
        "converters[ALT1].senses": senses,
        "converters[ALT1].on_v": on_v,
        "converters[ALT1].off_v": off_v,
        "converters[ALT1].delay_s": delay_s,
        "charging.alternators[AL1].low_v": low_v,
        "charging.alternators[AL1].sag_s": sag_s,
    }
    for path, value in values.items():
        job = v(job, path, value)
    return next(one for one in derive(job).detections if one.tag == "ALT1")


def _switches(one, open_v, loaded_v, on_at_first=False):
    """How often it switches in a hundred looks at its terminals, which sag by its own current."""
    on, changes = on_at_first, 0
    for _ in range(100):
        seen = loaded_v if on else open_v
        then = (seen >= one.off_v) if on else (seen >= one.on_v)
        changes, on = changes + (then != on), then
    return changes, on


@settings(max_examples=60, deadline=None)
@given(
    on_v=st.floats(24.0, 28.5),
    apart=st.floats(0.05, 3.0),
    feed_m=st.floats(2.0, 16.0),
    low_v=st.one_of(st.none(), st.floats(23.5, 27.5)),
)
def test_a_verdict_is_what_the_charger_would_do(on_v, apart, feed_m, low_v):
    """Walked through: the engine off with a full battery, and running at every voltage from the sag to the top."""
    one = _detection(low_v, on_v, on_v - apart, 0.0, feed_m)
    off_changes, off_ends_on = _switches(one, one.resting_high_v.value, one.resting_loaded_v.value)
    drop = one.drop_v.value
    low, high = one.running_low_v.value, one.running_high_v.value
    running = [low + (high - low) * step / 40 for step in range(41)]
    hunting = [volts for volts in running if _switches(one, volts, volts - drop)[0] > 2]
    if one.verdict == "empties":
        assert off_ends_on and off_changes == 1
    elif one.verdict == "works":
        assert not hunting and off_changes == 0
        assert _switches(one, high, high - drop) == (1, True), "it goes on once the alternator is up"
        assert _switches(one, low, low - drop, on_at_first=True)[1], "and stays on while it sags"
    elif one.verdict == "never_on":
        assert not _switches(one, high, high - drop)[1]
    elif one.verdict == "drops":
        assert not _switches(one, low, low - drop, on_at_first=True)[1]
    else:
        assert one.verdict == "hunts" and (hunting or off_changes > 2 or one.hunts_v is not None)
    if hunting:
        assert one.verdict in ("hunts", "empties")
        assert one.verdict == "empties" or (one.hunts_v[0] - 0.2 <= hunting[0] and hunting[-1] <= one.hunts_v[1] + 0.2)


@settings(max_examples=40, deadline=None)
@given(
    feed_m=st.floats(1.0, 16.0),
    low_v=st.one_of(st.none(), st.floats(23.0, 28.0)),
    delay_s=st.sampled_from([0.0, 600.0]),
)
def test_settings_that_are_said_to_work_do(feed_m, low_v, delay_s):
    one = _detection(low_v, 26.9, 25.5, delay_s, feed_m)
    if one.settings is None:
        # Only a wire: no voltage lies between what rests loaded and what sags loaded.
        assert one.resting_loaded_v.value > one.loaded_low_v.value - 0.3
        return
    again = _detection(low_v, *one.settings, delay_s, feed_m)
    assert again.verdict == "works", (one.settings, again)


@pytest.mark.parametrize(
    ("changed", "verdict"),
    [
        ({}, "works"),
        ({"senses": "wire", "on_v": None, "off_v": None}, "wire"),
        ({"senses": "unsaid"}, "unsaid"),
        ({"on_v": None}, "unsaid"),
        ({"on_v": 28.4}, "never_on"),
        ({"on_v": 25.0, "off_v": 24.0}, "empties"),
        ({"on_v": 27.9, "off_v": 27.85, "feed_m": 14.0}, "hunts"),
        ({"low_v": 25.0}, "drops"),
        ({"low_v": 25.0, "delay_s": 400.0}, "works"),  # a delay that outlasts the sag
    ],
)
def test_verdicts_by_hand(changed, verdict):
    """28 V held, some tenths of a volt lost in the cable, a battery that rests at 25.6 V."""
    assert _detection(**changed).verdict == verdict
