from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.checks.whole import problems
from weighty_axle.job.tags import next_tag, used_tags


def test_no_tag_is_given_twice(library_bus):
    used = used_tags(library_bus)
    assert {"MAIN", "INLET", "INVERTERS", "ROOF", "CAB"} <= used and next_tag(library_bus, "EX") not in used
    for tag in ("EX1", "ST1", library_bus.roof.strings[0].tag, library_bus.vehicle.bays[0].tag):
        assert problems(replace(library_bus, loads=(replace(library_bus.loads[0], tag=tag), *library_bus.loads[1:])))
