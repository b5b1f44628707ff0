"""Every job the window can begin with: nothing at Stop, one practice throughout, sources that its inverters take."""

from __future__ import annotations

import re

import pytest

from weighty_axle.design.cables import feeder_cores
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.files.store import encode
from weighty_axle.reference.first_job import AC_KINDS, Beginning, begun_as, first_job
from weighty_axle.reference.vehicle_types import vehicle_types
from weighty_axle.rules.judge import judge

SHAPES = [
    Beginning(practice, volts, ac) for practice, kinds in AC_KINDS.items() for ac in kinds for volts in (12, 24, 48)
]


@pytest.mark.parametrize("shape", SHAPES, ids=lambda one: f"{one.practice} {one.volts} {one.ac}")
@pytest.mark.parametrize("kind", vehicle_types().rows[::3], ids=lambda one: one.key)
def test_a_new_job_has_nothing_at_stop_and_conductors_of_its_practice_alone(kind, shape):
    job = first_job(kind, shape)
    design = derive(job)
    assert problems(job) == [] and begun_as(job, kind) == shape
    assert [one.sentence() for one in judge(design) if one.rule.severity == "stop"] == []
    said = encode(job).decode() + " ".join(one.circuit.size for one in design.circuits)
    said += " ".join(one.size for one in design.ac.panels)
    assert not re.search(r"\d mm2" if shape.practice == "north_american" else r"\d AWG", said)
    # What it is plugged into lets its inverters have something.
    assert all(row.accepted for row in design.sources)
    # In a cable one core for each line, the neutral and the earth.
    lines = {"none": 1, "one_line": 1, "split_phase": 2, "three_phase": 3}[shape.ac]
    assert set(feeder_cores(job.ac, job.inverters).values()) == {lines + 2}
