from __future__ import annotations

import numpy as np
from msgspec.structs import replace

from tests.building import told, v
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.roof import add_remote


def test_fixings_of_nothing_are_nothing(puppet):
    bare = derive(replace(puppet, roof=replace(puppet.roof, modules=(), strings=())))
    assert bare.fixings.pull_n.value == 0 and not told(bare.job, "roof.fixing-pull")
    towed = v(add_remote("CC1").apply(bare.job), "roof.remote[RA1].where", "trailer")
    assert derive(towed).fixings.pull_n.value > 0 and np.isfinite(derive(towed).fixings.pull_n.value)
