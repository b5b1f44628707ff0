"""Fixings: bolts against a steel table, patterns against a solve of springs, factors against the regulation."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import told, v
from weighty_axle.design.derive import derive
from weighty_axle.design.place.holds import GRAVITY_M_PER_S2, enough, hold_all
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import move
from weighty_axle.job.models.place import Assembly, Fitting, Hold
from weighty_axle.job.stated import Place, Size
from weighty_axle.physics.body.bolts import panel_shear_limit_n, pull_limit_n, shear_limit_n, worst_pull_n
from weighty_axle.reference.tables import bolt_grades, bolts


@pytest.mark.parametrize(
    ("size", "grade", "shear_kn", "pull_kn"),
    [("M10", "8.8", 22.3, 33.4), ("M12", "8.8", 32.4, 48.6), ("M12", "10.9", 33.7, 60.7), ("M8", "8.8", 14.1, 21.1)],
)
def test_bolts_as_steel_tables_have_them(size, grade, shear_kn, pull_kn):
    """Resistance tables to EN 1993-1-8 as handbooks print them (recalled)."""
    bolt = next(one for one in bolts().rows if one.size == size)
    made = next(one for one in bolt_grades().rows if one.name == grade)
    assert shear_limit_n(bolt.stress_mm2, made.strength_mpa, made.shear_share) / 1000 == pytest.approx(
        shear_kn, abs=0.06
    )
    assert pull_limit_n(bolt.stress_mm2, made.strength_mpa) / 1000 == pytest.approx(pull_kn, abs=0.06)


def test_holes_in_plywood_as_the_timber_code_has_them():
    """EN 1995-1-1 equation 8.20 (recalled): 12 mm in plywood of 600 kg/m³ crushes at 58.08 N/mm²; 20 mm thick."""
    assert panel_shear_limit_n(12, 20, 600) == pytest.approx(58.08 * 12 * 20)


@pytest.mark.parametrize("row", [2, 3, 4, 6])
def test_the_worst_bolt_of_a_rigid_box_on_springs(row):
    """Two rows of equal springs: the least-norm solution of the equilibrium equations is the elastic one."""
    dice = random.Random(row)
    apart, long = dice.uniform(0.1, 0.4), dice.uniform(0.5, 1.2)
    pull, between, along = dice.uniform(0, 500), dice.uniform(0, 300), dice.uniform(0, 300)
    at = [(x, y) for y in (-apart / 2, apart / 2) for x in np.linspace(-long / 2, long / 2, row)]
    equations = np.array([[1.0] * len(at), [y for _, y in at], [x for x, _ in at]])
    springs = np.linalg.lstsq(equations, np.array([pull, between, along]), rcond=None)[0]
    said = worst_pull_n(pull, between_rows=(between, apart), along_rows=(along, long), bolts=2 * row)
    assert said == pytest.approx(springs.max())
    assert worst_pull_n(pull, between_rows=(between, apart), along_rows=(along, long), bolts=2 * row + 1) == said


@pytest.mark.parametrize(
    ("kind", "gross_kg", "factors"),
    [
        ("coach", 4_900.0, (10.0, 5.0)),
        ("coach", 24_500.0, (6.6, 5.0)),
        ("rigid_truck", 3_500.0, (20.0, 8.0)),
        ("rigid_truck", 11_990.0, (10.0, 5.0)),
        ("rigid_truck", 18_000.0, (6.6, 5.0)),
        ("drawbar_trailer", 3_500.0, (0.8, 0.6)),
        ("semi_trailer", 30_000.0, (0.8, 0.6)),
    ],
)
def test_what_is_asked_by_class(clinic, kind, gross_kg, factors):
    """UN Regulation 100, mechanical shock by category, and EN 12195-1, road (both recalled); own factors win."""
    job = replace(clinic, vehicle=replace(clinic.vehicle, kind=kind, gross_limit_kg=gross_kg))
    assert derive(job).holds.factors_g[:2] == factors
    assert derive(v(job, "vehicle.hold_forward_g", 3.0)).holds.factors_g == (3.0, factors[1], 1.0)


BOX = Fitting(
    tag="BOX",
    name="Box",
    mass_kg=100.0,
    place=Place(x_m=7.5, y_m=0.0, z_m=0.45),
    size=Size(length_m=0.6, width_m=0.4, height_m=0.5),
)
W = 100 * GRAVITY_M_PER_S2


def _use(clinic, **more):
    job = replace(clinic, fittings=(*clinic.fittings, BOX), holds=(Hold(tag="HD1", items=("BOX",), **more),))
    assert problems(job) == []
    return derive(job).holds.holds["HD1"]


@pytest.mark.parametrize(
    ("how", "case", "shear", "pull"),
    [
        # In times of the weight. Floor: 6.6 at half the height, 0.25 m, over 0.6 m, less the weight.
        ("floor", "stop", 6.6 / 4, 6.6 * 0.25 / (0.6 * 2) - 1 / 4),
        ("ceiling", "stop", 6.6 / 4, 6.6 * 0.25 / (0.6 * 2) + 1 / 4),
        # Side wall: 6.6 along at 0.2 m over 0.6 m, and the weight at 0.2 m over 0.5 m.
        ("wall", "stop", math.hypot(6.6, 1) / 4, 6.6 * 0.2 / (0.6 * 2) + 0.2 / (0.5 * 2)),
        # Cross wall: 5 across at 0.3 m over 0.4 m, and the weight at 0.3 m over 0.5 m.
        ("cross_wall", "turn", math.hypot(5, 1) / 4, 5 * 0.3 / (0.4 * 2) + 0.3 / (0.5 * 2)),
    ],
)
def test_a_box_of_100_kg_by_hand(clinic, how, case, shear, pull):
    """Textbook statics of a box on four bolts at its corners, M8 8.8."""
    found = _use(clinic, how=how, bolts=4, bolt="M8", grade="8.8")
    assert case in found.use_share.limit
    assert (found.shear_n.value, found.pull_n.value) == pytest.approx((shear * W, pull * W))
    limits = 0.6 * 800 * 36.6 / 1.25, 0.9 * 800 * 36.6 / 1.25
    assert found.use_share.value == pytest.approx(W * (shear / limits[0] + pull / limits[1] / 1.4))


def test_straps_and_panels_by_hand(clinic):
    """Four straps of 10 kN at 45°: two of them level against a hard stop; plywood under washers gives way before
    bolts do, plates help.
    """
    strapped = _use(clinic, how="straps", straps=4, strap_n=10_000.0, strap_deg=45.0)
    assert strapped.use_share.value == pytest.approx(6.6 * W / (2 * 10_000 * math.cos(math.radians(45)) ** 2))
    washers = _use(clinic, how="wall", into="plywood")
    area = math.pi / 4 * (24**2 - 8.4**2)
    assert washers.use_share.value == pytest.approx(washers.pull_n.value / (2.5 * area))
    assert "washers" in washers.use_share.limit
    assert _use(clinic, how="wall", into="plywood", plate_mm=80.0).use_share.value < washers.use_share.value / 3


def test_a_board_is_held_as_one_box(clinic):
    """Two things on one board: their masses together, the outline around both."""
    second = replace(BOX, tag="BOX2", mass_kg=50.0, place=replace(BOX.place, x_m=8.1))
    job = replace(clinic, fittings=(*clinic.fittings, BOX, second))
    one = derive(replace(job, holds=(Hold(tag="HD1", items=("BOX", "BOX2"), how="floor"),))).holds.holds["HD1"]
    whole = replace(BOX, mass_kg=150.0, size=replace(BOX.size, length_m=1.2))
    same = replace(clinic, fittings=(*clinic.fittings, whole), holds=(Hold(tag="HD1", items=("BOX",), how="floor"),))
    assert one.use_share.value == pytest.approx(derive(same).holds.holds["HD1"].use_share.value)


def test_the_fewest_bolts_that_do(clinic):
    """What is proposed carries it; no fewer and no smaller ones do."""
    heavy = replace(BOX, mass_kg=900.0)
    items = derive(replace(clinic, fittings=(*clinic.fittings, heavy))).items
    weak = Hold(tag="HD1", items=("BOX",), how="floor", into="plywood")
    job = replace(clinic, fittings=(*clinic.fittings, heavy), holds=(weak,))
    (finding,) = told(job, "place.hold-too-weak")
    fixed = finding.remedy.on(job)
    (hold,) = fixed.holds
    assert hold == enough(weak, clinic.vehicle, items) and derive(fixed).holds.holds["HD1"].use_share.value <= 1
    tries = [(count, one.size) for count in (4, 6, 8, 12) for one in bolts().rows]
    at = tries.index((hold.bolts, hold.bolt))
    assert at > 0 and hold.into == "frame"
    for count, size in tries[:at]:
        tried = replace(fixed, holds=(replace(hold, bolts=count, bolt=size),))
        assert derive(tried).holds.holds["HD1"].use_share.value > 1


@pytest.mark.parametrize("name", ["clinic", "puppet"])
def test_everything_loose_is_held_at_one_go(request, name):
    job = replace(request.getfixturevalue(name), holds=())
    design = derive(job)
    assert design.holds.loose and told(job, "place.loose")
    made, left = hold_all(job, design.items, design.holds.loose)
    held = replace(job, holds=made)
    assert left == () and problems(held) == []
    assert not told(held, "place.loose") and not told(held, "place.hold-too-weak")
    gone = replace(held, fittings=())
    assert told(gone, "place.hold-of-nothing") or not job.fittings


def test_what_a_fixing_cannot_be(clinic):
    twice = replace(clinic, holds=(Hold(tag="HD1", items=("TK1",)), Hold(tag="HD2", items=("TK1",))))
    assert "TK1 is held by HD1 already." in [one.message for one in problems(twice)]


def test_what_is_built_as_one_gets_one_fixing_and_what_touches_a_ceiling_hangs_from_it(clinic):
    job = replace(clinic, holds=(), assemblies=(Assembly(tag="PB1", name="Board", items=("INV1", "INV2", "DB1")),))
    job = move(("CC1",), dz_m=1.4 - 0.11 - 0.9).apply(job)
    design = derive(job)
    made, _ = hold_all(job, design.items, design.holds.loose)
    by = {tag: one for one in made for tag in one.items}
    assert by["INV1"] is by["INV2"] is by["DB1"] and set(by["DB1"].items) == {"INV1", "INV2", "DB1"}
    assert (by["CC1"].how, by["CC2"].how, by["INV1"].how) == ("ceiling", "wall", "floor")
    held = derive(replace(job, holds=made))
    assert not [one for one in held.holds.holds.values() if one.use_share.value > 1]
