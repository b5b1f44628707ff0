"""Filling against an independent integration and closed forms; feeds against a nodal solution; fuel and derating
against published rules.
"""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import fsolve

from weighty_axle.physics.electric.alternators import hot_output_a
from weighty_axle.physics.electric.batteries import VoltageCollapseError
from weighty_axle.physics.electric.feeds import Branch, shared_feed
from weighty_axle.physics.electric.filling import fill
from weighty_axle.physics.electric.generators import fuel_l_per_h
from weighty_axle.reference.tables import open_circuit

TABLE = {row.chemistry: row for row in open_circuit().rows}


def _filling(chemistry="lfp", cells=16, **changed):
    row = TABLE[chemistry]
    asked = {
        "from_soc": 0.2,
        "to_soc": 1.0,
        "capacity_ah": 600.0,
        "resistance_ohm": 0.004,
        "soc": row.soc,
        "rest_v": [cells * volts for volts in row.cell_v],
        "held_v": 3.5 * cells,
        "source_a": 200.0,
        "source_w": math.inf,
        "bank_a": 300.0,
        "drawn_w": 0.0,
        "tail_a": 18.0,
    }
    return asked | changed


@pytest.mark.parametrize(
    "changed",
    [
        {},
        {"drawn_w": 900.0, "charge_efficiency": 0.97},
        {"source_w": 7000.0, "source_a": 1e6},
        {"bank_a": 90.0, "held_v": 3.6 * 16},
        {"resistance_ohm": 0.02, "held_v": 3.45 * 16},
        {"chemistry": "agm", "cells": 6, "held_v": 14.4, "accepts_per_h": 1.0, "tail_a": 6.0, "resistance_ohm": 0.003},
    ],
)
def test_the_time_to_fill_by_an_integration(changed):
    """The same charge balance handed to SciPy's integrator, the current written a second time."""
    asked = _filling(**changed)
    found = fill(**asked)
    accepts = asked.get("accepts_per_h", math.inf)
    ohm, capacity = asked["resistance_ohm"], asked["capacity_ah"]

    def amps(soc):
        rest = np.interp(soc, asked["soc"], asked["rest_v"])
        by_w = math.inf
        if math.isfinite(asked["source_w"]):
            by_w = (-rest + math.sqrt(rest**2 + 4 * ohm * asked["source_w"])) / (2 * ohm)
        into = min(asked["source_a"], by_w)
        left = min(into - asked["drawn_w"] / (rest + ohm * into), asked["bank_a"])
        held = (asked["held_v"] - rest) / ohm
        return min(left, held, accepts * capacity * (1 - soc) if math.isfinite(accepts) else math.inf)

    def full(_hour, soc):
        return amps(soc[0]) - asked["tail_a"]

    full.terminal = True
    kept = asked.get("charge_efficiency", 1.0)
    run = solve_ivp(
        lambda _hour, soc: [amps(soc[0]) * kept / capacity], (0, 60), [0.2], events=full, rtol=1e-9, max_step=0.01
    )
    assert found.ended == "full"
    assert found.hours[-1] == pytest.approx(run.t[-1], rel=2e-4)
    assert found.soc[-1] == pytest.approx(run.y[0, -1], rel=1e-4)
    assert all(volts <= asked["held_v"] + 1e-6 for volts in found.volts)


def test_the_taper_of_a_constant_resistance_in_closed_form():
    """Rest voltage in a straight line: first the current is even, then it falls as e to the minus t over R C, where C
    is charge over voltage.
    """
    low_v, high_v, ohm, capacity, source, held = 48.0, 54.0, 0.02, 200.0, 100.0, 53.0
    found = fill(
        **_filling(
            soc=(0.0, 1.0),
            rest_v=[low_v, high_v],
            resistance_ohm=ohm,
            capacity_ah=capacity,
            source_a=source,
            bank_a=1e9,
            held_v=held,
            tail_a=5.0,
            from_soc=0.0,
        )
    )
    even_to = (held - source * ohm - low_v) / (high_v - low_v)
    even_h = even_to * capacity / source
    tau_h = ohm * capacity / (high_v - low_v)
    assert found.held_from_h == pytest.approx(even_h, rel=1e-6)
    assert found.hours[-1] == pytest.approx(even_h + tau_h * math.log(source / 5.0), rel=1e-6)
    assert found.amps[-1] == pytest.approx(5.0)


@given(
    source=st.floats(20, 400),
    first=st.floats(0.02, 0.9),
    ohm=st.floats(0.0005, 0.02),
    drawn=st.floats(0, 2000),
    chemistry=st.sampled_from(["lfp", "flooded", "agm"]),
)
def test_charge_and_energy_balance(source, first, ohm, drawn, chemistry):
    """What flowed in is what the state of charge says; the energy at the terminals is what went into the cells and what
    the resistance burned.
    """
    cells = 16 if chemistry == "lfp" else 24
    full_v = 3.6 * 16 if chemistry == "lfp" else 2.4 * 24
    found = fill(
        **_filling(chemistry, cells, source_a=source, from_soc=first, resistance_ohm=ohm, held_v=full_v, drawn_w=drawn)
    )
    hours, soc, amps = np.array(found.hours), np.array(found.soc), np.array(found.amps)
    steps = np.diff(hours)
    # Straight lines between points of charge are exponentials in time: the logarithmic mean is their even current.
    mean = np.array([(a - b) / math.log(a / b) if abs(a - b) > 1e-9 * a else a for a, b in itertools.pairwise(amps)])
    assert (mean * steps).sum() == pytest.approx((soc[-1] - soc[0]) * 600.0, rel=1e-6, abs=1e-9)
    assert (np.diff(soc) >= 0).all() and (steps >= 0).all()
    moved = np.diff(soc) * 600.0
    volts, rest = np.array(found.volts), np.array(found.rest_v)
    into = (moved * (volts[1:] + volts[:-1]) / 2).sum()
    stored = (moved * (rest[1:] + rest[:-1]) / 2).sum()
    lost = (moved * ((volts - rest)[1:] + (volts - rest)[:-1]) / 2).sum()
    assert into == pytest.approx(stored + lost, rel=1e-6, abs=1e-6)
    before = hours < found.held_from_h
    assert np.allclose(volts[before] - rest[before], amps[before] * ohm, atol=1e-9)
    assert len(hours) > 1 or found.ended in ("never", "full")


@given(
    volts=st.floats(12, 60),
    shared=st.floats(0.0, 0.02),
    powers=st.lists(st.floats(50, 900), min_size=1, max_size=5),
    lead=st.floats(0, 0.02),
)
def test_a_shared_cable_by_its_nodes(volts, shared, powers, lead):
    """Kirchhoff and Ohm handed to a root finder; what leaves the bar is what arrives and what the cables burn."""
    branches = tuple(Branch(power, lead, math.inf) for power in powers)
    strain = (shared * sum(powers) + lead * max(powers)) / volts**2  # a quarter is what a cable can carry at all
    if strain > 0.22:
        assume(strain > 0.5)
        with pytest.raises(VoltageCollapseError):
            shared_feed(source_v=volts, shared_ohm=shared, branches=branches)
        return
    fed = shared_feed(source_v=volts, shared_ohm=shared, branches=branches)

    def off(at):
        return [power - amp * (volts - shared * sum(at) - lead * amp) for power, amp in zip(powers, at, strict=True)]

    found = fsolve(off, [power / volts for power in powers], xtol=1e-10)
    assert fed.amps == pytest.approx(list(found), rel=1e-5)
    burned = shared * sum(fed.amps) ** 2 + sum(lead * amp**2 for amp in fed.amps)
    assert volts * sum(fed.amps) == pytest.approx(sum(powers) + burned, rel=1e-6)


@pytest.mark.parametrize(
    ("rpm", "air_c", "amps"),
    [(1500, 90, 0.0), (1800, 90, 60.0), (2400, 90, 90.0), (9000, 90, 180.0), (1800, 110, 57.0), (1800, 50, 66.0)],
)
def test_hot_output_by_hand(rpm, air_c, amps):
    """Points 1800/60, 3000/120, 6000/180; a quarter of a percent per kelvin (common practice, no source)."""
    found = hot_output_a(shaft_rpm=(1800, 3000, 6000), amps=(60, 120, 180), at_rpm=rpm, curve_c=90, air_c=air_c)
    assert found == pytest.approx(amps)


def test_fuel_by_a_straight_line():
    """1.2 l/h at full, 0.75 at half: 0.3 without load, and the same line everywhere (Willans line)."""
    assert [
        fuel_l_per_h(load_w=watts, full_w=3000, full_l_per_h=1.2, half_l_per_h=0.75) for watts in (0, 1500, 3000)
    ] == [pytest.approx(0.3), 0.75, pytest.approx(1.2)]


@pytest.mark.parametrize("height_m", [500, 1000, 1500, 2000])
def test_derating_stays_on_the_safe_side_of_a_published_rule(clinic, height_m):
    """ISO 3046-1, naturally aspirated engines (m = 1, n = 0.75, mechanical efficiency 0.8; recalled): power at a height
    by the standard atmosphere's pressure (ISA, recalled). The usual 3.5 % per 300 m lies within 3 % of the rating of
    that on the high side.
    """
    from weighty_axle.job.models.inverters import Generator

    made = Generator(rated_va=1000.0)
    kelvin = 288.15 - 0.0065 * height_m
    pressure = (kelvin / 288.15) ** 5.2559
    k = pressure
    alpha = k - 0.7 * (1 - k) * (1 / 0.8 - 1)
    ours = 1 - made.lost_per_300_m * height_m / 300
    assert ours <= alpha + 0.03 and ours == pytest.approx(alpha, abs=0.1)
