from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.design.derive import Deriver, derive
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import move
from weighty_axle.reference import tables


def test_either_practice_can_be_computed(puppet, clinic):
    """The same job by the other practice's table: conductors of like area, never thinner than a tenth less."""
    metric = derive(changed(clinic, practice="international", wiring__ampacity_table="small_craft_mm2")).wiring.runs[0]
    gauge = derive(clinic).wiring.runs[0]
    assert metric.chosen.size.endswith("mm2") and gauge.chosen.size.endswith("AWG")
    assert metric.chosen.copper_kg == pytest.approx(gauge.chosen.copper_kg, rel=0.35)
    assert derive(replace(puppet, practice="north_american")).wiring.runs[0].fuse_a.value in tables.fuse_ratings("north_american").amps


def test_findings_and_figures_do_not_depend_on_the_order_of_loads(clinic):
    turned = replace(clinic, loads=tuple(reversed(clinic.loads)))
    one, other = derive(clinic), derive(turned)
    assert other.brief.energy_per_day_wh.value == pytest.approx(one.brief.energy_per_day_wh.value)
    assert [leg.worst_va.value for leg in other.inverters.legs] == pytest.approx([leg.worst_va.value for leg in one.inverters.legs])


def test_only_what_an_edit_touches_is_derived_again(clinic):
    deriver = Deriver()
    one = deriver.derive(clinic)
    two = deriver.derive(move(("TK1",), dx_m=0.1).apply(clinic))
    assert two.place is not one.place
    assert all(getattr(two, step) is getattr(one, step) for step in ("brief", "bank", "inverters", "roof", "charging", "wiring", "settings"))
    three = deriver.derive(set_pack_count(8).apply(clinic))
    assert three.brief is one.brief and three.bank is not one.bank
