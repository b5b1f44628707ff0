"""Filling capacitors: the closed forms against scipy's solver, energy, and the limits of the textbook."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from weighty_axle.physics.electric.precharge import after_closing, filling, inrush

CASES = [
    {"load_w": 0.0, "load_a": 0.0, "starts_v": 0.0},
    {"load_w": 25.0, "load_a": 0.0, "starts_v": 30.0},
    {"load_w": 8.0, "load_a": 0.0, "starts_v": 12.0},
    {"load_w": 0.0, "load_a": 0.4, "starts_v": 20.0},
]


@pytest.mark.parametrize("case", CASES)
def test_the_time_course_agrees_with_a_solver(case):
    """Independent route: scipy's solve_ivp, restarted where the load starts; heat by integrating current squared."""
    source, ohm, farad = 53.6, 20.0, 0.016
    found = filling(source_v=source, ohm=ohm, farad=farad, **case)
    assert not found.pinned
    start, end = 0.0, 6 * ohm * farad
    switch = min(found.to_start_s, end)

    def slope(_, state, on):
        amps = (source - state[0]) / ohm
        taken = (case["load_w"] / state[0] + case["load_a"]) if on else 0.0
        return [(amps - taken) / farad, amps**2 * ohm]

    state = [0.0, 0.0]
    for begin, until, on in ((start, switch, False), (switch, end, True)):
        if until - begin < 1e-9:
            continue
        times = np.linspace(begin, until, 25)
        solved = solve_ivp(slope, (begin, until), state, t_eval=times, args=(on,), rtol=1e-10, atol=1e-11)
        assert [found.voltage(at) for at in times] == pytest.approx(list(solved.y[0]), rel=1e-6, abs=1e-6)
        assert [found.resistor_j(at) for at in times] == pytest.approx(list(solved.y[1]), rel=1e-5, abs=1e-6)
        state = list(solved.y[:, -1])
    for share in (0.2, 0.6, 0.9):
        volts = share * found.ends_v
        assert found.voltage(found.time_to(volts)) == pytest.approx(volts, rel=1e-8)


@given(st.floats(10, 60), st.floats(1, 200), st.floats(1e-4, 0.1))
def test_without_a_load_half_of_what_the_source_gives_is_lost(volts, ohm, farad):
    """Textbook: C E²/2 in the resistor whatever its size; 95 % after three time constants (2.996)."""
    found = filling(source_v=volts, ohm=ohm, farad=farad)
    assert found.resistor_j(60 * ohm * farad) == pytest.approx(farad * volts**2 / 2, rel=1e-9)
    assert found.time_to(0.95 * volts) == pytest.approx(2.9957 * ohm * farad, rel=1e-4)


@pytest.mark.parametrize(
    ("case", "pinned"),
    [
        ({"load_w": 30.0, "starts_v": 15.0}, True),  # under the lower equilibrium: the quadratic promises 37.7 V
        ({"load_w": 30.0, "starts_v": 30.0}, False),
        ({"load_w": 60.0, "starts_v": 30.0}, True),  # no equilibrium at all
        ({"load_a": 2.0, "starts_v": 20.0}, True),
        ({"load_a": 0.3, "starts_v": 20.0}, False),  # never reaches 95 % though it is not pinned
    ],
)
def test_a_standby_load_pins_the_voltage_where_it_starts(case, pinned):
    """Trade fact: a standby load can hold the capacitors at its start voltage for ever; common practice, no source."""
    found = filling(source_v=53.6, ohm=20.0, farad=0.02, **case)
    assert found.pinned == pinned
    assert found.voltage(1e4) == pytest.approx(case["starts_v"] if pinned else found.ends_v, rel=1e-6)
    assert math.isinf(found.time_to(0.95 * 53.6)) == (found.ends_v < 0.95 * 53.6)


@settings(deadline=None)
@given(st.floats(0.002, 0.5), st.floats(2e-7, 2e-5), st.floats(1e-3, 0.05), st.floats(0, 50))
def test_closing_a_contact_agrees_with_a_solver(ohm, henry, farad, before):
    """Independent route: scipy's solve_ivp of the series circuit; V/R is never reached."""
    found = inrush(source_v=53.6, ohm=ohm, henry=henry, farad=farad, from_v=before)
    end = max(8 * math.sqrt(henry * farad), 6 * found.at_s)
    solved = solve_ivp(
        lambda _, s: [(53.6 - s[1] - s[0] * ohm) / henry, s[0] / farad],
        (0, end),
        [0.0, before],
        method="LSODA",
        rtol=1e-9,
        atol=1e-9,
        max_step=end / 2000,
    )
    assert found.peak_a == pytest.approx(solved.y[0].max(), rel=2e-3)
    assert found.peak_a < (53.6 - before) / ohm
    for at in range(0, len(solved.t), max(1, len(solved.t) // 7)):
        amps, volts = after_closing(
            source_v=53.6, ohm=ohm, henry=henry, farad=farad, from_v=before, at_s=float(solved.t[at])
        )
        assert amps == pytest.approx(solved.y[0][at], abs=2e-4 * found.peak_a + 1e-6)
        assert volts == pytest.approx(solved.y[1][at], abs=2e-3)
    if found.highest_v > 53.6 * 1.001:
        assert found.highest_v == pytest.approx(solved.y[1].max(), rel=2e-3)


@pytest.mark.parametrize(
    "call",
    [
        lambda: filling(source_v=0, ohm=1, farad=1),
        lambda: filling(source_v=1, ohm=1, farad=1, load_w=1, load_a=1),
        lambda: inrush(source_v=1, ohm=1, henry=0, farad=1, from_v=0),
        lambda: after_closing(source_v=1, ohm=1, henry=1, farad=0, from_v=0, at_s=1),
    ],
)
def test_what_cannot_be_is_refused(call):
    with pytest.raises(ValueError, match=r"positive|not both"):
        call()
