from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.inverters import add_inlet, add_panel, remove_part
from weighty_axle.job.files.store import encode


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_what_goes_leaves_no_name_behind(request, name):
    """Any inlet, panel, circuit or selector taken away: the job is sound, nothing names it, and what it fed hangs on
    what fed it, or on the first inlet, or on the inverters.
    """
    job = request.getfixturevalue(name)
    job = add_inlet().apply(job)
    inlet = job.ac.inlets[-1].tag
    for feed in (inlet, job.ac.inlets[0].tag, "PNL1"):
        job = add_panel(feed).apply(job)
    ac = job.ac
    assert problems(job) == [] and [one.fed_from for one in ac.panels[-3:]] == [inlet, ac.inlets[0].tag, "PNL1"]
    before = {one.tag: one.fed_from for one in ac.panels}
    for part in (*ac.inlets, *ac.panels, *ac.circuits, *ac.selectors):
        left = remove_part(part.tag).apply(job)
        assert problems(left) == [], part.tag
        text = encode(replace(left, loads=tuple(replace(one, name="-") for one in left.loads))).decode()
        assert f'"{part.tag}"' not in text and f'"{part.tag}.' not in text, part.tag
        others = [one.tag for one in ac.inlets if one != part]
        for panel in left.ac.panels:
            was = before[panel.tag]
            if was != part.tag:
                assert panel.fed_from == was
            elif part in ac.panels:
                assert panel.fed_from == before[part.tag]
            else:
                assert panel.fed_from == (others[0] if part in ac.inlets else "INVERTERS")
