from __future__ import annotations

import itertools

import pytest

from tests.building import told, v
from weighty_axle.design.inverters.legs import LINES
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.inverters import remove_unit


def test_a_unit_goes_whole(clinic, library_bus):
    for job, tag in itertools.product((clinic, library_bus), ("INV1", "INV2")):
        left = remove_unit(tag).apply(job)
        assert problems(left) == [] and len(left.inverters.units) == 1 and left.inverters.stacking in LINES
        assert (
            not told(left, "inverters.leg-without-unit")
            and not told(left, "inverters.no-bond")
            and not told(left, "inverters.contact-nowhere")
        )
        with pytest.raises(EditRefusedError, match="the only inverter"):
            remove_unit(left.inverters.units[0].tag).apply(left)
    gone = v(clinic, "inverters.units[INV2]", None)
    new = {one.rule.id for one in told(gone) if one.rule.step in ("brief", "inverters")} - {
        one.rule.id for one in told(clinic)
    }
    assert new == {"inverters.leg-without-unit"} and told(gone, "inverters.leg-without-unit")[0].remedy is not None
