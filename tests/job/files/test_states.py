"""Recorded states: kept whole, opened whatever version wrote them, told when damaged; a handover's are kept for
good.
"""

from __future__ import annotations

import base64
import json
import zlib
from pathlib import Path

import pytest
from msgspec.structs import replace

from tests import jobs
from weighty_axle import demos
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import EditRefusedError, set_value
from weighty_axle.job.edits.log import drop_state, keep_state, put_back, written
from weighty_axle.job.edits.proving import tried
from weighty_axle.job.files.states import job_then, recorded
from weighty_axle.job.files.store import decode, encode, load, save
from weighty_axle.job.models.log import Log, LogEntry
from weighty_axle.job.models.proving import Reading
from weighty_axle.job.models.versions import FORMAT_VERSION
from weighty_axle.rules.judge import judge

OLD = Path(jobs.__file__).parent / "old"


NEWER = encode(demos.demo("puppet-theatre")).replace(
    f'"format_version": {FORMAT_VERSION}'.encode(), b'"format_version": 99'
)


def packed(text: bytes) -> str:
    return base64.b64encode(zlib.compress(text)).decode()


@pytest.fixture(scope="module")
def coach():
    return demos.demo("eye-clinic")


def test_a_state_is_the_whole_job_without_its_log_and_survives_the_file(tmp_path, coach):
    job = written(LogEntry(words="before")).apply(coach)
    state = recorded(job, "As handed over", "2027-01-12", "TK", handover=True)
    assert job_then(state) == replace(job, log=Log())
    kept = keep_state(state).apply(job)
    save(kept, tmp_path / "job.axle")
    again = load(tmp_path / "job.axle")
    assert again == kept and job_then(again.log.states[-1]) == replace(job, log=Log())
    assert len(state.packed) < len(encode(job)) / 3


def test_a_state_put_back_keeps_what_was_built_read_and_written_and_records_what_stood(coach):
    then = recorded(coach, "Then", "2027-01-12", "TK")
    now = keep_state(then).apply(coach)
    for edit in (
        set_pack_count(5),
        set_value("bank.usable_share", 0.7, ""),
        tried(Reading(check="hot", value=9.0), ""),
    ):
        now = edit.on(now)
    back = put_back(job_then(then), "Then", recorded(now, "Before", "2027-02-01", "TK")).apply(now)
    assert not problems(back)
    assert back.bank == coach.bank and back.proving == now.proving and back.build == now.build
    assert [one.name for one in back.log.states][-2:] == ["Then", "Before"]
    assert job_then(back.log.states[-1]) == replace(now, log=Log())
    assert derive(back).bank.days.value == derive(coach).bank.days.value


def test_a_state_of_a_handover_is_kept_for_good_and_names_are_their_own(coach):
    state = recorded(coach, "Handed over", "2027-01-12", "", handover=True)
    job = keep_state(state).apply(keep_state(state).apply(coach))
    assert [one.name for one in job.log.states][-2:] == ["Handed over", "Handed over 2"]
    with pytest.raises(EditRefusedError, match="kept for good"):
        drop_state("Handed over").apply(job)
    other = keep_state(recorded(coach, "Any day", "", "")).apply(job)
    assert drop_state("Any day").apply(other).log.states == job.log.states


@pytest.mark.parametrize("path", sorted(OLD.iterdir()), ids=lambda path: path.name)
def test_a_file_of_every_version_ever_written_opens_derives_is_judged_and_kept_as_a_state(path):
    raw = path.read_bytes()
    job = decode(raw)
    assert job.format_version == FORMAT_VERSION and not problems(job)
    judge(derive(job))
    state = replace(recorded(job, "old", "", ""), packed=packed(raw))
    assert job_then(state) == replace(job, log=job.log)
    assert decode(encode(job)) == job


def test_the_files_that_are_kept_are_of_every_version_but_the_present():
    versions = {json.loads(path.read_bytes())["format_version"] for path in OLD.iterdir()}
    assert versions == set(range(1, FORMAT_VERSION))


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("AAAA", "packed text is damaged"),
        (packed(b"{}"), "not a Weighty Axle job"),
        (packed(b"x" * 9_000_000), "unpacks to more than"),
        (packed(encode(demos.demo("puppet-theatre")))[:2000], "damaged|not whole"),
        (packed(NEWER), "version 99"),
    ],
    ids=["rubbish", "no job", "a bomb", "cut off", "newer"],
)
def test_a_state_that_cannot_be_opened_says_why_and_the_job_opens_all_the_same(coach, text, words):
    state = replace(recorded(coach, "Then", "", ""), packed=text[: len(text) // 4 * 4] or "AAAA")
    assert not problems(keep_state(state).apply(coach))
    with pytest.raises(JobError, match=words):
        job_then(state)


def test_a_file_of_a_newer_program_is_refused_with_a_sentence_and_left_as_it_is(tmp_path, coach):
    for change in (
        lambda document: document | {"format_version": FORMAT_VERSION + 1},
        lambda document: document | {"telepathy": {"on": True}},
    ):
        path = tmp_path / "newer.json"
        text = json.dumps(change(json.loads(encode(coach))))
        path.write_text(text)
        with pytest.raises(JobError, match="newer program"):
            load(path)
        assert path.read_text() == text
