"""The line of time: everything with a day stands on it once; searches against a plain filter; services come round."""

from __future__ import annotations

from datetime import date

import pytest
from dateutil.relativedelta import relativedelta
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.log.timeline import Search, happened, months_after, services_due
from weighty_axle.job.edits.build import noted
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.log import drop_service, rewritten, serviced, set_service, unwritten, written
from weighty_axle.job.edits.proving import entered, tried
from weighty_axle.job.models.build import Noted
from weighty_axle.job.models.log import Log, LogEntry, Service
from weighty_axle.job.models.proving import Entry, Handover, Reading


@pytest.fixture(scope="module")
def coach():
    return replace(demos.demo("eye-clinic"), log=Log())


@pytest.fixture(scope="module")
def lived(coach):
    """A coach with something of every kind on its line of time."""
    job = coach
    for edit in (
        written(LogEntry(kind="visit", on="2027-01-10", words="First look", by="TK")),
        written(LogEntry(kind="fault", on="2027-05-20", words="Fuse holder hot", about=("DB1",), by="TK")),
        written(LogEntry(kind="hours", on="2027-06-01", words="Fuse renewed", value=1.5, unit="h", about=("DB1",))),
        written(LogEntry(kind="parts", words="Spare fuses", value=2, unit="pcs")),
        entered((Entry(setting="INV1 float_v", said="54.0", on="2027-01-05"),), ""),
        entered(
            (Entry(setting="INV1 float_v", said="53.6", on="2027-07-07", by="JM", why="owner wants it gentler"),), ""
        ),
        tried(Reading(check="W-MAIN drop", value=410.0, on="2027-06-02", by="TK"), ""),
        noted(Noted(about="W-MAIN + end", words="marked", on="2026-12-20", by="JM")),
    ):
        job = edit.apply(job)
    return replace(job, proving=replace(job.proving, handover=Handover(by="TK", to="Harebell", on="2027-01-12")))


def test_everything_with_a_day_stands_on_the_line_once_and_the_newest_first(lived):
    found = happened(lived)
    kinds = [one.kind for one in found]
    assert kinds == ["setting", "test", "hours", "fault", "state", "visit", "build", "parts"]
    assert [one.on for one in found] == sorted((one.on for one in found), reverse=True)
    words = {one.kind: one.words for one in found}
    assert words["setting"] == "INV1 float_v: 54.0 → 53.6, owner wants it gentler"
    assert words["hours"].startswith("Fuse renewed: 1.50") and words["fault"].endswith("(open)")
    assert [one.kind for one in found if one.open] == ["fault"]
    mended = rewritten(1, "", mended_on="2027-06-01").apply(lived)
    assert "mended on 2027-06-01" in {one.kind: one.words for one in happened(mended)}["fault"]
    assert not any(one.open for one in happened(mended))
    assert len(happened(unwritten(0).apply(lived))) == len(found) - 1
    with pytest.raises(EditRefusedError, match="no such entry"):
        rewritten(99, "", words="x").apply(lived)


@pytest.mark.parametrize(
    ("asked", "kinds"),
    [
        ("", ["setting", "test", "hours", "fault", "state", "visit", "build", "parts"]),
        ("fuse", ["hours", "fault", "parts"]),
        ("FUSE db1", ["hours", "fault"]),
        ("fault", ["fault"]),
        ("tk 2027-05", ["fault"]),
        ("since:2027-06", ["setting", "test", "hours"]),
        ("until:2027-01", ["state", "visit", "build"]),
        ("since:2027-01 until:2027-05 w", ["fault", "state", "visit"]),
        ("F12- \"quoted'", []),
    ],
)
def test_a_search_finds_what_has_every_word_within_the_days(lived, asked, kinds):
    found = [one.kind for one in Search(happened(lived)).found(asked)]
    assert found == kinds if "w" not in asked.split() else set(found) <= set(kinds)


WORDS = st.text("abcXYZ0-", min_size=1, max_size=4)


@given(
    st.lists(st.tuples(WORDS, WORDS, st.sampled_from(["2027-01-01", "2027-02-03", ""])), max_size=30),
    st.lists(WORDS, max_size=3),
)
def test_searching_is_filtering(coach_entries, words):
    entries = tuple(LogEntry(on=on, words=f"{one} {two}") for one, two, on in coach_entries)
    events = happened(replace(demos.demo("puppet-theatre"), log=Log(entries=entries)))
    found = Search(events).found(" ".join(words))
    plain = [
        one
        for one in events
        if all(word.lower() in " ".join((one.on, one.kind, *one.about, one.by, one.words)).lower() for word in words)
    ]
    assert list(found) == plain


@given(st.dates(date(2001, 1, 1), date(2090, 1, 1)), st.integers(1, 240))
def test_months_are_those_of_dateutil(day, months):
    assert months_after(day, months) == day + relativedelta(months=months)


def test_services_come_round_after_the_last_or_after_the_handover(lived):
    job = lived
    for one in (Service(name="Tighten", every_months=12), Service(name="Wash", every_months=3, last_on="2027-11-30")):
        job = set_service(one).apply(job)
    due = services_due(job, date(2028, 1, 1))
    assert [(one.service.name, one.on, one.days, one.soon) for one in due] == [
        ("Tighten", date(2028, 1, 12), 11, True),
        ("Wash", date(2028, 2, 29), 59, False),
    ]
    done = serviced("Tighten", "2028-01-10").apply(job)
    assert services_due(done, date(2028, 1, 1))[1].on == date(2029, 1, 10)
    never = replace(job, proving=replace(job.proving, handover=Handover()))
    assert services_due(never, date(2028, 1, 1))[0].on is None and services_due(never, date(2028, 1, 1))[0].soon
    with pytest.raises(EditRefusedError, match="called Wash already"):
        set_service(Service(name="Wash"), old="Tighten").apply(job)
    assert [one.name for one in drop_service("Wash").apply(job).log.services] == ["Tighten"]
