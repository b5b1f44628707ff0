from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import v
from weighty_axle.design.derive import derive
from weighty_axle.job.models.brief import Load


@pytest.mark.parametrize("switch", [True, False])
@pytest.mark.parametrize("remote", [True, False])
@pytest.mark.parametrize("must_run", [True, False])
def test_what_a_sleeping_vehicle_takes(puppet, switch, remote, must_run):
    """By hand: packs always, a load by its standby, without one by its mean power if it must run; inverters off only
    where something turns them off.
    """
    cooler = Load(
        tag="CL",
        name="Cooler",
        supply="DC_24",
        power_factor=1.0,
        running_w=60.0,
        count=3,
        duty=0.25,
        must_run=must_run,
        patterns={},
    )
    lamp = Load(
        tag="LP",
        name="Lamps",
        supply="DC_24",
        power_factor=1.0,
        running_w=10.0,
        count=2,
        standby_w=0.5,
        must_run=must_run,
        patterns={},
    )
    job = replace(v(v(puppet, "ac.circuits", ()), "ac.storage.switch", switch), loads=(cooler, lamp))
    job = v(v(job, "inverters.remote_switch", remote), "ac.storage.alive", ("CL",))
    took = {one.tag: one for one in derive(job).storage.sleepers}
    assert ("CL" in took) is must_run and (
        not must_run or (took["CL"].watts == pytest.approx(60 * 3 * 0.25) and took["CL"].alive)
    )
    assert took["LP"].watts == pytest.approx(0.5 * 2) and took["LP"].alive is not switch
    unit = job.inverters.units[0].tag
    assert took[unit].watts == (job.inverters.spec.off_w if switch or remote else job.inverters.spec.no_load_w)
    assert took[unit].alive is not switch
    packs = sum(not one.out for one in job.bank.packs)
    expected = job.ac.storage.pack_w * packs + sum(
        one.watts for tag, one in took.items() if one.alive and tag != job.bank.packs[0].tag
    )
    assert derive(job).storage.alive_w.value == pytest.approx(expected)
