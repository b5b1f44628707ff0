"""The plan keeps its order, people and parts; a late parcel moves it; boards are laid out as they are drilled."""

from __future__ import annotations

import itertools
from datetime import date, timedelta

import networkx as nx
import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.plan.board import board_plans
from weighty_axle.answers.plan.board_layout import laid_out, shifted
from weighty_axle.answers.plan.plan import compared, earliest, plan
from weighty_axle.answers.plan.tasks import tasks
from weighty_axle.answers.plan.tools import tools
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.build import booked, say_task, set_part
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import take_module_out
from weighty_axle.job.models.build import Booked, OwnTask, Worker
from weighty_axle.job.models.place import Assembly, Fitting
from weighty_axle.job.stated import Place, Size

DAY = date(2027, 3, 1)  # a Monday


@pytest.fixture(scope="module")
def theatre():
    return demos.demo("puppet-theatre")


@pytest.fixture(scope="module")
def planned(theatre):
    return plan(derive(theatre), DAY)


@pytest.mark.parametrize("name", demos.names())
def test_tasks_follow_from_the_design_and_wait_in_order(name):
    design = derive(demos.demo(name))
    made = {one.key: one for one in tasks(design)}
    graph = nx.DiGraph([(before, one.key) for one in made.values() for before in one.after])
    assert nx.is_directed_acyclic_graph(graph)
    assert set(graph) <= set(made)
    after_walls = {key for key in made if key.startswith("pull ")}
    assert all(nx.has_path(graph, key, "walls") for key in after_walls)  # closed only once all is in
    assert all(nx.has_path(graph, key, "inspect") for key in made if key.startswith("land "))  # nothing loose
    assert nx.has_path(graph, "inspect", "first power") and nx.has_path(graph, "first power", "acceptance")
    landed = {key for key in made if key.startswith("land ")}
    modules = {key for key in made if key.startswith("modules ")}
    assert all(landed <= nx.ancestors(graph, key) for key in modules)  # modules last


def test_durations_come_from_the_shop_s_rates_and_counts(theatre):
    slow = replace(theatre, build=replace(theatre.build, rates=replace(theatre.build.rates, module_min=90.0)))
    quick, long = (
        next(one for one in tasks(derive(job)) if one.key == "modules S1").hours_h for job in (theatre, slow)
    )
    count = sum(module.string == "S1" for module in theatre.roof.modules)
    assert (quick.value, long.value) == (count * 45 / 60, count * 90 / 60)
    said = say_task("modules S1", "", hours_h=7.5).apply(theatre)
    assert next(one for one in tasks(derive(said)) if one.key == "modules S1").hours_h.value == 7.5
    fewer = take_module_out("S1").apply(theatre)
    assert next(one for one in tasks(derive(fewer)) if one.key == "modules S1").hours_h.value < quick.value


def test_people_parts_and_days_off_are_kept(theatre, planned):
    skills = {one.tag: one.skills for one in theatre.build.workers}
    busy: dict[str, list] = {}
    for one in planned.planned:
        assert not skills[one.who] or one.task.skill in skills[one.who]
        busy.setdefault(one.who, []).extend(one.stretches)
        assert all(starts.weekday() < 5 and 8 <= starts.hour < 16 for starts, _ in one.stretches)
        if one.waits_until is not None:
            assert one.starts.date() >= one.waits_until
        for key in one.task.after:
            assert planned.of(key).ends <= one.starts
    for stretches in busy.values():
        order = sorted(stretches)
        assert all(end <= start for (_, end), (start, _) in itertools.pairwise(order))
    assert planned.starts == date.fromisoformat(theatre.build.starts_on)
    assert planned.no_sooner <= planned.ends and not planned.problems
    assert any(one.critical for one in planned.planned)


def test_half_days_and_days_off_make_it_longer(theatre):
    alone = replace(theatre.build, workers=(Worker(tag="WK1", name="One"),))
    whole = plan(derive(replace(theatre, build=alone)), DAY, longest_s=0)
    half = replace(alone, workers=(replace(alone.workers[0], hours_h=4.0, off=("2027-04-06", "2027-04-07")),))
    part = plan(derive(replace(theatre, build=half)), DAY, longest_s=0)
    assert part.ends > whole.ends
    days = {starts.date() for one in part.planned for starts, _ in one.stretches}
    assert not days & {date(2027, 4, 6), date(2027, 4, 7)}


def _could_start_sooner(found, one):
    """Whether somebody stands idle just before a task that waits for nothing."""
    just_before = {done.ends for done in found.planned if done.who == one.who or done.task.key in one.task.after}
    due = one.waits_until is not None and one.starts.date() == one.waits_until
    return one.starts.hour > 8 and one.starts not in just_before and not due


def test_a_parcel_two_weeks_late_moves_the_puppet_theatre(theatre, planned):
    """The end moves no further than the parcel does; what can be done meanwhile is; what waits is named."""
    part = theatre.bank.spec.name
    due = date(2027, 4, 7) + timedelta(days=14)
    after = plan(derive(set_part(part, due=due.isoformat()).apply(theatre)), DAY, like=planned)
    late = compared(part, planned, after)
    assert planned.ends < after.ends <= planned.ends + timedelta(days=16)
    assert {one.task.key for one in late.held} == {f"place {pack.tag}" for pack in theatre.bank.packs}
    assert all(one.starts.date() >= due for one in late.held)
    assert not late.sooner  # everything else was done before the packs came
    assert (
        plan(derive(set_part(part, due=due.isoformat()).apply(theatre)), DAY, like=planned) == after
    )  # asked again, the same plan
    assert not [one.task.key for one in after.planned if _could_start_sooner(after, one)]
    here = plan(derive(set_part(part, status="here", due="").apply(theatre)), DAY)
    assert here.ends <= planned.ends
    freed = compared(part, here, plan(derive(set_part(part, due=due.isoformat()).apply(theatre)), DAY, like=here))
    assert freed.sooner and all(new.starts < old.starts for old, new in freed.sooner)


def test_a_task_is_moved_later_done_and_booked(theatre, planned):
    day, why = earliest(planned, "first power")
    assert "No loose ends" in why and day == planned.of("inspect").ends.date()
    moved = say_task("prepare", "", not_before="2027-04-12").apply(theatre)
    later = plan(derive(moved), DAY, longest_s=0)
    assert later.of("prepare").starts.date() == date(2027, 4, 12) and later.ends > planned.ends
    done = say_task("prepare", "", done_on="2027-04-05", worker="WK1").apply(theatre)
    found = plan(derive(done), DAY, longest_s=0)
    assert found.of("prepare").done and found.ends <= planned.ends
    hours = booked(Booked(task="prepare", hours_h=3.0)).apply(theatre)
    one = plan(derive(hours), DAY, longest_s=0).of("prepare")
    assert one.booked_h == 3.0 and (one.ends - one.starts).total_seconds() == 3600  # one of four is left


A = OwnTask(tag="TK1", name="A", after=("TK2",))


@pytest.mark.parametrize(
    ("own", "workers", "words"),
    [
        (
            (OwnTask(tag="TK1", name="A", after=("TK2",)), OwnTask(tag="TK2", name="B", after=("TK1",))),
            (),
            "one another",
        ),
        ((OwnTask(tag="TK1", name="A", after=("nothing",)),), (), "no task of this plan"),
        ((), (Worker(tag="WK1", name="A", skills=("roof",)),), "Nobody can do"),
        ((OwnTask(tag="TK1", name="A", part="unobtainium"),), (), "not in the parts list"),
    ],
)
def test_what_cannot_be_planned_as_stated_is_said_and_planned_all_the_same(theatre, own, workers, words):
    job = replace(theatre, build=replace(theatre.build, own=own, workers=workers or theatre.build.workers))
    found = plan(derive(job), DAY, longest_s=0)
    assert any(words in one for one in found.problems)
    assert len(found.planned) == len(tasks(derive(job)))


def test_tools_follow_from_the_job(clinic, puppet):
    big, small = ({one.name: one.must for one in tools(derive(job))} for job in (clinic, puppet))
    assert big["Lug crimper, hexagonal dies"].endswith("4/0\xa0AWG")
    assert small["Lug crimper, hexagonal dies"].endswith("70\xa0mm²")
    assert big["Torque wrench"] == "12 to 22 N m"
    dark = derive(replace(puppet, roof=replace(puppet.roof, modules=(), strings=())))
    assert "Irradiance meter" not in {one.name for one in tools(dark)}


# ---- boards ----


PLATE = Fitting(
    tag="PL1",
    name="Plate",
    mass_kg=6.0,
    place=Place(x_m=3.4, y_m=-0.72, z_m=0.52),
    size=Size(length_m=0.9, width_m=0.018, height_m=0.5),
)


@pytest.fixture
def boarded(puppet):
    return replace(
        puppet,
        fittings=(*puppet.fittings, PLATE),
        assemblies=(Assembly(tag="PB1", name="Board", items=("PL1", "INV1", "CC1")),),
    )


def test_a_board_is_laid_out_within_its_plate_with_gaps_bends_and_holes(boarded):
    board = boarded.assemblies[0]
    job = laid_out(derive(boarded), board).on(boarded)
    found = board_plans(derive(job))[0]
    assert found.faults == ()
    units = {one.tag: one for one in found.units}
    assert {one.tag for one in found.units} == {"INV1", "CC1"}
    for one in units.values():
        assert one.x_mm >= 0 and one.x_mm + one.wide_mm <= found.wide_mm and one.y_mm >= found.bend_mm.value
        assert len(one.holes) == 4 and all(
            one.x_mm < hole.x_mm < one.x_mm + one.wide_mm and one.y_mm < hole.y_mm < one.y_mm + one.high_mm
            for hole in one.holes
        )
    left, right = sorted(units.values(), key=lambda one: one.x_mm)
    assert right.x_mm - left.x_mm - left.wide_mm >= job.build.plate_gap_mm - 0.1
    # Their backs lie on the plate: its face towards them.
    for tag in units:
        item = next(item for item in derive(job).items if item.tag == tag)
        assert item.place.y_m - item.size.width_m / 2 == pytest.approx(-0.72 + 0.009, abs=1e-3)


def test_weight_and_middle_are_statics_and_it_hangs_level(boarded):
    design = derive(laid_out(derive(boarded), boarded.assemblies[0]).on(boarded))
    found = board_plans(design)[0]
    masses = {item.tag: item.mass_kg for item in design.items}
    assert found.mass_kg.value == pytest.approx(masses["PL1"] + masses["INV1"] + masses["CC1"])
    moment = masses["PL1"] * found.wide_mm / 2 + sum(
        masses[one.tag] * (one.x_mm + one.wide_mm / 2) for one in found.units
    )
    assert found.middle_mm[0] == pytest.approx(moment / found.mass_kg.value, abs=0.1)
    assert found.lift
    assert sum(hole.x_mm for hole in found.lift) / 2 == pytest.approx(found.middle_mm[0], abs=0.1)


def test_a_unit_moved_on_the_board_moves_in_the_vehicle_and_faults_are_told(boarded):
    job = laid_out(derive(boarded), boarded.assemblies[0]).on(boarded)
    moved = shifted(derive(job), job.assemblies[0], "CC1", 200.0, 100.0).on(job)
    unit = next(one for one in board_plans(derive(moved))[0].units if one.tag == "CC1")
    assert (unit.x_mm, unit.y_mm) == pytest.approx((200.0, 100.0), abs=0.2)
    heap = shifted(derive(job), job.assemblies[0], "CC1", *_corner(derive(job), "INV1")).on(job)
    assert any("lie over one another" in fault for fault in board_plans(derive(heap))[0].faults)
    over = shifted(derive(job), job.assemblies[0], "CC1", 850.0, 100.0).on(job)
    assert any("over the edge" in fault for fault in board_plans(derive(over))[0].faults)
    tiny = set_value("fittings[PL1].size.length_m", 0.3, "").apply(boarded)
    assert laid_out(derive(tiny), tiny.assemblies[0]) is None


def _corner(design, tag):
    unit = next(one for one in board_plans(design)[0].units if one.tag == tag)
    return unit.x_mm, unit.y_mm
