"""Proposals: three sound designs from what is to run, where and when; every choice with its reason."""

from __future__ import annotations

import itertools
import re

import pytest
from msgspec.structs import replace

from tests import jobs
from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import year_result
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.files import store
from weighty_axle.job.models.brief import Load, Span, Stay
from weighty_axle.reference.first_job import Beginning, first_job
from weighty_axle.reference.vehicle_types import vehicle_types
from weighty_axle.rules.judge import judge
from weighty_axle.studies.propose import LEVELS, SURVEY, propose

TEN = (
    # name, supply, watts, from and to o'clock, must run
    ("Reading lamps", "DC_12", 60, (17, 22), True),
    ("Medicine fridge", "AC", 90, (0, 24), True),
    ("Computers", "AC", 250, (9, 17), False),
    ("Kettle", "AC", 1200, (10, 11), False),
    ("Projector", "AC", 300, (14, 16), False),
    ("Water pump", "DC_12", 80, (8, 9), True),
    ("Router", "DC_12", 15, (0, 24), True),
    ("Ventilator", "DC_12", 40, (12, 18), False),
    ("Printer", "AC", 150, (11, 12), False),
    ("Sewing table", "AC", 200, (13, 15), False),
)


def ten_loads(kind, practice=None, volts=48, ac="one_line"):
    """A new job from a vehicle type, ten loads and three stays."""
    job = first_job(kind, Beginning(practice or kind.practice, volts, ac))
    tag = job.day_kinds[0].tag
    loads = tuple(
        Load(
            tag=f"LD{at}",
            name=name,
            supply=("leg_open" if supply == "AC" and ac == "split_phase" else supply),
            running_w=float(watts),
            power_factor=1.0,
            must_run=must,
            duty=0.3 if name == "Medicine fridge" else 1.0,
            patterns={tag: (Span(hours[0] * 60, hours[1] * 60, 1.0),)},
        )
        for at, (name, supply, watts, hours, must) in enumerate(TEN, 1)
    )
    stays = tuple(
        Stay(
            tag=f"ST{at}",
            place=place,
            latitude_deg=44.0,
            longitude_deg=3.0,
            height_m=200.0,
            first_day=first,
            days=days,
            day_kind=tag,
            driven_h=1.0,
        )
        for at, (place, first, days) in enumerate((("Valley", 60, 60), ("Coast", 140, 80), ("Hills", 240, 60)), 1)
    )
    return replace(job, loads=loads, stays=stays)


def _sizes(value):
    """Every conductor that a design names."""
    if isinstance(value, str):
        return set(re.findall(r"[\d/]+ AWG|[\d.]+ mm2", value))
    parts = [getattr(value, name) for name in getattr(value, "__struct_fields__", getattr(value, "_fields", ()))]
    parts += list(value) if isinstance(value, tuple) else list(value.values()) if isinstance(value, dict) else []
    return set().union(*map(_sizes, parts)) if parts else set()


def _sound(proposals):
    assert [one.level for one in proposals] == list(LEVELS)
    for one in proposals:
        assert problems(one.job) == []
        judged = judge(derive(one.job))
        assert not [f.sentence() for f in judged if f.rule.severity == "stop" and f.rule.step not in SURVEY]
        assert one.stops == () and one.limits.endswith(".") and len(one.choices) >= 4
        assert all(choice.what and choice.why for choice in one.choices)
        # Of one practice alone: nobody buys both.
        other = "mm2" if one.job.practice == "north_american" else "AWG"
        assert not [size for size in _sizes(one.job) if other in size]


@pytest.mark.parametrize("kind", (*vehicle_types().rows[::3], vehicle_types().rows[5]), ids=lambda one: one.key)
def test_a_new_job_with_ten_loads_and_three_stays_gets_three_sound_designs(kind):
    proposals = list(propose(ten_loads(kind)))
    _sound(proposals)
    for one in proposals:
        again = year_result(live(derive(one.job)))
        assert again.missing_wh.value == one.result.missing_wh.value
        # Board and controllers stand by the inverters: no way is missing, none too full; packs as many as its mix has.
        assert {"place.no-way", "place.way-full"}.isdisjoint(said.rule.id for said in judge(one.design))
        mix = next(choice.what for choice in one.choices if " modules, " in choice.what)
        assert f", {len(one.job.bank.packs)} pack" in mix or any(
            "Ah instead of" in choice.why for choice in one.choices
        )
    missing = [one.result.missing_share.value for one in proposals]
    # No level gives its customer less than a plainer one.
    assert all(better <= plainer + 0.01 for plainer, better in itertools.pairwise(missing))


@pytest.mark.parametrize("name", ["puppet-theatre"])
def test_the_demos_get_three_sound_designs_beside_their_own(name):
    from weighty_axle.demos import demo

    job = demo(name)
    proposals = list(propose(job))
    _sound(proposals)
    made = proposals[0].edit.on(job)
    assert problems(made) == [] and made.variants[-1].name == "Enough" and made.bank == job.bank
    again = proposals[0].edit.on(replace(made, variants=()))
    assert again.variants[0].why


def test_nothing_to_run_is_said_and_a_job_without_ac_gets_no_inverters(puppet):
    with pytest.raises(EditRefusedError, match="loads first"):
        next(propose(replace(puppet, loads=())))
    kind = vehicle_types().rows[0]
    job = ten_loads(kind)
    only_dc = replace(job, loads=tuple(one for one in job.loads if one.supply.startswith("DC")))
    one = next(propose(only_dc))
    assert one.job.inverters.units == () and one.stops == ()


def test_the_command_line_writes_a_job_for_each_level_with_its_reasons(tmp_path, capsys):
    path = tmp_path / "puppet.axle"
    store.save(jobs.plain("puppet-theatre"), path)
    assert main(["propose", str(path), "-o", str(tmp_path / "out")]) == 0
    said = capsys.readouterr().out
    assert sorted(one.name for one in (tmp_path / "out").iterdir()) == [
        "carefree.axle",
        "comfortable.axle",
        "enough.axle",
    ]
    assert "missing in the year" in said
    made = store.load(tmp_path / "out" / "enough.axle")
    assert made.design_name == "Enough" and "runs everything" in made.design_why
    store.save(replace(made, loads=()), path)
    assert main(["propose", str(path), "-o", str(tmp_path / "out")]) == 2
