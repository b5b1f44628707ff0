from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle.design.derive import derive


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
@pytest.mark.parametrize("load_w", [200.0, 2500.0, 9000.0])
def test_24_v_is_only_enough_where_one_conductor_one_fuse_and_one_switch_carry_it(request, name, load_w):
    job = request.getfixturevalue(name)
    result = derive(
        replace(
            job,
            inverters=replace(
                job.inverters, spec=replace(job.inverters.spec, continuous_va=load_w, surge_va=2 * load_w)
            ),
        )
    ).voltages
    choice = next(one for one in result.choices if one.volts == 24)
    one_of_each = (
        choice.conductor is not None
        and choice.conductor.count == 1
        and choice.fuses
        and choice.isolators
        and choice.fuse_a.value <= 300
    )
    assert result.recommended == (24 if one_of_each else 48) and str(result.recommended) in result.reason
