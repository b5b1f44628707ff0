from __future__ import annotations

import itertools

import pytest
from msgspec.structs import replace

from weighty_axle.job.edits.bank import set_pack, set_pack_count
from weighty_axle.job.models.document import items
from weighty_axle.reference import tables


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
@pytest.mark.parametrize("series", [1, 2, 4])
@pytest.mark.parametrize("pack", [one.name for one in tables.packs().rows])
def test_another_pack_keeps_the_strings(request, name, series, pack):
    """As many strings as before, each of the new number in series; tags stay, the first stands where it stood, the
    others close up without touching.
    """
    job = request.getfixturevalue(name)
    spec = next(one for one in tables.packs().rows if one.name == pack)
    changed = set_pack(spec, series).apply(job)
    strings = len(job.bank.packs) // job.bank.series
    tags, before = [one.tag for one in changed.bank.packs], [one.tag for one in job.bank.packs]
    assert len(tags) == len(set(tags)) == strings * series and tags[: len(before)] == before[: len(tags)]
    assert (
        changed.bank.packs[0].place == job.bank.packs[0].place
        and changed.bank.spec == spec
        and changed.bank.series == series
    )
    gaps = [
        after.place.x_m - one.place.x_m - spec.size.length_m for one, after in itertools.pairwise(changed.bank.packs)
    ]
    assert all(0 < gap < 0.1 for gap in gaps), gaps
    assert replace(changed, bank=job.bank) == job, "nothing but the bank"


@pytest.mark.parametrize("name", ["clinic", "puppet", "library_bus"])
def test_fewer_packs_and_more_again(request, name):
    job = request.getfixturevalue(name)
    for count in (1, 3, 9, 2, len(job.bank.packs)):
        changed = set_pack_count(count).apply(job)
        tags = [one.tag for one in changed.bank.packs]
        assert (
            len(tags) == len(set(tags)) == count
            and changed.bank.packs[: min(count, len(job.bank.packs))] == job.bank.packs[:count]
        )
        taken = {one.tag for one in items(replace(job, bank=replace(job.bank, packs=())))}
        assert not taken & set(tags), "a new pack takes nobody's tag"
