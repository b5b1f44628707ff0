from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import half_panel, load, told, v, words
from weighty_axle.answers.inverters.balance import balanced
from weighty_axle.answers.inverters.panel_proposals import circuits_for_loads
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.inverters import set_leg, set_stacking, set_wiring
from weighty_axle.job.models.inverters import panel_lines


def test_a_circuit_on_a_leg_its_panel_lacks_is_told(clinic):
    (finding,) = told(half_panel(clinic), "inverters.circuit-dead")
    assert finding.rule.severity == "stop" and "Half panel" in words(finding)
    assert not told(finding.remedy.apply(half_panel(clinic)), "inverters.circuit-dead")
    assert not told(half_panel(clinic, "open"), "inverters.circuit-dead"), "an open leg becomes one the panel has"


@pytest.mark.parametrize("press", ["set_leg", "move", "stacking", "circuits", "balance", "leg_heavy", "takes"])
def test_no_press_of_the_program_kills_a_circuit(clinic, press):
    job = half_panel(clinic, "L1")
    if press == "set_leg":
        with pytest.raises(EditRefusedError, match="Half panel has no L2"):
            set_leg(job, "CK1", "L2").apply(job)
    elif press == "move":
        job = set_wiring("ac.circuits[CK2].panel", "HALF", "").apply(set_leg(job, "CK2", "L2").apply(job))
    elif press == "stacking":
        job = set_stacking("three_phase").apply(
            v(job, "inverters.units", (*job.inverters.units, replace(job.inverters.units[0], tag="INV3", leg="L1")))
        )
        job = set_stacking("split_phase").apply(job)
    elif press == "circuits":
        job = replace(
            job, loads=(*job.loads, load("LDC", "L2", 700, (8, 9))), ac=replace(job.ac, panels=job.ac.panels[::-1])
        )
        job = circuits_for_loads(derive(job)).apply(job)
    elif press == "balance":
        found = balanced(derive(job))
        job = found.edit.apply(job) if found.edit else job
        assert next(one for one in derive(job).circuits if one.tag == "CK1").lines == ("L1",)
    elif press == "leg_heavy":
        (finding,) = told(job, "inverters.leg-heavy")
        job = finding.remedy.apply(job)
    else:
        job = set_wiring("ac.panels[HALF].line", "L2", "").apply(job)
    assert problems(job) == [] and not told(job, "inverters.circuit-dead")
    assert all(set(one.lines) <= set(panel_lines(job.ac, job.inverters)[one.panel]) for one in derive(job).circuits)
