"""Sun, diodes, shade, packing, yield and what holds the roof, against pvlib, brute force, tables and hand."""

from __future__ import annotations

import itertools
import math
import random
import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests import jobs
from weighty_axle import demos
from weighty_axle.answers.roof.shade import diode_of, shade, shade_day, shade_levels, shadow_outlines, wirings
from weighty_axle.answers.roof.string_plans import controller_plans, string_plans
from weighty_axle.answers.roof.sunny import SunnyPlace, home
from weighty_axle.answers.roof.yields import air_of, elsewhere_year_wh, lights, module_w, remote_day_wh, sun_yield
from weighty_axle.design.brief.seasons import MONTH_DAYS
from weighty_axle.design.derive import derive
from weighty_axle.design.roof.fill import area_of, fill
from weighty_axle.design.roof.geometry import boxes_meet, flat_box, module_boxes, service_box, stand_off_m, strays
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError, set_value
from weighty_axle.job.edits.roof import (
    add_lane,
    add_remote,
    align_on_roof,
    click_into_string,
    move_all_on_roof,
    set_controllers,
)
from weighty_axle.job.models.roof import Module, Roof, Sky
from weighty_axle.physics.body import wind
from weighty_axle.physics.search import packing
from weighty_axle.physics.search.packing import Area, RectangleKind, packed
from weighty_axle.physics.solar import shadows, single_diode, sun
from weighty_axle.physics.solar.array_power import (
    LEVELS,
    ModuleKind,
    SkyLight,
    greatest_power_w,
    section_curves,
    section_rows,
    year_of_power_w,
)
from weighty_axle.physics.solar.shadows import Points, Prism
from weighty_axle.reference import tables
from weighty_axle.reference.importers.module_table import ModuleTableError, read_modules
from weighty_axle.reference.importers.weather_file import WeatherFileError, read_weather
from weighty_axle.rules.judge import judge

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import pandas as pd
    import pvlib


def v(job, path, value):
    return set_value(path, value, "").apply(job)


# ---- sun and sky ----

YEAR = pd.date_range("2025-01-01", "2025-12-31 23:00", freq="h", tz="UTC")
DAY, HOUR = np.asarray(YEAR.day_of_year), np.asarray(YEAR.hour)


@pytest.mark.parametrize(("latitude", "longitude"), [(46.2, -63.8), (-33.9, 151.2), (0.0, 10.0), (69.6, 19.0)])
def test_sun_through_the_year_against_pvlib(latitude, longitude):
    """pvlib's implementation of NREL's solar position algorithm, every hour of a year."""
    theirs = pvlib.solarposition.get_solarposition(YEAR, latitude, longitude, method="nrel_numpy")
    ours = sun.position(latitude_deg=latitude, longitude_deg=longitude, day=DAY, utc_h=HOUR)
    assert np.abs(ours.elevation_deg - theirs["elevation"].to_numpy()).max() < 0.02
    low = np.cos(np.deg2rad(ours.elevation_deg))  # azimuths mean little overhead
    off = (ours.azimuth_deg - theirs["azimuth"].to_numpy() + 180) % 360 - 180
    assert np.abs(off * low).max() < 0.03


def test_sun_of_the_published_example():
    """NREL/TP-560-34302 (Reda and Andreas), worked example of 17 October 2003, recalled: elevation 39.872 deg before
    refraction, azimuth 194.340 deg.
    """
    # Days are counted in 2025; that one lies 8036 days earlier.
    got = sun.position(latitude_deg=39.742476, longitude_deg=-105.1786, day=290 - 8036, utc_h=19 + 30 / 60 + 30 / 3600)
    assert float(got.elevation_deg) == pytest.approx(39.872, abs=0.02)
    assert float(got.azimuth_deg) == pytest.approx(194.340, abs=0.02)


@pytest.mark.parametrize(("height", "turbidity"), [(0, 2.0), (25, 3.0), (1800, 4.5)])
def test_clear_sky_against_pvlib(height, turbidity):
    """The same model in pvlib (Ineichen and Perez without Perez's enhancement): compare like with like."""
    where = sun.position(latitude_deg=46.2, longitude_deg=-63.8, day=DAY, utc_h=HOUR)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        mass = pvlib.atmosphere.get_absolute_airmass(
            pvlib.atmosphere.get_relative_airmass(90 - where.elevation_deg), pvlib.atmosphere.alt2pres(height)
        )
        beyond = pvlib.irradiance.get_extra_radiation(DAY, solar_constant=1361.0, method="spencer")
        theirs = pvlib.clearsky.ineichen(90 - where.elevation_deg, mass, turbidity, altitude=height, dni_extra=beyond)
    ours = sun.clear_sky(elevation_deg=where.elevation_deg, day=DAY, height_m=height, turbidity=turbidity)
    for name, values in zip(("ghi", "dhi", "dni"), ours, strict=True):
        assert np.nanmax(np.abs(np.asarray(theirs[name]) - values)) < 0.5, name


def test_a_tilted_plane_against_pvlib():
    where = sun.position(latitude_deg=46.2, longitude_deg=-63.8, day=DAY, utc_h=HOUR)
    sky = sun.clear_sky(elevation_deg=where.elevation_deg, day=DAY, height_m=25, turbidity=3)
    theirs = pvlib.irradiance.get_total_irradiance(
        30,
        150,
        90 - where.elevation_deg,
        where.azimuth_deg,
        sky.beam_w_per_m2,
        sky.global_w_per_m2,
        sky.diffuse_w_per_m2,
        albedo=0.2,
        model="isotropic",
    )
    beam, diffuse = sun.plane_of_array_w_per_m2(sky, where, tilt_deg=30, surface_azimuth_deg=150, albedo=0.2)
    assert (
        np.abs(np.asarray(theirs["poa_direct"]) - beam).max() < 0.5
        and np.abs(np.asarray(theirs["poa_diffuse"]) - diffuse).max() < 0.5
    )


# ---- single diode ----


@pytest.fixture(scope="module")
def open_table():
    """220 crystalline modules of the open module table that pvlib ships; names are left behind."""
    rows = pvlib.pvsystem.retrieve_sam("CECMod").T
    return rows[rows["Technology"].isin(["Mono-c-Si", "Multi-c-Si"])].sample(220, random_state=7).reset_index(drop=True)


def test_fits_against_an_open_module_table(open_table):
    """Every fit goes through short circuit, peak and open circuit of its datasheet: Pmp within 1 %, Vmp within 2 %."""
    for _, row in open_table.iterrows():
        diode = single_diode.fit(
            voc_v=row.V_oc_ref,
            isc_a=row.I_sc_ref,
            vmp_v=row.V_mp_ref,
            imp_a=row.I_mp_ref,
            voc_per_c=row.beta_oc / row.V_oc_ref,
            isc_per_c=row.alpha_sc / row.I_sc_ref,
        )
        volts, amps = single_diode.peak(diode)
        assert volts * amps == pytest.approx(row.V_mp_ref * row.I_mp_ref, rel=0.01) and volts == pytest.approx(
            row.V_mp_ref, rel=0.02
        )
        ends = single_diode.voltages_v(diode, [0.0, row.I_sc_ref])
        assert ends[0] == pytest.approx(row.V_oc_ref, rel=1e-3) and abs(ends[1]) < 0.02 * row.V_oc_ref


@pytest.mark.parametrize(("light", "cell"), [(1000, 25), (200, 10), (600, 60), (50, -5), (1100, 75)])
def test_curves_under_other_light_against_pvlib(light, cell):
    """pvlib's De Soto translation and its bishop88 solver on our five parameters."""
    diode = single_diode.fit(voc_v=39.0, isc_a=13.9, vmp_v=33.0, imp_a=13.33, voc_per_c=-0.0026, isc_per_c=0.0005)
    theirs = pvlib.pvsystem.calcparams_desoto(
        light,
        cell,
        diode.isc_a_per_c,
        diode.nnsvth_v,
        diode.photocurrent_a,
        diode.saturation_a,
        diode.shunt_ohm,
        diode.series_ohm,
    )
    ours = single_diode.at(diode, irradiance_w_per_m2=light, cell_c=cell)
    assert (ours.photocurrent_a, ours.saturation_a, ours.series_ohm, ours.shunt_ohm, ours.nnsvth_v) == pytest.approx(
        tuple(map(float, theirs)), rel=2e-3
    )
    amps, volts, watts = pvlib.singlediode.bishop88_mpp(
        ours.photocurrent_a, ours.saturation_a, ours.series_ohm, ours.shunt_ohm, ours.nnsvth_v
    )
    assert single_diode.peak(ours) == pytest.approx((volts, amps), rel=1e-3) and watts == pytest.approx(
        math.prod(single_diode.peak(ours)), rel=1e-6
    )
    wanted = np.linspace(0, 0.98 * ours.photocurrent_a, 9)
    direct = pvlib.singlediode.bishop88_v_from_i(
        wanted, ours.photocurrent_a, ours.saturation_a, ours.series_ohm, ours.shunt_ohm, ours.nnsvth_v
    )
    assert single_diode.voltages_v(ours, wanted) == pytest.approx(direct, abs=1e-4)


def test_a_datasheet_no_diode_fits_is_refused():
    with pytest.raises(single_diode.FitError, match="no single diode"):
        single_diode.fit(voc_v=40.0, isc_a=10.0, vmp_v=12.0, imp_a=9.99, voc_per_c=-0.003, isc_per_c=0.0005)


# ---- shade ----

DIODE = single_diode.fit(voc_v=37.1, isc_a=13.8, vmp_v=31.0, imp_a=12.9, voc_per_c=-0.0027, isc_per_c=0.0005)
SMALL = single_diode.fit(voc_v=22.6, isc_a=11.2, vmp_v=18.9, imp_a=10.58, voc_per_c=-0.0028, isc_per_c=0.0005)
KINDS = [ModuleKind(DIODE, 3), ModuleKind(SMALL, 2)]
# Strings of sections by their level of shade, one controller; in the last ones 20 and more are sections of the small
# type.
SHADE_CASES = [
    [[0] * 9],
    [[0] * 8 + [8]],
    [[0] * 6 + [4, 4, 8]],
    [[8] * 9],
    [[0] * 3 + [8] * 6],
    [[0, 0, 0], [0, 0, 0]],
    [[0, 0, 0], [8, 0, 0]],
    [[0, 0, 0], [8, 8, 8]],
    [[0] * 6, [0, 0, 2, 2, 4, 6]],
    [[0, 0, 8], [0, 0, 8], [0, 0, 0]],
    [[0, 0, 0, 20, 20]],
    [[0, 0, 0, 28, 28]],
    [[8, 8, 8, 20, 20]],
    [[0, 0, 0], [20, 20, 20, 20]],
    [[20] * 4, [20, 20, 22, 28]],
    [[0, 0, 4, 24, 20], [20] * 6],
]


@pytest.mark.parametrize("strings", SHADE_CASES, ids=str)
@pytest.mark.parametrize(("beam", "diffuse", "cell"), [(800, 100, 55), (300, 150, 20)])
def test_shade_against_an_independent_solution(strings, beam, diffuse, cell):
    """Every section by pvlib's bishop88 with its bypass diode, strings side by side by the bus voltage, on a grid of
    its own.
    """
    grid = np.linspace(0, 16, 4001)
    curves = []
    for string in strings:
        total = np.zeros_like(grid)
        for number in string:
            (diode, sections), level = KINDS[number >= 20], number % 20
            one = single_diode.at(diode, irradiance_w_per_m2=diffuse + beam * (1 - level / LEVELS), cell_c=cell)
            own = np.full_like(grid, -0.5)
            lit = grid < one.photocurrent_a * 0.99999
            own[lit] = (
                pvlib.singlediode.bishop88_v_from_i(
                    grid[lit], one.photocurrent_a, one.saturation_a, one.series_ohm, one.shunt_ohm, one.nnsvth_v
                )
                / sections
            )
            total += np.maximum(own, -0.5)
        curves.append(total)
    if len(curves) == 1:
        best = float((grid * curves[0]).max())
    else:
        bus = np.linspace(1, max(float(curve[0]) for curve in curves), 6000)
        best = float((bus * sum(np.interp(bus, curve[::-1], grid[::-1], right=0.0) for curve in curves)).max())
    amps, volts = section_curves(KINDS, beam_w_per_m2=beam, diffuse_w_per_m2=diffuse, cell_c=cell)
    ours = greatest_power_w(
        amps, volts, [[np.array([one % 20 + (LEVELS + 1) * (one >= 20) for one in string]) for string in strings]]
    )
    assert ours == pytest.approx(best, rel=0.006)


def test_the_year_of_mixed_modules_is_that_of_each_alone():
    """On a controller each, types do not touch one another: the sum of single years, and rows of sections a module does
    not have give nothing.
    """
    dice = np.random.default_rng(5)
    levels = dice.integers(0, LEVELS + 1, (30, 3, 3))
    light = SkyLight(dice.uniform(50, 800, 30), dice.uniform(20, 150, 30), dice.uniform(0, 65, 30))
    kind_of = np.array([0, 1, 0])
    rows = section_rows(KINDS, kind_of, levels)
    assert (
        (rows[:, 1, 2] == 2 * (LEVELS + 1)).all()
        and (rows[:, 1, :2] == levels[:, 1, :2] + LEVELS + 1).all()
        and (rows[:, 0] == levels[:, 0]).all()
    )
    (mixed,) = year_of_power_w(KINDS, kind_of, light, levels, [[[[0]], [[1]], [[2]]]])
    alone = [
        year_of_power_w([KINDS[kind]], np.array([0]), light, levels[:, at : at + 1, : KINDS[kind].sections], [[[[0]]]])[
            0
        ]
        for at, kind in enumerate(kind_of)
    ]
    assert mixed == pytest.approx(sum(alone), rel=2e-3)


def test_parallel_is_not_always_best_in_shade():
    """Common practice says so; it is false: with one section dark a long string gives more than modules side by side,
    with two dark it matters where they lie.
    """
    amps, volts = section_curves([ModuleKind(DIODE, 3)], beam_w_per_m2=800, diffuse_w_per_m2=100, cell_c=50)
    one_dark = [np.array([8, 0, 0]), *[np.array([0, 0, 0])] * 5]
    series = greatest_power_w(amps, volts, [[np.concatenate(one_dark)]])
    parallel = greatest_power_w(amps, volts, [one_dark])
    assert series > 1.02 * parallel
    dark, light = np.array([8, 8, 8]), np.array([0, 0, 0])
    together = greatest_power_w(amps, volts, [[np.concatenate([dark, dark]), np.concatenate([light, light])]])
    apart = greatest_power_w(amps, volts, [[np.concatenate([dark, light]), np.concatenate([dark, light])]])
    assert abs(together / apart - 1) > 0.1


@given(st.integers(0, 10_000))
def test_shadows_against_walking_towards_the_sun(seed):
    """From every point small steps towards the sun: dark when a box stands in the way below its top."""
    dice = random.Random(seed)
    prism = Prism(
        x0 := dice.uniform(0, 3),
        x0 + dice.uniform(0.1, 1.5),
        y0 := dice.uniform(-1, 1),
        y0 + dice.uniform(0.1, 0.8),
        dice.uniform(0.05, 0.6),
    )
    up, azimuth, heading = dice.uniform(5, 80), dice.uniform(0, 360), dice.uniform(0, 360)
    along, across = shadows.away_from_sun(
        elevation_deg=np.array([up]), azimuth_deg=np.array([azimuth]), heading_deg=heading
    )
    xs, ys = (np.array([dice.uniform(low, high) for _ in range(30)]) for low, high in ((-1, 5), (-2, 2)))
    got = shadows.shaded(Points(xs, ys, np.zeros(30, dtype=np.int64)), [prism], along, across)[0]
    for x, y, dark in zip(xs, ys, got, strict=True):
        heights = np.linspace(0, prism.height_m, 2000)
        walk_x, walk_y = x - along[0] * heights, y - across[0] * heights
        inside = (walk_x >= prism.x0_m) & (walk_x <= prism.x1_m) & (walk_y >= prism.y0_m) & (walk_y <= prism.y1_m)
        edge = min(
            abs(walk_x - prism.x0_m).min(),
            abs(walk_x - prism.x1_m).min(),
            abs(walk_y - prism.y0_m).min(),
            abs(walk_y - prism.y1_m).min(),
        )
        assert bool(inside.any()) == bool(dark) or edge < 0.01


def test_where_shadows_fall():
    """Front to the north, sun in the south: the shadow lies towards the front; sun in the west: towards the right side
    (east).
    """
    for azimuth, sign in ((180, (-1, 0)), (270, (0, 1)), (0, (1, 0))):
        along, across = shadows.away_from_sun(
            elevation_deg=np.array([45.0]), azimuth_deg=np.array([float(azimuth)]), heading_deg=0.0
        )
        assert (along[0], across[0]) == pytest.approx(sign, abs=1e-9)
    corners = shadows.outline(Prism(0, 1, 0, 1, 0.5), 2.0, 0.0)
    assert sorted(corners) == [(0, 0), (0, 1), (2.0, 0), (2.0, 1)]


def test_a_year_is_the_sum_of_its_hours():
    """Solved once for hours alike, or each on its own: within a percent."""
    dice = np.random.default_rng(3)
    hours = 60
    light = SkyLight(dice.uniform(0, 900, hours), dice.uniform(10, 200, hours), dice.uniform(0, 60, hours))
    levels = dice.integers(0, LEVELS + 1, (hours, 4, 3)) * (dice.random((hours, 4, 3)) < 0.3)
    ways = [[[[0, 1, 2, 3]]], [[[0, 1], [2, 3]]], [[[0]], [[1, 2, 3]]]]
    got = year_of_power_w([ModuleKind(DIODE, 3)], np.zeros(levels.shape[1], dtype=np.int64), light, levels, ways)
    for hour in range(0, hours, 7):
        amps, volts = section_curves(
            [ModuleKind(DIODE, 3)],
            beam_w_per_m2=light.beam_w_per_m2[hour],
            diffuse_w_per_m2=light.diffuse_w_per_m2[hour],
            cell_c=light.cell_c[hour],
        )
        for at, way in enumerate(ways):
            direct = greatest_power_w(
                amps, volts, [[levels[hour, string].ravel() for string in strings] for strings in way]
            )
            assert got[at, hour] == pytest.approx(direct, rel=0.02, abs=4)


@pytest.mark.parametrize("day", [20, 110, 172])
def test_a_clear_day_under_the_shadows(clinic, day):
    """Without shadows each hour is rated power × light ÷ 1000 by the temperature coefficient (no curve of a diode in
    it); shadows only take.
    """
    design = derive(clinic)
    found = shade_day(design, home(design), day, 0.0)
    assert found is not None and 0 < found.lost_share.value < 0.5
    assert all(given <= whole + 1e-6 for given, whole in zip(found.with_w, found.without_w, strict=True))
    bare = derive(replace(clinic, roof=replace(clinic.roof, obstacles=())))
    free = shade_day(bare, home(bare), day, 0.0)
    assert free.lost_share.value == 0 and free.with_w == pytest.approx(found.without_w)
    noon = min(range(len(found.hours)), key=lambda at: abs(found.hours[at] - 12))
    where = sun.position_by_the_sun(
        latitude_deg=home(design).latitude_deg, day=np.array([day]), solar_h=np.array([found.hours[noon]])
    )
    light = sun.clear_sky(
        elevation_deg=where.elevation_deg,
        day=np.array([day]),
        height_m=home(design).height_m,
        turbidity=clinic.roof.sky.turbidity,
    )
    air = air_of(clinic.roof.sky, clinic.site, home(design).latitude_deg)[{20: 0, 110: 3, 172: 5}[day]]
    cell = sun.cell_c(air_c=np.array([air]), irradiance_w_per_m2=light.global_w_per_m2, rise_c=clinic.roof.rise_c)
    one = float(module_w(clinic.roof.module, light.global_w_per_m2, cell)[0])
    assert found.without_w[noon] == pytest.approx(
        one * sum(bool(module.string) for module in clinic.roof.modules), rel=0.03
    )
    late = shade_day(design, replace(home(design), latitude_deg=85.0), 355, 0.0)
    assert late is None, "the sun stays down"


def test_the_year_under_shade(clinic):
    """Shade only takes; without obstacles it takes nothing, and the sentence says to leave it."""
    design = derive(v(clinic, "roof.heading_deg", 0.0))
    got = shade(design, home(design))
    assert got is not None and [one.year_wh.value for one in got.ways] == sorted(
        (one.year_wh.value for one in got.ways), reverse=True
    )
    assert all(0 < one.lost_share.value < 0.5 for one in got.ways)
    assert {one.name for one in got.ways if one.against} == {
        "all in series",
        "all in parallel",
    } and "as it is strung" in got.sentence
    bare = derive(v(v(clinic, "roof.heading_deg", 0.0), "roof.obstacles", ()))
    free = shade(bare, home(bare))
    assert max(one.lost_share.value for one in free.ways) < 1e-9 and free.sentence.startswith("Leave it")
    assert shade(derive(v(clinic, "roof.modules", ())), home(design)) is None
    assert wirings(design)[0].wiring == (((0, 1, 2), (3, 4, 5)), ((6, 7, 8), (9, 10, 11)))


def test_the_year_of_a_roof_of_two_types(clinic):
    """A second type keeps its own curve: one of three in every string of half the size takes a sixth of the year away,
    not none.
    """
    small = replace(clinic.roof.module, name="Half of it", voc_v=19.5, vmp_v=16.5, pmp_w=220.0, sections=2)
    modules = tuple(
        replace(one, kind="Half of it" if at % 3 == 1 else "") for at, one in enumerate(clinic.roof.modules)
    )
    alike = v(v(clinic, "roof.heading_deg", 0.0), "roof.obstacles", ())
    mixed = replace(alike, roof=replace(alike.roof, more_modules=(small,), modules=modules))
    years = []
    for job in (alike, mixed):
        design = derive(job)
        got = shade(design, home(design))
        years.append(next(one.year_wh.value for one in got.ways if one.name == "as it is strung"))
        assert got.ways[0].year_wh.value > 0 and max(one.lost_share.value for one in got.ways) < 1e-9
    watts = [
        sum(small.pmp_w if one.kind else job.roof.module.pmp_w for one in job.roof.modules if one.string)
        for job in (alike, mixed)
    ]
    assert years[1] / years[0] == pytest.approx(watts[1] / watts[0], rel=0.01)


@pytest.mark.parametrize("left", [0.5, 0.9, 0.999])
def test_shade_counted_in_the_yield(puppet, left):
    """Every day, the year and every plan in the same proportion; noon and what the controllers cut stay as they are."""
    whole, less = (derive(v(puppet, "roof.losses.shade", one)) for one in (1.0, left))
    before, after = (sun_yield(one, home(one)) for one in (whole, less))
    for of in (lambda one: one.day_wh.value, lambda one: one.clear_day_wh, lambda one: one.overcast_day_wh):
        assert [of(one) for one in after.months] == pytest.approx([left * of(one) for one in before.months])
    assert (
        after.year_wh.value == pytest.approx(left * before.year_wh.value)
        and after.noon_share.value == before.noon_share.value
    )
    assert after.cut_year_wh.value == before.cut_year_wh.value
    plans = [string_plans(one, home(one)) for one in (whole, less)]
    assert [one.year_wh.value for one in plans[1]] == pytest.approx([left * one.year_wh.value for one in plans[0]])


def test_half_cut_modules_lose_half_as_much(clinic):
    """A shadow on one half of a half-cut module leaves the other half working."""
    where = sun.position(latitude_deg=46.2, longitude_deg=0.0, day=np.full(24, 80), utc_h=np.arange(24) + 0.5)
    up = where.elevation_deg > 5
    where = sun.SunPosition(where.elevation_deg[up], where.azimuth_deg[up])
    halved, whole = (shade_levels(derive(v(clinic, "roof.module.half_cut", cut)), where, 0.0) for cut in (True, False))
    assert (halved <= whole).all() and halved.sum() < whole.sum()


def test_shadows_for_the_slider(clinic):
    design = derive(clinic)
    noon, up = shadow_outlines(design, home(design), day=172, solar_h=12.0, heading_deg=0.0)
    assert len(noon) == len(clinic.roof.obstacles) and up == pytest.approx(90 - 46.2 + 23.44, abs=0.1)
    assert shadow_outlines(design, home(design), day=172, solar_h=0.0, heading_deg=0.0)[0] == ()


# ---- packing ----


def _most(area, kinds):
    """The most worth by trying everything on a grid that holds every side of these cases."""
    step, best = 0.5, 0.0
    x0, x1, y0, y1 = area.box
    places = []
    for kind in kinds:
        for along, across in {(kind.length_m, kind.width_m), (kind.width_m, kind.length_m)}:
            for x in np.arange(x0, x1 - along + 1e-9, step):
                for y in np.arange(y0, y1 - across + 1e-9, step):
                    box = (x, x + along, y, y + across)
                    if not any(packing._meets(box, other) for other in area.blocked):
                        places.append((box, kind.worth))

    def go(at, taken, worth):
        nonlocal best
        best = max(best, worth)
        for index in range(at, len(places)):
            box, own = places[index]
            if not any(packing._meets(box, other) for other in taken):
                go(index + 1, [*taken, box], worth + own)

    go(0, [], 0.0)
    return best


@pytest.mark.parametrize("seed", range(5))
def test_packing_against_brute_force(seed):
    dice = random.Random(seed)
    blocked = tuple(
        (x, x + 0.5, y, y + 0.5) for x, y in ((dice.randrange(6) / 2, dice.randrange(4) / 2) for _ in range(seed % 4))
    )
    kinds = [RectangleKind("large", 1.5, 1.0, 3.0), *([RectangleKind("small", 1.0, 0.5, 1.0)] if seed % 2 else [])]
    area = Area((0, 3.0, 0, 2.0 if seed % 2 else 2.5), blocked, 0.0)
    got, most = packed(area, kinds), _most(area, kinds)
    assert got.packing.worth == pytest.approx(most) and got.bound >= most - 1e-6
    _sound(got.packing.placed, kinds, area)


def _sound(placed, kinds, area):
    made = packing.boxes(placed, kinds)
    for box in made:
        assert (
            area.box[0] - 1e-6 <= box[0]
            and box[1] <= area.box[1] + 1e-6
            and area.box[2] - 1e-6 <= box[2]
            and box[3] <= area.box[3] + 1e-6
        )
        assert not any(packing._meets(box, other) for other in area.blocked)
    assert not any(packing._meets(one, other) for one, other in itertools.combinations(made, 2))


@pytest.mark.parametrize("seed", range(6))
def test_a_crowded_roof_is_packed_within_one_of_the_bound(seed):
    """12 m x 2.5 m with 15 obstacles; never worse than filling row by row."""
    dice = random.Random(seed)
    blocked = []
    for _ in range(15):
        wide, deep = dice.choice([(0.4, 0.4), (0.3, 0.3), (0.9, 0.7), (0.1, 0.1)])
        x, y = dice.uniform(0, 12 - wide), dice.uniform(-1.25, 1.25 - deep)
        blocked.append((x, x + wide, y, y + deep))
    area, kinds = Area((0.0, 12.0, -1.25, 1.25), tuple(blocked), 0.02), [RectangleKind("module", 1.722, 1.134, 1.0)]
    got = packed(area, kinds)
    assert got.bound - got.packing.worth < 1 + 1e-6
    assert got.packing.worth >= packing.in_strips(area, kinds, along=False).worth
    _sound(got.packing.placed, kinds, area)


def test_an_empty_roof_has_a_known_best():
    """Two rows of six lengthwise and one module crosswise at the end: 13, and the bound says no 14."""
    got = packed(Area((0.0, 12.0, -1.25, 1.25), (), 0.02), [RectangleKind("module", 1.722, 1.134, 1.0)])
    assert (got.packing.worth, math.floor(got.bound)) == (13, 13)


@pytest.mark.parametrize("name", demos.names())
def test_layouts_keep_everything_clear_and_differ(name):
    job = v(jobs.plain(name), "roof.margin_m", 0.03)
    job = add_lane().apply(
        replace(
            job,
            roof=replace(
                job.roof,
                obstacles=tuple(replace(one, service_given_up="", service_m=0.2) for one in job.roof.obstacles),
            ),
        )
    )
    found = fill(job.roof, job.vehicle.width_m, seconds=0.5)
    assert len(found) == 3 and found[1].rated_w.value >= found[2].rated_w.value
    assert {one.kind for one in found[0].modules} == {""}, "the job's own type comes first"
    each = {spec.name: spec.pmp_w for spec in (job.roof.module, *job.roof.more_modules, *tables.modules().rows)}
    for one in found:
        worth = {each[kind or job.roof.module.name] for kind in {module.kind for module in one.modules}}
        if len(worth) == 1:
            assert one.bound_w.value % worth.pop() == pytest.approx(0, abs=1e-6), (
                "nothing between two counts can be laid"
            )
    assert len({(tuple(sorted((m.kind, m.turned) for m in one.modules)), len(one.modules)) for one in found}) >= 2
    for one in found:
        made = one.edit.apply(job)
        assert problems(made) == []
        design = derive(made).roof
        assert (design.clashes, design.taken, design.strays) == ((), (), ())
        assert one.bound_w.value >= one.rated_w.value and one.gap_share.value == pytest.approx(
            1 - one.rated_w.value / one.bound_w.value
        )
        assert design.mass_kg.value > 0 and not {rule.rule.id for rule in judge(derive(made))} & {
            "roof.clash",
            "roof.over-margin",
            "roof.room-taken",
            "roof.over-width",
        }


def test_a_tapered_roof_with_overhang(puppet):
    """Where it is narrow in front less fits there; overhang widens, but never beyond the vehicle."""
    narrow = replace(puppet.roof, front_width_m=1.2)
    assert (
        len(fill(narrow, puppet.vehicle.width_m, seconds=0.3)[0].modules)
        < len(fill(puppet.roof, puppet.vehicle.width_m, seconds=0.3)[0].modules) + 1
    )
    box = (narrow.start_m + 0.1, narrow.start_m + 1.2, -0.9, 0.9)
    assert strays(narrow, box) and not strays(puppet.roof, box)
    wide = area_of(replace(puppet.roof, overhang_m=0.4), puppet.vehicle.width_m)
    assert wide.box[3] == puppet.vehicle.width_m / 2
    assert stand_off_m(replace(puppet.roof, crown_m=0.1, width_m=2.0), (0, 1, 0.0, 1.0)) == pytest.approx(0.1)
    assert stand_off_m(replace(puppet.roof, crown_m=0.1, width_m=2.0), (0, 1, -0.5, 0.5)) == pytest.approx(0.1 * 0.25)


# ---- yield ----


@pytest.mark.parametrize("name", demos.names())
def test_yield_by_trade_and_balance(name):
    """Common practice, no source: 55-70 % of the rating near noon on good clear days, and much less early, late and in
    winter.
    """
    design = derive(jobs.plain(name))
    got = sun_yield(design, home(design))
    days = [one.day_wh.value for one in got.months]
    assert got.year_wh.value == pytest.approx(sum(day * count for day, count in zip(days, MONTH_DAYS, strict=True)))
    noons = []
    for light in lights(home(design), design.job.roof.sky, design.job.site)[2:9]:
        cells = sun.cell_c(
            air_c=light.air_c, irradiance_w_per_m2=light.clear.global_w_per_m2, rise_c=design.job.roof.rise_c
        )
        losses = design.job.roof.losses
        through = losses.soiling * losses.wiring * losses.mismatch * losses.controller
        share = light.clear.global_w_per_m2 / 1000 * (1 + design.job.roof.module.pmp_per_c * (cells - 25)) * through
        noons.append(float(share.max()))
    assert 0.55 < sum(noons) / len(noons) < 0.72 and max(noons) < 0.78
    assert min(days) < 0.35 * max(days) and got.months[5].clear_day_wh > got.months[11].clear_day_wh


def test_a_clear_day_against_pvlib(clinic):
    """March's clear day by pvlib's PVWatts chain on the same irradiance and cell model."""
    design = derive(clinic)
    light = lights(home(design), clinic.roof.sky, clinic.site)[2]
    cells = light.air_c + light.clear.global_w_per_m2 * clinic.roof.rise_c / 1000
    dc = pvlib.pvsystem.pvwatts_dc(light.clear.global_w_per_m2, cells, 12 * 440.0, clinic.roof.module.pmp_per_c, 25.0)
    losses = clinic.roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller * losses.shade
    assert sun_yield(design, home(design)).months[2].clear_day_wh == pytest.approx(
        float(np.sum(dc)) / 4 * through, rel=1e-3
    )


@given(st.lists(st.floats(0.2, 0.6), min_size=12, max_size=12))
def test_the_mixed_sky_has_the_clearness_asked_for(clearness):
    """Clear and overcast days weigh out to the month's share of the light beyond the air."""
    job = jobs.plain("puppet-theatre")
    sky = Sky(clearness=tuple(round(one, 3) for one in clearness))
    for month, light in enumerate(lights(home(derive(job)), sky, job.site)):
        beyond = sun.extraterrestrial_w_per_m2(light.day) * np.maximum(0, np.sin(np.deg2rad(light.sun.elevation_deg)))
        mixed = (
            light.clear_share * light.clear.global_w_per_m2.sum()
            + (1 - light.clear_share) * light.overcast_w_per_m2.sum()
        )
        if 0 < light.clear_share < 1:
            assert mixed / beyond.sum() == pytest.approx(sky.clearness[month], rel=1e-6)


def test_a_small_controller_cuts_what_it_cannot_pass(clinic):
    job = clinic
    for tag in ("CC1", "CC2"):
        job = v(job, f"roof.controllers[{tag}].spec.output_a", 25.0)
    got, whole = sun_yield(derive(job), home(derive(job))), sun_yield(derive(clinic), home(derive(clinic)))
    assert (
        got.year_wh.value + job.roof.losses.shade * got.cut_year_wh.value == pytest.approx(whole.year_wh.value)
        and got.cut_year_h.value > 100
    )
    assert max(got.best_day) == pytest.approx(2 * 25 * 51.2)


def test_a_tilted_array_gives_more_in_winter(puppet):
    job = add_remote("CC1").apply(puppet)
    design = derive(job)
    tilted = remote_day_wh(design, job.roof.remote[0], home(design))
    flat = remote_day_wh(design, replace(job.roof.remote[0], tilt_deg=0.0), home(design))
    assert tilted[11].value > 1.3 * flat[11].value and len(tilted) == 12
    away = remote_day_wh(design, replace(job.roof.remote[0], azimuth_deg=0.0), home(design))
    assert away[11].value < flat[11].value


# ---- strings ----


def test_plans_are_ranked_and_stay_inside_the_windows(clinic, library_bus, puppet):
    for job in (clinic, library_bus, puppet):
        design = derive(job)
        found = string_plans(design, home(design))
        assert found and [one.year_wh.value for one in found] == sorted(
            (one.year_wh.value for one in found), reverse=True
        )
        windows = {one.tag: (one.fewest_in_series, one.most_in_series) for one in design.roof.controllers}
        for plan in found:
            assert all(windows[part.controller][0] <= part.series <= windows[part.controller][1] for part in plan.parts)
            used = [tag for part in plan.parts for modules in part.strings for tag in modules]
            assert len(set(used)) == len(used) and set(used) | set(plan.left_out) == {
                one.tag for one in job.roof.modules
            }
        made = found[0].edit.apply(job)
        assert problems(made) == []
        assert not [one for one in judge(derive(made)) if one.rule.step == "roof" and one.rule.severity == "stop"]
        assert derive(made).roof.strings[0].cold_margin_v.value == pytest.approx(found[0].cold_margin_v.value)
        assert found[0].year_wh.value == pytest.approx(sun_yield(derive(made), home(design)).year_wh.value, rel=1e-6)
    assert string_plans(derive(v(clinic, "roof.modules", ())), home(derive(clinic))) == ()


def test_other_controllers_are_tried_and_taken(clinic):
    """The fewest of those that give most come first; taking one leaves a job without Stop on the roof."""
    design = derive(clinic)
    found = controller_plans(design, home(design))
    assert found[0].year_wh.value == max(one.year_wh.value for one in found) and found[0].controllers.label.startswith(
        "1 × "
    )
    made = found[0].edit.apply(clinic)
    assert problems(made) == [] and len(made.roof.controllers) == 1
    assert not [one for one in judge(derive(made)) if one.rule.step == "roof" and one.rule.severity == "stop"]
    three = set_controllers(clinic.roof.controllers[0].spec, 3).apply(clinic)
    assert problems(three) == [] and [one.tag for one in three.roof.controllers] == ["CC1", "CC2", "CC3"]


@pytest.mark.parametrize("spec", tables.controllers().rows, ids=lambda one: one.name)
def test_generic_controllers_are_sound(puppet, spec):
    assert problems(v(puppet, "roof.controllers[CC1].spec", spec)) == []
    assert not spec.mass_kg or 10 <= spec.output_a / spec.mass_kg <= 27  # one built in weighs nothing of its own


def test_clicking_along_modules_makes_the_rope(puppet):
    string = puppet.roof.strings[0].tag
    job = puppet
    for tag in ("PV3", "PV1", "PV2"):
        job = click_into_string(tag, string).apply(
            click_into_string(tag, string).apply(job)
        )  # out, and in again at the end
    assert derive(job).roof.strings[0].modules == ("PV3", "PV1", "PV2")
    assert derive(job).roof.strings[0].cold_voc_v.value == pytest.approx(
        derive(puppet).roof.strings[0].cold_voc_v.value
    )
    out = click_into_string("PV1", string).apply(job)
    assert derive(out).roof.strings[0].modules == ("PV3", "PV2") and derive(out).roof.unassigned == ("PV1",)


def test_modules_move_and_line_up_together(puppet):
    moved = move_all_on_roof(("PV1", "PV2"), 0.1, -0.05).apply(puppet)
    for tag in ("PV1", "PV2"):
        old, new = (next(one for one in job.roof.modules if one.tag == tag) for job in (puppet, moved))
        assert (new.x_m - old.x_m, new.y_m - old.y_m) == pytest.approx((0.1, -0.05))
    with pytest.raises(EditRefusedError, match="not on the roof of this system"):
        move_all_on_roof(("PV1", "PV2"), 0.1, 0.0).apply(v(puppet, "roof.modules", ()))
    row = align_on_roof(("PV1", "PV4", "PV5"), across=True).apply(puppet)
    assert len({next(one.y_m for one in row.roof.modules if one.tag == tag) for tag in ("PV1", "PV4", "PV5")}) == 1


# ---- what holds and guards, by hand ----


def test_lift_and_fixings_by_hand(puppet):
    """150 km/h of air on 1.722 m x 1.134 m: 1.225/2 x (150/3.6)^2 x 1.953 m2; twice the pull over eight fixings."""
    assert wind.dynamic_pressure_pa(10.0) == pytest.approx(61.25)
    with pytest.raises(ValueError, match="below zero"):
        wind.dynamic_pressure_pa(-1.0)
    held = derive(puppet).fixings
    lift = 1.225 / 2 * (150 / 3.6) ** 2 * 1.722 * 1.134
    assert held.lift_n.value == pytest.approx(lift)
    assert held.pull_n.value == pytest.approx((lift - 21.5 * 9.81) * 2 / 8)
    assert held.needed_count.value == math.ceil((lift - 21.5 * 9.81) * 2 / 600)
    many = derive(v(v(puppet, "roof.fixing.member_pitch_m", 0.4), "roof.fixing.members_from_m", 0.0)).fixings
    assert many.off_members == () and len(many.members_m) > 10


def test_protection_by_hand(clinic):
    """Two strings of 13.9 A: 17.4 A back, under 25 A: no fuses; three: 34.8 A, fuses of 25 A; the isolator stands the
    cold Voc with two poles.
    """
    design = derive(clinic)
    one = design.protection[0]
    assert (one.back_a.value, one.fuse_a) == (pytest.approx(13.9 * 1.25), None)
    assert one.isolator_v.value == max(
        string.cold_voc_v.value for string in design.roof.strings
    ) and one.isolator_a.value == pytest.approx(2 * 13.9 * 1.25)
    three = derive(v(clinic, "roof.strings[S3].controller", "CC1")).protection[0]
    assert three.back_a.value == pytest.approx(2 * 13.9 * 1.25) and three.fuse_a.value == 25.0
    assert any("142 V DC" in label for label in one.labels) and len(one.labels) >= 4


def test_an_array_elsewhere_by_hand(puppet):
    like_the_strings = add_remote("CC1").apply(puppet)
    assert derive(like_the_strings).remote[0].cold_voc_v.value == pytest.approx(
        derive(puppet).roof.strings[0].cold_voc_v.value
    )
    design = derive(v(like_the_strings, "roof.remote[RA1].series", 2))
    (one,) = design.remote
    spec = puppet.roof.module
    assert one.rated_w.value == 2 * spec.pmp_w and one.isc_a.value == pytest.approx(1.25 * spec.isc_a)
    assert one.cold_voc_v.value == pytest.approx(2 / 3 * max(string.cold_voc_v.value for string in design.roof.strings))
    assert one.drop_share.value == pytest.approx(
        2 * 15 * 3.277e-3 * 1.02 * 1.1965 * spec.imp_a / (2 * spec.vmp_v), rel=0.005
    )  # ASTM B258: 10 AWG 3.277 ohm/km; copper at 70 °C


def test_an_array_gives_only_where_it_is(library_bus):
    """Named for one stay it adds nothing at home; named for none it is everywhere, and the year is its days."""
    job = add_remote("CC1").apply(library_bus)
    stay = job.stays[0]
    there = SunnyPlace(
        name=stay.place, latitude_deg=stay.latitude_deg, longitude_deg=stay.longitude_deg, height_m=stay.height_m
    )
    always, only = derive(job), derive(v(job, "roof.remote[RA1].stays", (stay.tag,)))
    assert [len(elsewhere_year_wh(always, place)) for place in (home(always), there)] == [1, 1]
    assert elsewhere_year_wh(only, home(only)) == ()
    (year,) = elsewhere_year_wh(only, there)
    days = remote_day_wh(only, only.job.roof.remote[0], there)
    assert year.value == pytest.approx(sum(one.value * count for one, count in zip(days, MONTH_DAYS, strict=True)))
    assert 600 < year.value / (2 * only.job.roof.remote[0].module.pmp_w) < 2200, (
        "full-sun hours a year of middle latitudes: common practice, no source"
    )


# ---- tables and files ----

GOOD = """Type,Length (mm),Width (mm),Pmax,Voc,Isc,Vmp,Imp,beta Voc,gamma Pmp,Mass
Long one,2278,1134,550,49.8,13.98,41.9,13.13,-0.27,-0.35,28
Short one,1722,1134,410,37.4,13.9,31.4,13.06,-0.26 %,-0.34 %,21.5
"""


def test_module_types_from_an_open_table(tmp_path, puppet):
    path = tmp_path / "types.csv"
    path.write_text(GOOD)
    long, short = read_modules(path)
    assert (long.length_m, long.pmp_w, long.voc_per_c, short.pmp_per_c) == (
        2.278,
        550.0,
        pytest.approx(-0.0027),
        pytest.approx(-0.0034),
    )
    assert problems(v(puppet, "roof.more_modules", (long, short))) == []
    path.write_text(GOOD.replace(",", ";").replace("37.4", "37,4"))
    assert read_modules(path)[1].voc_v == 37.4


@pytest.mark.parametrize(
    ("old", "new", "sentence"),
    [
        ("41.9", "51.9", "row 2: Vmp must be below Voc"),
        ("-0.27", "0.27", "row 2"),
        ("13.98", "much", "“much” is not a number"),
        ("Voc", "Volts", "no column for voc_v"),
        ("Short one", "Long one", "a type twice"),
        ("550", "-5", "row 2"),
        (GOOD.split("\n", 1)[1], "", "no rows"),
    ],
)
def test_bad_module_tables_are_refused_with_row_and_reason(tmp_path, old, new, sentence):
    path = tmp_path / "bad.csv"
    path.write_text(GOOD.replace(old, new))
    with pytest.raises(ModuleTableError, match=sentence):
        read_modules(path)


def test_the_sky_of_weather_files(tmp_path):
    """A TMY3 file that pvlib ships, by pandas; the same hours written as EPW give the same sky."""
    path = pvlib.__path__[0] + "/data/723170TYA.CSV"
    from pathlib import Path

    sky = read_weather(Path(path))
    data = pd.read_csv(path, header=1)
    month = data["Date (MM/DD/YYYY)"].str[:2].astype(int)
    clear = data["GHI (W/m^2)"].groupby(month).sum() / data["ETR (W/m^2)"].groupby(month).sum()
    assert sky.clearness == pytest.approx(tuple(clear), abs=1e-3)
    lit = data["GHI (W/m^2)"] > 5
    assert sky.air_c == pytest.approx(tuple(data["Dry-bulb (C)"][lit].groupby(month[lit]).mean()), abs=0.06)
    lines = ["LOCATION,Testing Field,-,-,-,0,36,-80,-5,270", *["-"] * 7]
    lines += [
        f"2001,{m},{date[3:5]},{time[:2]},0,-,{air},0,0,0,{beyond},0,0,{ground}"
        for m, date, time, air, beyond, ground in (
            zip(
                month,
                data["Date (MM/DD/YYYY)"],
                data["Time (HH:MM)"],
                data["Dry-bulb (C)"],
                data["ETR (W/m^2)"],
                data["GHI (W/m^2)"],
                strict=True,
            )
        )
    ]
    epw = tmp_path / "field.epw"
    epw.write_text("\n".join(lines))
    again = read_weather(epw)
    assert (
        (again.clearness, again.air_c) == (sky.clearness, sky.air_c)
        and again.source.startswith("Testing Field")
        and not again.left_out
    )
    # Codes for missing values (EPW data dictionary, recalled), a day twice, a day absent, months shuffled: told, and
    # nothing of it added up.
    head, body = lines[:8], lines[8:]
    holes = [
        one.replace(f",{one.split(',')[6]},", ",99.9,", 1) if at % 500 == 12 else one for at, one in enumerate(body)
    ]
    holes = [",".join([*one.split(",")[:13], "9999"]) if at % 700 == 300 else one for at, one in enumerate(holes)]
    changed = [*holes[4000:], *holes[:4000], *body[24:48]]
    del changed[100:124]
    epw.write_text("\n".join([*head, *changed]))
    holed = read_weather(epw)
    assert holed.clearness == pytest.approx(sky.clearness, abs=0.02) and holed.air_c == pytest.approx(
        sky.air_c, abs=0.5
    )
    words = " ".join(holed.left_out)
    assert all(
        part in words
        for part in ("without values", "24 hours that come twice", "24 hours of the year are absent", "not in order")
    )
    epw.write_text("\n".join([*head, *body[:600], *body[744:]]))
    with pytest.raises(WeatherFileError, match="month 1 has 600 of 744"):
        read_weather(epw)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("a,b\nc,d\ne,f", "neither EPW nor TMY3"),
        ("LOCATION,X\n" + "-\n" * 7 + "2001,1,1,1,0,-,x,0,0,0,y,0,0,z", "Line 9 is no hour"),
        ("LOCATION,X\n" + "-\n" * 7 + "2001,13,1,1,0,-,1,0,0,0,1,0,0,1", "of no day there is"),
        ("LOCATION,X\n" + "-\n" * 7 + "2001,0,1,1", "4 of 14 values"),
        ("LOCATION,X\n" + "-\n" * 7, "every month"),
    ],
)
def test_weather_files_of_no_use(tmp_path, text, sentence):
    path = tmp_path / "bad.epw"
    path.write_text(text)
    with pytest.raises(WeatherFileError, match=sentence):
        read_weather(path)
    with pytest.raises(WeatherFileError, match="cannot be read"):
        read_weather(tmp_path / "none.epw")


# ---- bad input ----


@pytest.mark.parametrize(
    ("path", "value", "sentence"),
    [
        ("roof.module.vmp_v", 60.0, "Vmp must be below Voc"),
        ("roof.module.voc_per_c", 0.002, "at most -0.00001"),
        ("roof.module.imp_a", 20.0, "Imp must be below Isc"),
        ("site.record_low_c", 40.0, "below the design high"),
        ("roof.modules[PV1].kind", "nothing", "no module type nothing"),
        ("roof.sky.air_c", (1.0, 2.0), "twelve values"),
        ("roof.overhang_m", 2.0, "at most 0.5"),
        ("roof.fixing.each", 0, "at least 1"),
    ],
)
def test_bad_roofs_are_refused(puppet, path, value, sentence):
    found = problems(v(puppet, path, value))
    assert found and sentence in found[0].message


def test_bad_arrays_elsewhere_are_refused(puppet):
    job = add_remote("CC1").apply(puppet)
    assert "no controller CC9" in problems(v(job, "roof.remote[RA1].controller", "CC9"))[0].message
    assert "no stay ST9" in problems(v(job, "roof.remote[RA1].stays", ("ST9",)))[0].message
    assert "one name" in problems(v(puppet, "roof.more_modules", (puppet.roof.module,)))[0].message


def test_rooms_and_boxes(clinic):
    """Room given up for a reason is no room; boxes of turned modules swap their sides."""
    one = clinic.roof.obstacles[0]
    assert service_box(one) is None and service_box(replace(one, service_given_up="")) == flat_box(one, 0.3)
    roof: Roof = replace(
        clinic.roof, modules=(Module(tag="A", x_m=1, y_m=0), Module(tag="B", x_m=5, y_m=0, turned=True))
    )
    boxes = module_boxes(roof)
    assert boxes["A"][1] - boxes["A"][0] == pytest.approx(boxes["B"][3] - boxes["B"][2]) and not boxes_meet(
        boxes["A"], boxes["B"]
    )
    assert diode_of(clinic.roof.module) is diode_of(clinic.roof.module)
