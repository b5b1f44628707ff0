from __future__ import annotations

import random

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import v
from weighty_axle.answers.brief.peaks import coincidence, honest_peak
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.brief import add_load
from weighty_axle.job.models.brief import ALL_YEAR, Load, Span


def test_energy_of_a_day_by_hand(puppet):
    """One 1000 W load for 2 h at half level on one inverter: sums of docs/methods.md worked by hand.

    Curve of the 3 kVA unit: r2 = 7.3e-3^2 ..., here taken from the fit and integrated by numpy in one-minute steps.
    """
    load = Load(
        tag="LDX",
        name="Test lamp",
        supply="AC",
        running_w=1000.0,
        power_factor=1.0,
        duty=0.8,
        standby_w=10.0,
        patterns={"SHOW": (Span(600, 720, 0.5),)},
    )
    job = add_load(load).apply(replace(puppet, loads=()))
    design = derive(job)
    day, curve = design.brief.days["SHOW"], design.brief.curve
    assert day.ac_energy_wh.value == pytest.approx(1000 * 0.5 * 0.8 * 2 + 10 * 22)
    assert day.no_load_energy_wh.value == pytest.approx(16 * 24)
    minute_w = np.where((np.arange(1440) >= 600) & (np.arange(1440) < 720), 400.0, 10.0)
    loss_wh = np.sum(curve.p0_w + curve.r1 * minute_w + curve.r2_per_w * minute_w**2) / 60
    assert day.bank_energy_wh.value == pytest.approx(day.ac_energy_wh.value + loss_wh, rel=1e-9)
    assert day.peak_ac_w.value == 500.0
    assert day.peak_at_min == 600


def test_losses_make_the_bank_give_more_than_the_loads_take(design):
    for day in design.brief.days.values():
        assert day.bank_energy_wh.value >= day.ac_energy_wh.value + day.dc_energy_wh.value
        profile = design.brief.profiles[day.profile]
        assert sum(w * h for w, h in zip(profile.bank_w, profile.mean_w.hours(), strict=True)) == pytest.approx(
            day.bank_energy_wh.value, rel=1e-9
        )


@pytest.mark.parametrize("seed", range(6))
def test_steady_loads_minute_by_minute(puppet, seed):
    """Loads that do not cycle need no drawing: every drawn day is the painted one, standby in the gaps, minute by
    minute.
    """
    dice = random.Random(seed)
    loads = []
    for at in range(5):
        cuts = sorted(dice.sample(range(0, 1440, 5), 4))
        spans = tuple(Span(a, b, dice.choice([0.5, 1.0])) for a, b in (cuts[:2], cuts[2:]))
        loads.append(
            Load(
                tag=f"LD{at}",
                name=f"Thing {at}",
                supply="AC" if at % 2 else "DC_24",
                power_factor=1.0,
                running_w=float(dice.randint(20, 900)),
                count=dice.randint(1, 3),
                standby_w=float(dice.choice([0, 0, 4])),
                patterns={"SHOW": spans},
                seasons=ALL_YEAR,
            )
        )
    design = derive(replace(v(puppet, "ac.circuits", ()), loads=tuple(loads)))
    minutes = np.zeros((2, 1440))
    for load in loads:
        own = np.full(1440, load.standby_w * load.count)
        for span in load.patterns["SHOW"]:
            own[span.start_min : span.end_min] = load.running_w * load.count * span.level
        minutes[int(load.supply == "AC")] += own
    got = coincidence(design, "SHOW")
    assert got.all_feeds.mean_w == pytest.approx(minutes.sum(axis=0)[::5]) and got.all_feeds.p95_w == pytest.approx(
        got.all_feeds.mean_w
    )
    assert (
        honest_peak(design, "SHOW").value
        == pytest.approx(minutes[1].max())
        == pytest.approx(design.brief.days["SHOW"].peak_ac_w.value)
    )
    assert design.brief.days["SHOW"].ac_energy_wh.value == pytest.approx(minutes[1].sum() / 60)
    assert design.brief.days["SHOW"].dc_energy_wh.value == pytest.approx(minutes[0].sum() / 60)
