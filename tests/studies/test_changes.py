"""Two states of a job: what differs is told once, nothing else, and the other way round it is the mirror of it."""

from __future__ import annotations

import json

import pytest
from msgspec.structs import replace

from tests.attacks.jobs import accepted
from tests.building import v
from weighty_axle import demos
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.proving import entered, tried
from weighty_axle.job.files.store import save
from weighty_axle.job.models.proving import Entry, Reading
from weighty_axle.rules.judge import judge
from weighty_axle.studies.changes import difference, difference_lines, moved, stated_differently


@pytest.mark.parametrize(
    ("edits", "expected"),
    [
        ([lambda job: job], []),
        ([lambda job: v(job, "roof.sky.turbidity", 4.0)], [("roof.sky.turbidity", "3", "4")]),
        (
            [lambda job: v(job, "inverters.sources[P30].limit_a", 20.0)],
            [("inverters.sources[P30].limit_a", "24", "20")],
        ),
        (
            [lambda job: replace(job, loads=(job.loads[1], job.loads[0], *job.loads[2:]))],
            [("loads", "LD1, LD2", "LD2, LD1")],
        ),
        (
            [lambda job: tried(Reading(check="hot", value=12.0, by="OF"), "").apply(job)],
            [("proving.trials[hot]", "", "check hot, value 12, by OF")],
        ),
        ([lambda job: v(job, "inverters.sources[P15]", None)], [("inverters.sources[P15]", "tag P15", "")]),
    ],
)
def test_each_thing_stated_differently_is_told_once_by_its_path(clinic, edits, expected):
    after = clinic
    for edit in edits:
        after = edit(after)
    found = list(stated_differently(clinic, after))
    assert len(found) == len(expected)
    for one, (path, before, now) in zip(found, expected, strict=True):
        assert one.path == path and one.before.startswith(before) and one.after.startswith(now), one


@pytest.mark.parametrize("seed", range(6))
def test_generated_jobs_differ_in_what_is_told_and_the_mirror_is_exact(seed):
    """Against equality itself: nothing is told exactly where both are the same; the other way round it is mirrored."""
    one, other = accepted(seed), accepted(seed + 40)
    there, back = list(stated_differently(one, other)), list(stated_differently(other, one))
    assert bool(there) == (one != other)
    assert {(each.path, each.before, each.after) for each in there} == {
        (each.path, each.after, each.before) for each in back
    }
    assert len({each.path for each in there}) == len(there)
    assert not list(stated_differently(one, one))


def test_figures_and_findings_that_follow_are_those_of_both_designs(clinic):
    after = set_pack_count(3).apply(v(clinic, "charging.system_limit_a", 280.0))
    found = difference(clinic, after)
    old, new = derive(clinic), derive(after)
    told = {one.path: one for one in found.moved}
    assert told["bank.capacity_ah"].before.value == 600 and told["bank.capacity_ah"].after.value == 300
    assert told["bank.capacity_ah"].share == pytest.approx(0.5)
    assert [one.share for one in found.moved] == sorted((one.share for one in found.moved), reverse=True)
    was, now = ({one.id for one in judge(design)} for design in (old, new))
    assert {one.id for one in found.came} == now - was and {one.id for one in found.went} == was - now and now != was
    for path, figure in new.figures():
        before = dict(old.figures()).get(path)
        apart = abs(figure.value - before.value) if before is not None else 0.0
        if before is not None and apart > 0.01 * max(abs(figure.value), abs(before.value)):
            assert path in told, path
    assert not moved(old, old)


def test_what_is_entered_in_units_is_a_difference_without_moving_a_figure(puppet):
    after = entered((Entry(setting="CC1 equalise", said="on"),), "").apply(puppet)
    found = difference(puppet, after)
    assert [one.path for one in found.stated] == ["proving.entries[CC1 equalise]"] and not found.moved
    assert [one.rule.id for one in found.came] == ["settings.entered-dangerous"] and not found.went
    lines = list(difference_lines(found))
    assert lines[0] == "1 stated differently:" and any("STOP CC1, Equalising" in line for line in lines)


def test_two_files_on_the_command_line(tmp_path, capsys):
    job = demos.demo("puppet-theatre")
    save(job, tmp_path / "a.axle")
    save(v(job, "bank.usable_share", 0.7), tmp_path / "b.axle")
    assert main(["diff", str(tmp_path / "a.axle"), str(tmp_path / "a.axle")]) == 0
    assert "the same" in capsys.readouterr().out
    assert main(["diff", str(tmp_path / "a.axle"), str(tmp_path / "b.axle")]) == 1
    assert "bank.usable_share: 0.9 → 0.7" in capsys.readouterr().out
    assert main(["diff", str(tmp_path / "a.axle"), str(tmp_path / "b.axle"), "--json"]) == 1
    data = json.loads(capsys.readouterr().out)
    assert data["stated"] == [{"path": "bank.usable_share", "before": "0.9", "after": "0.7"}] and data["figures"]
    assert main(["diff", str(tmp_path / "a.axle"), str(tmp_path / "none.axle")]) == 2
