"""The attacks in their small form: the large one is `scripts/attack`.

Whatever loads, works; whatever does not, says so in time.
"""

from __future__ import annotations

import random

import pytest

from tests.attacks import files
from tests.attacks.jobs import accepted, bases
from tests.attacks.whole import failures
from weighty_axle.job.files import store


@pytest.mark.parametrize("seed", range(8))
def test_a_generated_job_that_loads_goes_through_everything(tmp_path, seed):
    """Slips, bounds, odd counts and odd words: derive, judge, every press, figures, saving, tables, prints."""
    assert failures(accepted(seed), tmp_path, prints=seed % 3 == 0) == []


def test_generated_jobs_are_far_from_the_ones_they_began_with():
    known = {store.encode(job) for job in bases()}
    made = [accepted(seed) for seed in range(14)]
    assert sum(store.encode(job) in known for job in made) <= 4
    assert max(len(job.loads) for job in made) > 20 and len({len(job.bank.packs) for job in made}) >= 4
    assert len({job.inverters.stacking for job in made}) > 1


@pytest.fixture(scope="module")
def doors(tmp_path_factory):
    return {door.name: door for door in files.doors(tmp_path_factory.mktemp("sound"))}


DOORS = (
    "a.axle",
    "a.json",
    "old.json",
    "over.axle",
    "loads.csv",
    "loads.xlsx",
    "modules.csv",
    "year.epw",
    "year.csv",
    "appliances.json",
    "types.json",
    "preferences.json",
    "edits.log",
)


@pytest.mark.parametrize("name", DOORS)
def test_damaged_files_are_refused_in_a_sentence_or_sound(tmp_path, monkeypatch, doors, name):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    assert set(doors) == set(DOORS)
    assert files.tried(doors[name], doors[name].raw, tmp_path) == []
    dice = random.Random(name)
    for _ in range(25):
        assert files.tried(doors[name], files.damaged(doors[name], dice), tmp_path) == []


@pytest.mark.parametrize("what", files.BOMBS)
def test_small_files_that_become_large_cost_neither_time_nor_memory(tmp_path, monkeypatch, doors, what):
    """No file holds the program over 5 s or takes over 500 MB."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    name, made = files.BOMBS[what]
    assert files.tried(doors[name], made(), tmp_path) == []
