from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import v
from weighty_axle.answers.inverters.faults import far_end
from weighty_axle.design.derive import derive
from weighty_axle.design.inverters.ac_wiring import IMPLIED_FEEDER, IMPLIED_WIRE, ac_wiring, live_circuits
from weighty_axle.job.models.brief import Load, Span
from weighty_axle.reference import tables


@pytest.mark.parametrize(
    ("feed", "stacking", "lines"),
    [
        ("L1", "split_phase", ("L1",)),
        ("L2", "split_phase", ("L2",)),
        ("L1+L2", "split_phase", ("L1", "L2")),
        ("AC", "split_phase", ("L1",)),
        ("open", "split_phase", ("L1",)),
    ],
)
def test_loads_without_a_circuit_hang_where_they_are_fed(clinic, feed, stacking, lines):
    load = replace(clinic.loads[0], circuit="")
    ac, inverters = replace(clinic.ac, circuits=()), v(clinic, "inverters.stacking", stacking).inverters
    for practice, size in (("north_american", "12 AWG"), ("international", "2.5 mm2")):
        wiring = ac_wiring(ac, inverters, practice)
        wired = live_circuits(wiring, ac, (load,), {load.tag: feed}, inverters, (), practice)
        assert [(one.lines, one.circuit.size) for one in wired] == [(lines, size)]


@pytest.mark.parametrize("sizes", [(IMPLIED_FEEDER, 50.0), (IMPLIED_WIRE, 20.0)], ids=["feeder", "circuit"])
def test_what_nobody_states_is_of_a_size_for_its_breaker(sizes):
    """Against the table of what conductors carry: the least that its breaker guards."""
    by_practice, breaker_a = sizes
    for practice, size in by_practice.items():
        rows = [row for row in tables.ac_conductors().rows if row.practice == practice]
        assert min((row for row in rows if row.amps >= breaker_a), key=lambda row: row.amps).size == size


@pytest.mark.parametrize(("legs", "expected"), [(1, 2), (2, 2), (3, 3)])
def test_the_inlet_nobody_stated_has_a_pin_for_every_line(clinic, legs, expected):
    sources = tuple(replace(one, legs=legs, legs_in_phase=False) for one in clinic.inverters.sources)
    made = ac_wiring(replace(clinic.ac, inlets=()), replace(clinic.inverters, sources=sources), "north_american")
    assert [one.lines for one in made.inlets] == [expected]
    assert made.inlets[0].amps == max(one.amps for one in sources)


@pytest.mark.parametrize(("running_w", "start_multiple"), [(200.0, 1.0), (900.0, 3.0), (1500.0, 5.0)])
@pytest.mark.parametrize("loop_ohm", [0.2, 0.9])
def test_the_far_end_by_a_fixed_point(puppet, running_w, start_multiple, loop_ohm):
    """One panel, one motor: volts behind a resistance, constant power by iteration, the start as an impedance of power
    factor 0.4 (common practice, no source).
    """
    motor = Load(
        tag="MO",
        name="Motor",
        supply="AC",
        power_factor=0.8,
        running_w=running_w,
        start_multiple=start_multiple,
        circuit="CK1",
        patterns={"SHOW": (Span(0, 1440, 1.0),)},
    )
    job = replace(
        puppet, loads=(motor,), ac=replace(puppet.ac, circuits=puppet.ac.circuits[:1], panels=puppet.ac.panels[:1])
    )
    job = v(job, "inverters.sources[P16].loop_ohm", loop_ohm)
    design = derive(job)
    source = next(one for one in job.inverters.sources if one.tag == "P16")
    got = far_end(design, source)
    panel = design.ac.panels[0]
    ohm = loop_ohm + 2 * panel.length_m * design.panels.panels[0].drop_share.inputs[1].value
    va, start_va = (
        design.panels.circuits[0].running_a.value * 230.0,
        running_w / motor.power_factor * (start_multiple - 1),
    )

    def settled(extra_va):
        volts = 230.0 + 0j
        for _ in range(400):
            amps = np.conj(va / volts)
            if extra_va:
                amps += volts / (230.0**2 / np.conj(extra_va * (0.4 + 1j * np.sqrt(1 - 0.16))))
            volts = 0.5 * volts + 0.5 * (230.0 - ohm * amps)
        return abs(volts)

    assert got.running_v.value == pytest.approx(settled(0.0), abs=0.05)
    assert got.starting_v.value == pytest.approx(settled(start_va), abs=0.1)
    assert got.starting_v.value <= got.running_v.value + 1e-9
