"""Jobs every test starts from. Nothing here needs Qt."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from tests import jobs
from weighty_axle.design.derive import derive
from weighty_axle.design.table import Design
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.document import Job
from weighty_axle.rules.judge import judge

# Compiled code is kept from run to run, and nothing of the tests in the user's own cache.
os.environ["XDG_CACHE_HOME"] = str(Path(__file__).parents[1] / ".pytest_cache" / "user")
# Tests say whether it is right, benchmarks how fast: no deadlines here, and the same examples on every machine.
settings.register_profile(
    "steady", deadline=None, derandomize=True, max_examples=50, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("steady")


@pytest.fixture(autouse=True)
def own_data(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The shop's stock, photos and own types of a test are its own; packs search no longer than they must."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setattr("weighty_axle.exports.build_pack.QUICK_S", 0.1)


@pytest.fixture(scope="session")
def clinic() -> Job:
    return jobs.plain("eye-clinic")


@pytest.fixture(scope="session")
def puppet() -> Job:
    return jobs.plain("puppet-theatre")


@pytest.fixture(scope="session")
def library_bus() -> Job:
    return jobs.plain("library-bus")


@pytest.fixture(scope="session")
def sound_clinic(clinic: Job) -> Job:
    """The clinic with everything put right that the demo leaves wrong on purpose."""
    job = clinic
    for edit in (
        set_value("charging.system_limit_a", 299.0, ""),
        set_value("wiring.branch_fuse", "fast_cylinder_125", ""),
        set_pack_count(7),
    ):
        job = edit.apply(job)
    return job


@pytest.fixture(params=["clinic", "puppet"])
def design(request: pytest.FixtureRequest) -> Design:
    return derive(request.getfixturevalue(request.param))


@pytest.fixture
def fired():
    """Ids of the rules that fire on a job."""

    def ids(job: Job) -> set[str]:
        return {each.rule.id for one in judge(derive(job)) for each in (one, *one.also)}

    return ids
