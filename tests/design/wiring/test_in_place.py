"""Ampacity where a run lies: its warmest air, the runs beside it, and the next rating up."""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.in_place import Laid, in_place, runs_in_ways
from weighty_axle.job.models.place import Outlet
from weighty_axle.job.models.vehicle import WireWay
from weighty_axle.job.stated import Place


def _way(tag, zone, **more):
    return WireWay(tag=tag, name=tag, start="B1", end="LIVING", length_m=2.0, zone=zone, clear_mm=80.0, **more)


def _run(job, tag="W-INV1"):
    return next(one for one in derive(job).wiring.runs if one.tag == tag)


@pytest.mark.parametrize(("zone", "air"), [("living", 40.0), ("engine", 70.0), ("roof", 60.0)])
def test_the_warmest_air_on_the_way_counts(puppet, zone, air):
    """By hand: the table's value by the square root of what is left to the insulation (NEC equation 310.15(B)(1))."""
    place = puppet.inverters.units[0].place
    up = {"x_m": place.x_m, "y_m": place.y_m, "z_m": puppet.vehicle.floor_m + 0.6}
    job = changed(puppet, vehicle__ways=(_way("WWX", zone),), **{"inverters__units[INV1]__place": type(place)(**up)})
    run = _run(job)
    table = next(given.value for given in run.ampacity_a.inputs if given.name == "Table value")
    factor = min(1.0, math.sqrt((90 - air) / 60))
    assert run.ampacity_a.value == pytest.approx(table * factor * run.chosen.count)
    assert next(given.value for given in run.ampacity_a.inputs if given.name == "Air") == air


def test_runs_that_share_a_way_warm_one_another_but_not_in_a_sleeve():
    job = demo("eye-clinic")
    design = derive(job)
    paths = [cable.path for cable in design.cables if cable.kind == "dc"]
    counted = runs_in_ways(paths)
    long = {way.tag for way in job.vehicle.ways if way.length_m > 0.6}
    assert set(counted) <= long
    way = _way("WWX", "living")
    laid = in_place(job.wiring, (way,), Laid({"WWX": 20.0}, {"WWX": 3}))
    assert (laid.runs_together, laid.ambient_c) == (3, job.wiring.ambient_c)
    assert in_place(job.wiring, (), laid=Laid({}, {})) is job.wiring


def test_the_next_rating_up_is_taken_only_where_the_practice_has_it(sound_clinic):
    """NEC 240.4(B) with table 310.16 at 75 °C in 40 °C: 4 AWG carries 75 A and may have 80 A where 72 A are asked."""
    job = changed(
        sound_clinic,
        wiring__ampacity_table="enclosed_awg",
        wiring__insulation_c=75,
        wiring__ambient_c=40.0,
        wiring__drop_allowed=0.2,
    )
    runs = derive(job).wiring.runs
    (one,) = [one for run in runs if run.tag == "W-CC1" for one in run.candidates if one.next_up]
    assert one.size == "4 AWG" and one.ampacity_a == pytest.approx(85 * math.sqrt(35 / 45))
    for run in runs:
        needed = run.fuse_a.inputs[0].value
        for one in run.candidates:
            assert not one.next_up or needed <= one.ampacity_a < run.fuse_a.value
            assert one.against or one.next_up or one.ampacity_a >= run.fuse_a.value
    other = derive(changed(job, wiring__ampacity_table="small_craft_awg", wiring__insulation_c=75))
    assert not any(one.next_up for run in other.wiring.runs for one in run.candidates)


def test_a_circuit_of_the_house_lies_in_the_air_of_the_ways_to_its_outlets():
    """By hand: an outlet in the living room that is reached beside the engine."""
    job = demo("eye-clinic")
    served = next(one for one in job.dc.circuits if one.panel)
    design = derive(job)
    before = next(one for one in design.direct.circuits if one.tag == served.tag).ampacity_a
    hot = replace(_way("WWX", "engine"), start="B2", end="LIVING")
    place = Place(x_m=4.0, y_m=1.2, z_m=2.4)
    outlet = Outlet(tag="OUX", name="Fridge", place=place, start="DB1", serves=(served.tag,), cable="dc")
    after = derive(replace(job, vehicle=replace(job.vehicle, ways=(hot,)), outlets=(outlet,)))
    one = next(each for each in after.direct.circuits if each.tag == served.tag).ampacity_a
    assert after.house.ways[served.tag] == (hot,)
    assert one.value == pytest.approx(before.value * math.sqrt(35 / 65), rel=0.02)
