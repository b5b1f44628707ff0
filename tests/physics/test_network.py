"""Direct-current networks with loads of constant power, against an independent engine, matrices and closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import optimize

from weighty_axle.physics.electric.network import Branch, Network, settle

# Twelve branches: a main run, a bar of four studs, leads, and a panel with three circuits; out and back [ohm].
TREE = (
    ("bank", "s1", 0.0012),
    ("s1", "s2", 5e-6),
    ("s2", "s3", 5e-6),
    ("s3", "s4", 5e-6),
    ("s1", "inv1", 0.0021),
    ("s2", "inv2", 0.0026),
    ("s3", "cc1", 0.006),
    ("s4", "panel", 0.012),
    ("panel", "lights", 0.09),
    ("panel", "fans", 0.06),
    ("panel", "pump", 0.05),
    ("inv1", "inv2", 0.02),
)
STATES = {
    "full load": {"inv1": 3200.0, "inv2": 2900.0, "lights": 60.0, "fans": 90.0, "pump": 110.0},
    "one inverter": {"inv2": 5100.0, "lights": 40.0},
    "surge": {"inv1": 8800.0, "inv2": 8100.0, "fans": 90.0},
    "charging": {"cc1": -2800.0, "lights": 60.0},
    "night": {"lights": 12.0, "fans": 25.0},
}


@pytest.mark.parametrize("name", STATES)
def test_a_tree_of_twelve_branches_agrees_with_opendss_and_scipy(name):
    """OpenDSS's full solver at unity power factor has the same equations; scipy finds the same root."""
    from opendssdirect import dss

    drawn = STATES[name]
    branches = [Branch("0", "bank", 1e-6, 50.0), *(Branch(*one) for one in TREE)]
    ours = settle(Network(branches, "0"), drawn_w=drawn, drawn_a={}, within_v=1e-10)
    assert not ours.collapsed and ours.residual_v <= 1e-10
    run = dss.Text.Command
    run("clear")
    run("new circuit.c bus1=bank.1 phases=1 basekv=0.05 pu=1.0 angle=0 r1=1e-6 x1=1e-9 r0=1e-6 x0=1e-9")
    for at, (start, end, ohm) in enumerate(TREE):
        run(f"new reactor.r{at} bus1={start}.1 bus2={end}.1 phases=1 r={ohm} x=1e-10")
    for node, watts in drawn.items():
        run(f"new load.l{node} bus1={node}.1 phases=1 kv=0.05 kw={watts / 1000} pf=1 model=1 vminpu=0.3 vmaxpu=2")
    run("set tolerance=1e-11")
    run("set maxiterations=900")
    run("solve")
    assert dss.Solution.Converged()
    for node in {end for _, end, _ in TREE}:
        dss.Circuit.SetActiveBus(node)
        assert ours.solution.node_v[node] == pytest.approx(dss.Bus.Voltages()[0], abs=2e-5), node
    nodes = sorted(ours.solution.node_v.keys() - {"0"})

    def left_over(volts):
        at = dict(zip(nodes, volts, strict=True)) | {"0": 0.0}
        return [
            sum(
                (at[one.start] - at[one.end] + one.emf_v) / one.ohm * ((one.end == node) - (one.start == node))
                for one in branches
            )
            - drawn.get(node, 0.0) / at[node]
            for node in nodes
        ]

    root = optimize.fsolve(left_over, [50.0] * len(nodes), xtol=1e-10)
    assert root == pytest.approx([ours.solution.node_v[node] for node in nodes], abs=1e-6)


@given(st.lists(st.floats(0.001, 5.0), min_size=3, max_size=14), st.integers(0, 2**30), st.floats(-40, 40))
def test_any_mesh_solves_as_its_matrix_does(ohms, seed, amps):
    """Independent route: the dense matrix of conductances by numpy."""
    draw = np.random.default_rng(seed)
    count = len(ohms) // 2 + 1
    branches = [Branch("n0" if at == 0 else f"n{draw.integers(at)}", f"n{at}", ohms[at]) for at in range(1, count)]
    branches += [
        Branch(f"n{a}", f"n{b}", ohm) for ohm in ohms[count:] for a, b in [sorted(draw.choice(count, 2, replace=False))]
    ]
    branches.append(Branch("n0", "n1", 0.5, 12.0))
    found = Network(branches, "n0").solve({f"n{count - 1}": amps})
    matrix, flow = np.zeros((count, count)), np.zeros(count)
    for one in branches:
        a, b = int(one.start[1:]), int(one.end[1:])
        for i, j, sign in ((a, a, 1), (b, b, 1), (a, b, -1), (b, a, -1)):
            matrix[i, j] += sign / one.ohm
        flow[a] -= one.emf_v / one.ohm
        flow[b] += one.emf_v / one.ohm
    flow[count - 1] -= amps
    volts = np.concatenate([[0.0], np.linalg.solve(matrix[1:, 1:], flow[1:])])
    assert [found.node_v[f"n{at}"] for at in range(count)] == pytest.approx(list(volts), abs=1e-8)


@given(st.floats(5, 60), st.floats(1e-4, 0.5), st.floats(0.01, 0.98))
def test_a_load_of_constant_power_finds_the_upper_of_its_two_points(emf, ohm, share):
    """Textbook: V = (E + √(E² − 4 P R)) / 2 while P is under E²/4R; what the source gives is what is drawn and lost."""
    watts = share * emf**2 / (4 * ohm)
    found = settle(Network([Branch("0", "a", ohm, emf)], "0"), drawn_w={"a": watts}, drawn_a={}, within_v=1e-12)
    volts = found.solution.node_v["a"]
    assert not found.collapsed
    assert volts == pytest.approx((emf + math.sqrt(emf**2 - 4 * watts * ohm)) / 2, rel=1e-6)
    amps = found.solution.branch_a[0]
    assert emf * amps == pytest.approx(watts + amps**2 * ohm, rel=1e-6)


@pytest.mark.parametrize("share", [1.0001, 1.2, 10.0])
def test_more_than_a_path_can_carry_is_a_collapse_not_a_failed_search(share):
    watts = share * 48.0**2 / (4 * 0.05)
    assert settle(Network([Branch("0", "a", 0.05, 48.0)], "0"), drawn_w={"a": watts}, drawn_a={}).collapsed


@pytest.mark.parametrize(
    ("branches", "drawn", "said"),
    [
        ([Branch("0", "a", 0.0)], {}, "not positive"),
        ([Branch("0", "a", 1.0), Branch("b", "c", 1.0)], {}, "not connected"),
        ([Branch("0", "a", 1.0)], {"z": 1.0}, "in no branch"),
    ],
)
def test_what_is_no_network_is_said_in_words(branches, drawn, said):
    with pytest.raises(ValueError, match=said):
        Network(branches, "0").solve(drawn)
