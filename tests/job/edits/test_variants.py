"""Variants: kept, turned to and back, parts taken, references repaired; no edit leaves a job that is none."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests import jobs, plants
from weighty_axle.answers.year.schools import SCHOOLS
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.variants import (
    MOST_VARIANTS,
    PART_WORDS,
    add_variant,
    drop,
    job_of,
    keep_as,
    names,
    take_part,
    turn_to,
)
from weighty_axle.job.files import store
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.parts import DESIGN_PARTS


def _design(job):
    return (*(getattr(job, part) for part in DESIGN_PARTS), job.loads, job.stays)


@pytest.fixture
def two(clinic):
    return set_pack_count(9).on(keep_as("Six packs", "as first drawn").on(clinic))


def test_turning_to_a_variant_and_back_is_where_one_was(two, clinic, tmp_path):
    there = turn_to("Six packs").on(two)
    assert problems(there) == [] and _design(there) == _design(clinic)
    assert names(there) == ("Six packs", "First design") and there.design_why == "as first drawn"
    back = turn_to("First design").on(there)
    assert _design(back) == _design(two) and names(back) == names(two)
    path = tmp_path / "two.axle"
    store.save(back, path)
    assert store.load(path) == back
    assert drop("Six packs").on(back).variants == ()


def test_names_are_their_own_and_there_is_an_end(two):
    for edit in (keep_as("Six packs"), keep_as("First design"), turn_to("Nobody"), drop("Nobody")):
        with pytest.raises(EditRefusedError, match=r"\.$"):
            edit.on(two)
    job = two
    for at in range(MOST_VARIANTS - 1):
        job = keep_as(f"V{at}").on(job)
    with pytest.raises(EditRefusedError, match="At most"):
        keep_as("One more").on(job)
    assert any("Two designs" in str(one) for one in problems(replace(two, design_name="Six packs")))


def test_the_survey_is_shared_and_what_is_no_longer_there_is_let_go(puppet):
    kept = keep_as("Before").on(puppet)
    new = Load(tag="LDN", name="New lamp", supply="AC", running_w=10.0, power_factor=1.0)
    job = replace(kept, loads=(*kept.loads[1:], new), ac=replace(kept.ac, circuits=kept.ac.circuits[:-1]))
    lost = kept.ac.circuits[-1].tag
    job = replace(job, loads=tuple(replace(one, circuit="") if one.circuit == lost else one for one in job.loads))
    assert problems(job) == []
    there = turn_to("Before").on(job)
    assert problems(there) == [] and there.loads[-1] == new and len(there.loads) == len(job.loads)
    assert {one.tag for one in there.ac.circuits} == {one.tag for one in puppet.ac.circuits}
    of = {one.tag: one.circuit for one in puppet.loads}
    assert all(one.circuit == of.get(one.tag, "") for one in there.loads)


def test_sockets_that_stays_need_come_along(library_bus):
    bare = replace(
        library_bus,
        inverters=replace(library_bus.inverters, sources=library_bus.inverters.sources[:1]),
        stays=tuple(replace(one, source="") for one in library_bus.stays),
    )
    kept = keep_as("One socket").on(bare)
    job = replace(kept, inverters=library_bus.inverters, stays=library_bus.stays)
    there = turn_to("One socket").on(job)
    assert problems(there) == [] and there.stays == library_bus.stays
    assert {one.source for one in there.stays if one.source} <= {one.tag for one in there.inverters.sources}


@pytest.mark.parametrize("part", PART_WORDS)
def test_parts_are_taken_across(two, part):
    job = turn_to("Six packs").on(two)
    made = take_part("First design", part).on(job)
    for one in PART_WORDS[part]:
        assert getattr(made, one) == getattr(two, one), one
    assert problems(made) == [] and made.design_name == "Six packs"


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
@pytest.mark.parametrize("school", SCHOOLS, ids=lambda one: one.key)
def test_every_school_is_a_sound_design_or_says_why_not(name, school):
    job = jobs.plain(name)
    try:
        called, made = school.other(derive(job))
    except EditRefusedError as error:
        assert str(error).endswith(".")
        return
    assert problems(made) == [] and _design(made) != _design(job)
    both = add_variant(made, called, school.question).on(job)
    assert problems(both) == []
    derive(job_of(both, called))
    assert _design(turn_to("First design").on(turn_to(called).on(both))) == _design(job)


@pytest.mark.parametrize("shape", [plants.two_groups, plants.integrated, plants.staged, plants.no_inverters])
def test_jobs_of_other_shapes_have_variants_too(clinic, shape):
    job = shape(clinic)
    made = turn_to("Copy").on(keep_as("Copy").on(job))
    assert problems(made) == [] and _design(made) == _design(job)
