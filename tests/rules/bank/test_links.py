from __future__ import annotations

import pytest

from tests.building import told, v
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.bank import set_pack_count


@pytest.mark.parametrize("count", [2, 5, 6])
def test_leads_carry_their_share_with_any_pack_out(clinic, count):
    """Common bars: by hand each of the packs left carries an even share; a lead too thin for that, or for the pack's
    own fuse, is a Stop.
    """
    job = set_pack_count(count).apply(v(clinic, "bank.links.take_off", "bar_equal"))
    design = derive(job)
    assert design.bank.cable.share == pytest.approx(1 / count, rel=0.02) and design.bank.cable.one_out == pytest.approx(
        1 / (count - 1), rel=0.02
    )
    total = max(design.bank.continuous_a.value, design.charging.into_bank_a.value)
    for size in ("10 AWG", "6 AWG", "2/0 AWG"):
        thin = v(job, "bank.links.size", size)
        allowed = next(
            one.ampacity_a for one in derive(thin).wiring.main.candidates if one.size == size and one.count == 1
        )
        assert bool(told(thin, "bank.link-ampacity")) == (total / (count - 1) > allowed)
        assert bool(told(thin, "bank.link-under-fuse")) == (allowed < job.bank.spec.fuse_a)
