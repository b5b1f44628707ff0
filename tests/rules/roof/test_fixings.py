from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import found, v
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.roof import add_remote


@pytest.mark.parametrize(("times", "stops"), [(0.99, True), (1.0, False), (1.01, False)])
def test_a_fixing_is_stopped_just_above_what_it_may_take(puppet, times, stops):
    """½ ρ v² c A − m g, times the safety, over the fixings of a module.

    Source: textbook relation; ρ = 1.225 kg/m³ (standard atmosphere, recalled).
    """
    stated, spec = puppet.roof.fixing, puppet.roof.module
    wind = (stated.speed_km_per_h + stated.headwind_km_per_h) / 3.6
    lift = 0.5 * 1.225 * wind**2 * stated.lift_coefficient * spec.length_m * spec.width_m
    pull = (lift - 9.81 * spec.mass_kg) * stated.safety / stated.each
    assert derive(puppet).fixings.pull_n.value == pytest.approx(pull)
    assert (
        found(v(puppet, "roof.fixing.allowed_n", derive(puppet).fixings.pull_n.value * times), "roof.fixing-pull")
        is not None
    ) == stops


@pytest.mark.parametrize("where", ["ground", "building", "trailer"])
@pytest.mark.parametrize(("mass_kg", "width_m", "hardest"), [(6.0, 1.1, True), (30.0, 1.134, False), (6.0, 0.4, False)])
@pytest.mark.parametrize("speed_km_per_h", [80.0, 130.0])
def test_the_hardest_pull_of_what_goes_along(puppet, where, mass_kg, width_m, hardest, speed_km_per_h):
    """Lift less weight of each type by hand; a light module pulls harder than a large heavy one, one on the ground does
    not travel. Source of the air's density: ISA, 1.225 kg/m3.
    """
    light = replace(puppet.roof.module, name="Light", mass_kg=mass_kg, width_m=width_m)
    job = add_remote("CC1").apply(v(puppet, "roof.fixing.speed_km_per_h", speed_km_per_h))
    job = replace(job, roof=replace(job.roof, remote=(replace(job.roof.remote[0], module=light, where=where),)))
    stated, held = job.roof.fixing, derive(job).fixings
    air = (stated.speed_km_per_h + stated.headwind_km_per_h) / 3.6
    along = [puppet.roof.module] + [light] * (where == "trailer")
    net = [
        0.5 * 1.225 * air**2 * stated.lift_coefficient * one.length_m * one.width_m - 9.81 * one.mass_kg
        for one in along
    ]
    assert held.pull_n.value == pytest.approx(max(0.0, *net) * stated.safety / stated.each, rel=1e-3)
    assert held.needed_count.value * stated.allowed_n >= max(net) * stated.safety - 1e-6
    assert held.needed_count.value == 4 or (held.needed_count.value - 1) * stated.allowed_n < max(net) * stated.safety
    assert held.lift_n.limit.startswith("Light") == (hardest and where == "trailer")
    assert held.foot_kg.value == pytest.approx(max(one.mass_kg for one in along) / stated.each)
