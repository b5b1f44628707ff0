"""Loss a year: by a route of its own, and as it goes with copper."""

from __future__ import annotations

import numpy as np
import pytest

from weighty_axle.answers.wiring.losses import loss_a_year
from weighty_axle.design.derive import derive


def test_a_year_is_the_day_sampled_minute_by_minute(puppet):
    """Independent route: the bank's power of every minute, squared and summed."""
    design = derive(puppet)
    run = design.wiring.main
    profile = design.brief.profiles[design.brief.days[design.brief.design_day].profile]
    watts = np.zeros(1440)
    for start, end, power in zip(profile.mean_w.times_min, profile.mean_w.times_min[1:], profile.bank_w, strict=False):
        watts[start:end] = power
    amps = watts / design.bank.nominal_v.value
    for one in run.candidates[-4:]:
        ohm = one.drop_v / run.current_a.value
        assert loss_a_year(design, run, one).value == pytest.approx(365 * ohm * (amps**2).sum() / 60, rel=1e-9)


def test_more_copper_loses_less_and_chargers_are_not_guessed_at(puppet):
    design = derive(puppet)
    single = [one for one in design.wiring.main.candidates if one.count == 1]
    losses = [loss_a_year(design, design.wiring.main, one).value for one in single]
    assert losses == sorted(losses, reverse=True)
    charger = next(run for run in design.wiring.runs if run.end == "CC1")
    assert loss_a_year(design, charger, charger.candidates[0]) is None
