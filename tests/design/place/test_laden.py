"""States of lading by brute force, sides by moments, readings by a mass that was forgotten."""

from __future__ import annotations

import itertools
import random

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import told, v
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.models.place import Fitting, Lading
from weighty_axle.job.models.vehicle import Trailer
from weighty_axle.job.stated import Place, Size


def lading(tag, full_kg, x_m, y_m=0.0, **more):
    return Lading(tag=tag, name=tag, full_kg=full_kg, place=Place(x_m=x_m, y_m=y_m, z_m=0.6), **more)


FRESH = lading("WATER", 300.0, 3.6, 0.4, kind="water", weighed_kg=60.0)
WASTE = lading("WASTE", 280.0, 8.2, -0.5, kind="waste_water", takes_from="WATER")
PEOPLE = lading("CREW", 450.0, 1.5, kind="passengers", empty_kg=75.0, weighed_kg=75.0)
FUEL = lading("FUEL", 320.0, 4.4, -0.7, kind="fuel", weighed_kg=160.0)


def _statics(vehicle, up, weights):
    """Loads of all axles by a linear solve: force and moment balance, shares within each group as equations."""
    axles, count = vehicle.axles, len(vehicle.axles)
    rows, right = (
        [[1.0] * count, [axle.x_m for axle in axles]],
        [sum(mass for mass, *_ in weights), sum(mass * x for mass, x, *_ in weights)],
    )
    for group in ("front", "rear"):
        own = [at for at, axle in enumerate(axles) if axle.group == group and at not in up]
        for first, then in itertools.pairwise(own):
            row = [0.0] * count
            row[first], row[then] = axles[then].share, -axles[first].share
            rows.append(row)
            right.append(0.0)
    for at in up:
        rows.append([float(index == at) for index in range(count)])
        right.append(0.0)
    return np.linalg.lstsq(np.array(rows), np.array(right), rcond=None)[0]


def _states(job):
    """Every combination, one by one: water fresh, waste or gone; each other thing empty or full; trailer on or off."""
    alone = [one for one in job.ladings if one.tag not in ("WATER", "WASTE")]
    for water in ("full", "gone", "waste"):
        for ways in itertools.product((False, True), repeat=len(alone)):
            for on in (False, True) if job.vehicle.trailer else (False,):
                made = [(FRESH, water == "full"), (WASTE, water == "waste"), *zip(alone, ways, strict=True)]
                weights = [
                    ((one.full_kg if full else one.empty_kg) - one.weighed_kg, one.place.x_m, one.place.y_m)
                    for one, full in made
                ]
                if on:
                    weights.append((job.vehicle.trailer.coupling_kg, job.vehicle.trailer.coupling_x_m, 0.0))
                yield weights


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("lifts", [False, True])
def test_worst_of_every_state_one_by_one(clinic, seed, lifts):
    """All states and lifted axles tried in turn, each by a linear solve, against what is said to be worst and least."""
    dice = random.Random(seed)
    ladings = tuple(
        replace(one, place=replace(one.place, x_m=dice.uniform(0.5, 11.5), y_m=dice.uniform(-1, 1)))
        for one in (PEOPLE, FUEL)
    )
    trailer = Trailer(name="Trailer", mass_kg=1500.0, coupling_kg=dice.uniform(50, 120), coupling_x_m=12.4)
    axles = tuple(replace(axle, lifts=lifts and axle.tag == "A3") for axle in clinic.vehicle.axles)
    job = replace(
        clinic, ladings=(FRESH, WASTE, *ladings), vehicle=replace(clinic.vehicle, axles=axles, trailer=trailer)
    )
    assert problems(job) == []
    place = derive(job).place
    base = [(axle.weighed_kg, axle.x_m) for axle in axles]
    system = [(item.mass_kg, item.place.x_m) for item in derive(job).items]
    system += [(job.roof.module.mass_kg, one.x_m) for one in job.roof.modules]
    loads = []
    for weights in _states(job):
        added = _statics(job.vehicle, (), [*system, *((mass, x) for mass, x, _ in weights)])
        loads.append([axle.weighed_kg + more for axle, more in zip(axles, added, strict=True)])
        if lifts:
            up = tuple(at for at, axle in enumerate(axles) if axle.lifts)
            loads.append(_statics(job.vehicle, up, [*base, *system, *((mass, x) for mass, x, _ in weights)]))
    table = np.array(loads)
    assert [one.load_kg.value for one in place.axles] == pytest.approx(table.max(axis=0))
    assert [one.least_kg.value for one in place.axles] == pytest.approx(table.min(axis=0), abs=1e-6)
    assert place.gross_kg.value == pytest.approx(table.sum(axis=1).max())
    assert place.payload_kg.value == pytest.approx(job.vehicle.gross_limit_kg - table.sum(axis=1).min())


def test_the_state_is_named_and_judged(clinic):
    """Front overload only with the crew aboard, fuel full and the water still fresh; the trailer is off then."""
    limit = derive(clinic).place.axles[0].load_kg.value + 300
    job = v(replace(clinic, ladings=(FRESH, WASTE, PEOPLE)), "vehicle.axles[A1].limit_kg", limit)
    (found,) = told(job, "place.axle-over-plate")
    assert "with WATER full, WASTE empty, CREW full" in found.sentence() and found.tags == ("A1",)
    assert not told(v(job, "ladings[CREW].full_kg", 75.0), "place.axle-over-plate")


def test_sides_by_moments(clinic):
    """Left and right add up to the axle in the same state; both assumptions carry the same moment; a soft frame leaves
    it where the mass stands.
    """
    job = v(clinic, "vehicle.axles[A1].weighed_left_kg", clinic.vehicle.axles[0].weighed_kg / 2 - 60)
    place, vehicle = derive(job).place, job.vehicle
    weights = [(item.mass_kg, item.place.x_m, item.place.y_m) for item in derive(job).items]
    weights += [(job.roof.module.mass_kg, one.x_m, one.y_m) for one in job.roof.modules]
    moment = sum(mass * y for mass, _, y in weights)
    soft = _statics(vehicle, (), [(mass * y, x) for mass, x, y in weights]) * 2 / vehicle.track_m
    plates = np.array([axle.limit_kg for axle in vehicle.axles])
    stiff = 2 * moment / vehicle.track_m * plates / plates.sum()
    assert soft.sum() == pytest.approx(stiff.sum())
    for at, (one, axle) in enumerate(zip(place.axles, vehicle.axles, strict=True)):
        before = 0.0 if axle.weighed_left_kg is None else 120.0
        right = [(one.load_kg.value + before + apart[at]) / 2 for apart in (soft, stiff)]
        left = [(one.load_kg.value - before - apart[at]) / 2 for apart in (soft, stiff)]
        assert (one.right_kg.value, one.left_kg.value) == pytest.approx((max(right), max(left)))
        assert one.spread_kg.value == pytest.approx(abs(soft[at] - stiff[at]) / 2)


def test_a_mass_that_was_forgotten_is_found_where_it_stands(clinic):
    """Three axles read after a box of 240 kg at 8.1 m was put in and not stated: so much, there."""
    box = Fitting(
        tag="FX",
        name="Forgotten",
        mass_kg=240.0,
        place=Place(x_m=8.1, y_m=0.0, z_m=1.5),
        size=Size(length_m=0.3, width_m=0.3, height_m=0.3),
    )
    real = derive(replace(clinic, fittings=(*clinic.fittings, box))).place
    axles = tuple(
        replace(axle, after_kg=one.load_kg.value) for axle, one in zip(clinic.vehicle.axles, real.axles, strict=True)
    )
    job = replace(clinic, vehicle=replace(clinic.vehicle, axles=axles))
    found = derive(job).place.readings
    assert found.mass_kg.value == pytest.approx(240.0) and found.where_m.value == pytest.approx(8.1)
    assert told(job, "place.reading-apart") and not told(clinic, "place.reading-apart")


def test_centre_of_gravity_and_rollover_by_hand(clinic):
    """Textbook: masses times heights; track over twice the height."""
    job = v(clinic, "vehicle.cog_m", 1.2)
    design = derive(job)
    weighed = sum(axle.weighed_kg for axle in job.vehicle.axles)
    parts = [(item.mass_kg, item.place.z_m + item.size.height_m / 2) for item in design.items]
    parts += [(job.roof.module.mass_kg, job.vehicle.roof_m)] * len(job.roof.modules)
    height = (weighed * 1.2 + sum(m * z for m, z in parts)) / (weighed + sum(m for m, _ in parts))
    assert design.place.cog_m.value == pytest.approx(height)
    assert design.place.rollover_share.value == pytest.approx(job.vehicle.track_m / (2 * height))
    assert derive(clinic).place.cog_m is None


@pytest.mark.parametrize(
    ("changed", "sentence"),
    [
        ({"empty_kg": 400.0}, "The most of WATER is below its least."),
        ({"takes_from": "NONE"}, "There is no lading NONE."),
        ({"takes_from": "WATER"}, "WATER cannot fill from WATER."),
        ({"takes_from": "WASTE"}, "WATER cannot fill from WASTE."),
    ],
)
def test_what_a_lading_cannot_be(clinic, changed, sentence):
    job = replace(clinic, ladings=(replace(FRESH, **changed), WASTE))
    assert sentence in [one.message for one in problems(job)]
