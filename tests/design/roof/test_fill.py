from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.design.roof.fill import fill
from weighty_axle.job.checks.whole import problems
from weighty_axle.reference import tables


def test_two_types_fill_a_roof_that_neither_fills_alone(puppet):
    """Two large ones leave a strip that only small ones fit; each is laid, counted and weighed as its own type."""
    large = replace(puppet.roof.module, name="Large", length_m=1.7, width_m=1.1, pmp_w=400.0)
    small = replace(tables.modules().rows[0], name="Small", length_m=1.1, width_m=0.5, pmp_w=100.0)
    job = replace(
        puppet,
        roof=replace(
            puppet.roof,
            start_m=0.5,
            end_m=2.75,
            width_m=2.24,
            gap_m=0.02,
            margin_m=0.0,
            module=large,
            more_modules=(small,),
            modules=(),
            strings=(),
            obstacles=(),
            lanes=(),
        ),
    )
    layouts = fill(job.roof, job.vehicle.width_m, seconds=0.5)
    both = next(one for one in layouts if len({module.kind for module in one.modules}) == 2)
    assert both.rated_w.value == 1000 and sorted(module.kind for module in both.modules) == ["", "", "Small", "Small"]
    made = both.edit.apply(job)
    assert problems(made) == []
    assert derive(made).roof.mass_kg.value == pytest.approx(2 * large.mass_kg + 2 * small.mass_kg)
