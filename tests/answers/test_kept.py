"""What rules ask for after every edit is kept only while nothing that it reads has changed."""

from __future__ import annotations

from types import SimpleNamespace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import Struct

from tests.building import v
from weighty_axle import demos
from weighty_axle.answers.kept import READS
from weighty_axle.answers.parts.needed import needs
from weighty_axle.design.alike import alike
from weighty_axle.design.derive import derive
from weighty_axle.rules.judge import judge

judge(derive(demos.demo("library-bus")))  # every rule has named what it keeps


def _only(design, reads):
    """A design with the paths of `reads` and nothing else."""
    found = SimpleNamespace(others=tuple(_only(other, reads) for other in design.others), system=design.system)
    for path in reads:
        at, whole = found, design
        *heads, last = path.split(".")
        for head in heads:
            whole = getattr(whole, head)
            at = at.__dict__.setdefault(head, SimpleNamespace())
        if isinstance(at, SimpleNamespace):
            setattr(at, last, getattr(whole, last))
    return found


@pytest.mark.parametrize("answer", READS, ids=lambda one: one.__qualname__)
@pytest.mark.parametrize("name", [*demos.names(), "without inverters", "a bank from before"])
def test_an_answer_that_is_kept_reads_what_it_says_and_nothing_else(answer, name):
    job = demos.demo(name if name in demos.names() else "puppet-theatre")
    if name == "without inverters":
        job = v(job, "inverters.units", ())
    elif name == "a bank from before":
        job = v(job, "bank.role", "keep")
    design = derive(job)
    reads = sorted(READS[answer], key=len)  # the longer path within a part that is there whole says nothing more
    assert alike(answer.__wrapped__(_only(design, reads)), answer.__wrapped__(design))


def test_what_is_kept_follows_an_edit_and_comes_back():
    """The same as worked out afresh, design after design, whatever order they are asked in."""
    jobs = [demos.demo("eye-clinic"), demos.demo("puppet-theatre")]
    jobs += [v(jobs[0], "wiring.main_lead_m", 4.5), v(jobs[0], "build.slack_share", 0.2), v(jobs[0], "bars", ())]
    designs = [derive(job) for job in jobs]
    afresh = [needs.__wrapped__(design) for design in designs]
    assert len(set(afresh)) == len(jobs)
    for at in (0, 0, 1, 2, 0, 3, 4, 2, 1):
        assert needs(designs[at]) == afresh[at]


class Said(Struct, frozen=True):
    """An answer with dicts within."""

    name: str
    parts: tuple[dict[str, float], ...] = ()


VALUES = st.dictionaries(st.sampled_from("abcd"), st.sampled_from([0.0, 1.0]), max_size=3)


@given(st.lists(VALUES, max_size=3), st.lists(VALUES, max_size=3))
def test_two_answers_are_alike_when_they_would_be_shown_alike(one, other):
    as_shown = [[list(each.items()) for each in values] for values in (one, other)]
    assert alike(Said("", tuple(one)), Said("", tuple(other))) == (as_shown[0] == as_shown[1])
    assert not alike(Said("", tuple(one)), ("", tuple(one)))
