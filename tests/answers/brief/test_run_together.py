from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle.answers.brief.run_together import run_together
from weighty_axle.design.derive import derive
from weighty_axle.job.models.brief import Load


def test_what_runs_together_is_counted_line_by_line(clinic):
    """What hangs across both lines is shared by them; each line's inverters lose by their own power."""
    loads = tuple(
        Load(tag=tag, name=tag, supply=feed, running_w=watts, power_factor=1.0, patterns={})
        for tag, feed, watts in (("ONE", "L1", 2000.0), ("TWO", "L2", 500.0), ("BOTH", "L1+L2", 600.0))
    )
    job = replace(clinic, loads=loads, ac=replace(clinic.ac, circuits=(), storage=replace(clinic.ac.storage, alive=())))
    design = derive(job)
    result = run_together(design, ("ONE", "TWO", "BOTH"))
    assert [leg.value for leg in result.legs_va] == [2300.0, 800.0]
    curve, volts, ohm = design.brief.curve, design.bank.lowest_working_v.value, design.bank.resistance_ohm.value
    amps = result.bank_a.value
    assert amps * (volts - ohm * amps) == pytest.approx(3100 + curve.loss_w(2300) + curve.loss_w(800))
