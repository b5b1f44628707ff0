"""Physics against handbook tables, other libraries and independent routes."""

from __future__ import annotations

import inspect
import re
from importlib import import_module
from pkgutil import walk_packages

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from weighty_axle import physics
from weighty_axle.physics.body import axles
from weighty_axle.physics.electric import batteries, conductors, converters, phasors, protection
from weighty_axle.physics.loads import daytime
from weighty_axle.physics.solar import photovoltaics
from weighty_axle.reference import tables

# NEC chapter 9 table 8, stranded uncoated copper at 75 degC: area mm2, ohm per 1000 ft. Recalled.
NEC_TABLE_8 = {
    "14 AWG": (2.08, 3.14),
    "12 AWG": (3.31, 1.98),
    "10 AWG": (5.261, 1.24),
    "8 AWG": (8.367, 0.778),
    "6 AWG": (13.30, 0.491),
    "4 AWG": (21.15, 0.308),
    "2 AWG": (33.62, 0.194),
    "1 AWG": (42.41, 0.154),
    "1/0 AWG": (53.49, 0.122),
    "2/0 AWG": (67.43, 0.0967),
    "3/0 AWG": (85.01, 0.0766),
    "4/0 AWG": (107.2, 0.0608),
}


@pytest.mark.parametrize("size", NEC_TABLE_8)
def test_awg_areas_and_resistances_match_the_code(size):
    area, ohm_kft = NEC_TABLE_8[size]
    computed = conductors.awg_area_mm2(conductors.gauge_number(size))
    assert computed == pytest.approx(area, rel=2e-3)
    hot = conductors.at_temperature(conductors.stranded_ohm_per_km(computed), 75) * 0.3048
    assert hot == pytest.approx(ohm_kft, rel=6e-3)


def test_gauge_steps():
    """ASTM B258: six gauges double the diameter within a percent, 36 gauges are a factor of 92 in all from 4/0 to
    36.
    """
    assert conductors.awg_area_mm2(-3) / conductors.awg_area_mm2(36) == pytest.approx(92**2)
    assert conductors.awg_area_mm2(0) / conductors.awg_area_mm2(6) == pytest.approx(4, rel=0.01)
    for bad in (
        lambda: conductors.awg_area_mm2(41),
        lambda: conductors.gauge_number("70 mm2"),
        lambda: conductors.stranded_ohm_per_km(0),
    ):
        with pytest.raises(ValueError):
            bad()


def test_flexible_metric_cable_is_worse_than_its_area_says():
    """Fine strands cost up to 12 % (common practice, no source): the standard's maximum lies above the area formula."""
    extra = [
        row.ohm_per_km * row.area_mm2 / (conductors.COPPER_RESISTIVITY_20C * 1e9) - 1
        for row in tables.iec_conductors().rows
        if row.area_mm2 >= 1.5
    ]
    assert min(extra) > 0.06 and max(extra) < 0.17


def test_ampacity_follows_area_to_the_power_of_about_0_63():
    """Common practice, no source; a slipped digit in a recalled table would show here as a bend."""
    for table in tables.ampacity_tables().values():
        for insulation in table.rows[0].amps:
            rows = [row for row in table.rows if insulation in row.amps]
            areas = [
                float(row.size[:-4])
                if row.size.endswith("mm2")
                else conductors.awg_area_mm2(conductors.gauge_number(row.size))
                for row in rows
            ]
            amps = [row.amps[insulation] for row in rows]
            assert amps == sorted(amps)
            slope = np.polyfit(np.log(areas), np.log(amps), 1)[0]
            assert 0.5 < slope < 0.75, (table.key, insulation, slope)
            assert all(list(row.amps.values()) == sorted(row.amps.values()) for row in rows)


def test_ambient_factor_matches_the_code_table():
    """NEC table 310.15(B)(1)(1), recalled: 0.88 for 75 degC at 40 degC, 0.91 for 90 degC at 40 degC, 0.58 for 75 at
    60.
    """
    for insulation, air, factor in ((75, 40, 0.88), (90, 40, 0.91), (75, 60, 0.58)):
        assert conductors.ambient_factor(insulation_c=insulation, ambient_c=air, table_ambient_c=30) == pytest.approx(
            factor, abs=0.006
        )
    with pytest.raises(ValueError, match="no room"):
        conductors.ambient_factor(insulation_c=75, ambient_c=75, table_ambient_c=30)


def test_copper_mass():
    """IEC 60028: 1 km of 1 mm2 weighs 8.89 kg."""
    assert conductors.copper_mass_kg(area_mm2=1, length_m=1000) == pytest.approx(8.89)


# ---- phasors ----

LOAD_SETS = [
    (1200, 0.9, 800, 1.0, 0, 1.0),
    (3000, 1.0, 3000, 1.0, 0, 1.0),
    (0, 1.0, 2500, 0.8, 0, 1.0),
    (900, 0.95, 1400, 0.93, 2400, 1.0),
    (450, 0.85, 1500, 1.0, 3600, 0.9),
    (2000, 0.7, 100, 1.0, 1800, 0.8),
]


@pytest.mark.parametrize("in_phase", [False, True], ids=["180 degrees", "in phase"])
@pytest.mark.parametrize("loads", LOAD_SETS, ids=str)
def test_line_and_neutral_currents_agree_with_opendss(loads, in_phase):
    """Independent engine: OpenDSS solves the same source and loads; its element currents are compared."""
    from opendssdirect import dss

    p1, f1, p2, f2, p12, f12 = loads
    angle = 0 if in_phase else 180
    run = dss.Text.Command
    run("clear")
    # Two stiff single-phase sources of 120 V make the legs.
    run("new circuit.c bus1=a.1 phases=1 basekv=0.12 pu=1.0 angle=0 r1=1e-7 x1=1e-7 r0=1e-7 x0=1e-7")
    run(f"new vsource.s2 bus1=a.2 phases=1 basekv=0.12 pu=1.0 angle={angle} r1=1e-7 x1=1e-7 r0=1e-7 x0=1e-7")
    drawn = {"a": (p1, f1, "a.1.0", 0.12), "b": (p2, f2, "a.2.0", 0.12)}
    if not in_phase:
        drawn["c"] = (p12, f12, "a.1.2", 0.24)
    for name, (power, factor, bus, kv) in drawn.items():
        if power:
            run(
                f"new load.{name} bus1={bus} phases=1 kv={kv} kw={power / 1000} pf={factor} model=1 vminpu=0.5 "
                "vmaxpu=1.5"
            )
    run("set tolerance=1e-9")
    run("solve")
    assert dss.Solution.Converged()
    lines = []
    for name in ("source", "s2"):
        dss.Circuit.SetActiveElement(f"vsource.{name}")
        real, imaginary = dss.CktElement.Currents()[:2]
        lines.append(-complex(real, imaginary))
    v1, v2 = phasors.leg_voltages(120, in_phase=in_phase)
    ours = phasors.three_wire(
        l1_v=v1,
        l2_v=v2,
        l1_va=phasors.complex_power(p1, f1),
        l2_va=phasors.complex_power(p2, f2),
        across_va=phasors.complex_power(p12, f12),
    )
    assert ours.l1_a == pytest.approx(lines[0], abs=2e-3)
    assert ours.l2_a == pytest.approx(lines[1], abs=2e-3)
    assert ours.neutral_a == pytest.approx(-(lines[0] + lines[1]), abs=3e-3)


watts = st.floats(0, 20_000)


@given(watts, watts, watts, st.floats(0.3, 1), st.booleans())
def test_kirchhoff_and_power_balance(p1, p2, p12, factor, in_phase):
    v1, v2 = phasors.leg_voltages(120, in_phase=in_phase)
    loads = [phasors.complex_power(power, factor) for power in (p1, p2, p12)]
    got = phasors.three_wire(l1_v=v1, l2_v=v2, l1_va=loads[0], l2_va=loads[1], across_va=loads[2])
    assert abs(got.l1_a + got.l2_a + got.neutral_a) < 1e-9
    delivered = v1 * got.l1_a.conjugate() + v2 * got.l2_a.conjugate()
    assert delivered == pytest.approx(loads[0] + loads[1] + (0 if in_phase else loads[2]), rel=1e-9, abs=1e-6)
    if in_phase:  # the neutral carries the sum
        assert abs(got.neutral_a) == pytest.approx(abs(got.l1_a) + abs(got.l2_a), rel=1e-9, abs=1e-9)


# ---- axles ----

mass = st.tuples(st.floats(0, 5000), st.floats(-2, 15))


@given(st.lists(mass, max_size=8), st.floats(0.3, 0.9))
def test_three_axles_against_a_linear_solve(weights, share):
    """Unknown loads R1, R2, R3 from force balance, moment balance and the air-spring ratio, solved by numpy."""
    supports = [
        axles.Support(2.75, 1.0, True),
        axles.Support(9.3, share, False),
        axles.Support(10.65, 1 - share, False),
    ]
    total, moment = sum(m for m, _ in weights), sum(m * x for m, x in weights)
    system = np.array([[1, 1, 1], [2.75, 9.3, 10.65], [0, 1 - share, -share]])
    expected = np.linalg.solve(system, [total, moment, 0])
    got = axles.loads_kg(supports, weights)
    assert got == pytest.approx(tuple(expected), rel=1e-9, abs=1e-6)
    assert sum(got) == pytest.approx(total, abs=1e-6)


@pytest.mark.parametrize(
    ("supports", "expected"),
    [
        # Two axles 4 m apart, 1000 kg 1 m behind the front one: levers 3:1.
        ([(1.0, 1.0, True), (5.0, 1.0, False)], (750.0, 250.0)),
        # Semi-trailer, king pin at 1 m, three equalised axles about 9 m, 1000 kg at 2 m: 7/8 on the pin.
        (
            [(1.0, 1.0, True), (7.7, 1 / 3, False), (9.0, 1 / 3, False), (10.3, 1 / 3, False)],
            (875.0, 125 / 3, 125 / 3, 125 / 3),
        ),
        # Centre-axle trailer, coupling 1 m ahead of the body: weight behind the axle lifts the coupling.
        ([(-1.0, 1.0, True), (1.5, 1.0, False)], (-200.0, 1200.0)),
    ],
)
def test_axle_loads_by_hand(supports, expected):
    assert axles.loads_kg([axles.Support(*one) for one in supports], [(1000.0, 2.0)]) == pytest.approx(expected)


def test_axles_refuse_nonsense():
    for supports in (
        [axles.Support(1, 1, True)],
        [axles.Support(3, 1, True), axles.Support(3, 1, False)],
        [axles.Support(1, 0.9, True), axles.Support(3, 1, False)],
    ):
        with pytest.raises(ValueError):
            axles.loads_kg(supports, [])
    assert axles.side_difference_kg([(100, 0.5), (100, -0.5), (80, 1.0)], track_m=2) == pytest.approx(80)
    with pytest.raises(ValueError, match="track"):
        axles.side_difference_kg([], track_m=0)


# ---- inverter loss, batteries, modules, days ----


@given(st.floats(5, 60), st.floats(0.8, 0.97), st.floats(0.001, 0.12), st.floats(1000, 10_000))
def test_loss_curve_passes_its_three_points(no_load, peak, gap, rated):
    full = peak - gap
    curve = converters.fit_loss(no_load_w=no_load, peak_efficiency=peak, full_load_efficiency=full, rated_w=rated)
    assert curve.loss_w(0) == no_load
    assert rated / (rated + curve.loss_w(rated)) == pytest.approx(full, rel=1e-9)
    at = (curve.p0_w / curve.r2_per_w) ** 0.5
    assume(at > 1)
    assert at < rated and at / (at + curve.loss_w(at)) == pytest.approx(peak, rel=1e-9)
    powers = np.linspace(1, rated, 400)
    assert max(powers / (powers + curve.loss_w(powers))) <= peak + 1e-9


def test_loss_curve_by_hand():
    """30 W, 94 % best, 90 % full at 3000 W: sqrt(r2 3000) = 0.1 + sqrt(1/0.90 - 1/0.94), worked by hand to four
    figures.
    """
    curve = converters.fit_loss(no_load_w=30, peak_efficiency=0.94, full_load_efficiency=0.90, rated_w=3000)
    assert curve.r2_per_w == pytest.approx(3.359e-5, rel=1e-3)
    assert curve.r1 == pytest.approx(0.000346, abs=2e-5)
    with pytest.raises(ValueError, match="do not fit"):
        converters.fit_loss(no_load_w=30, peak_efficiency=0.9, full_load_efficiency=0.94, rated_w=3000)
    with pytest.raises(ValueError, match="positive"):
        converters.fit_loss(no_load_w=0, peak_efficiency=0.94, full_load_efficiency=0.9, rated_w=3000)


@given(st.floats(1, 20_000), st.floats(20, 60), st.floats(0, 0.05))
def test_constant_power_current_solves_the_quadratic(power, volts, ohm):
    """The smaller root of R I2 - V I + P = 0, by numpy; past V2/4R there is no operating point and that is said."""
    if ohm and power > volts**2 / (4 * ohm):
        with pytest.raises(batteries.VoltageCollapseError, match="most that can be given"):
            batteries.current_for_power(power_w=power, open_circuit_v=volts, resistance_ohm=ohm)
        return
    current = batteries.current_for_power(power_w=power, open_circuit_v=volts, resistance_ohm=ohm)
    assert (volts - ohm * current) * current == pytest.approx(power, rel=1e-6)
    assert current <= 2 * power / volts * (1 + 1e-9)


def test_prospective_current():
    assert batteries.prospective_current_a(open_circuit_v=58.4, resistance_ohm=0.002) == pytest.approx(29_200)
    with pytest.raises(ValueError, match="not positive"):
        batteries.prospective_current_a(open_circuit_v=58.4, resistance_ohm=0)


def test_module_voltages():
    """By hand: 40 V, -0.25 %/K, at -15 degC is 44 V. In heat the percent coefficient of Voc on Vmp would flatter."""
    assert photovoltaics.open_voltage_v(voc_v=40, voc_per_c=-0.0025, cell_c=-15) == pytest.approx(44.0)
    hot = photovoltaics.peak_power_voltage_v(vmp_v=33, voc_v=40, voc_per_c=-0.0026, pmp_per_c=-0.0034, cell_c=70)
    assert hot < 33 * (1 - 0.0026 * 45) * 0.97
    assert photovoltaics.design_current_a(isc_a=10, strings=2) == 25
    for call in (
        lambda: photovoltaics.open_voltage_v(voc_v=40, voc_per_c=0.0025, cell_c=0),
        lambda: photovoltaics.peak_power_voltage_v(vmp_v=33, voc_v=40, voc_per_c=-0.003, pmp_per_c=0.001, cell_c=0),
    ):
        with pytest.raises(ValueError, match="negative"):
            call()


@pytest.mark.parametrize(
    ("cell_c", "factor"),
    [(30, 1.0), (24, 1.02), (0, 1.10), (-1, 1.12), (-10, 1.14), (-22, 1.20), (-40, 1.25), (4.5, 1.10), (-20.5, 1.20)],
)
def test_cold_correction_table(cell_c, factor):
    """NEC table 690.7(A), recalled; between whole degrees the colder row holds."""
    assert tables.voc_factor(cell_c) == factor


def test_cold_correction_table_ends():
    with pytest.raises(ValueError, match="below the correction table"):
        tables.voc_factor(-41)


stretch = st.tuples(st.integers(0, 2), st.integers(0, 1439), st.integers(1, 1440), st.floats(0.1, 5000)).filter(
    lambda one: one[1] < one[2]
)


@given(st.lists(stretch, max_size=20))
def test_steps_against_a_minute_by_minute_sum(stretches):
    steps = daytime.summed(3, stretches)
    brute = np.zeros((3, 1440))
    for channel, start, end, value in stretches:
        brute[channel, start:end] += value
    for channel in range(3):
        lengths = np.diff(steps.times_min)
        assert np.repeat(steps.values[channel], lengths) == pytest.approx(brute[channel], abs=1e-6)
        assert daytime.integral_h(steps, steps.values[channel]) == pytest.approx(brute[channel].sum() / 60, abs=1e-6)
    assert steps.times_min[0] == 0 and steps.times_min[-1] == 1440


def test_stretch_outside_the_day_is_refused():
    with pytest.raises(ValueError, match="not inside the day"):
        daytime.summed(1, [(0, 100, 1500, 1.0)])


@pytest.mark.parametrize(
    ("practice", "current", "rating"),
    [
        ("north_american", 62.5, 70),
        ("north_american", 60, 60),
        ("north_american", 378, 400),
        ("international", 62.5, 63),
        ("international", 175, 200),
    ],
)
def test_next_standard_fuse(practice, current, rating):
    """NEC 240.6(A) and IEC 60269 preferred ratings, recalled."""
    assert protection.next_rating_a(current, tables.fuse_ratings(practice).amps) == rating


def test_no_fuse_beyond_the_list():
    with pytest.raises(ValueError, match="largest standard rating"):
        protection.next_rating_a(5000, tables.fuse_ratings("north_american").amps)


# ---- the layer itself ----

UNITS = {"1", "A", "V", "W", "VA", "ohm", "ohm/km", "m", "mm2", "kg", "degC", "1/K", "h", "min", "any", "s", "Ah"}
UNITS |= {"W/K", "J/K", "m3/h", "1/min", "1/h", "l/h", "N", "N m", "mm", "N/mm2", "kg/m3", "F", "H", "J"}


def _functions():
    for info in walk_packages(physics.__path__, f"{physics.__name__}."):
        module = import_module(info.name)
        for name, one in inspect.getmembers(module, inspect.isfunction):
            if one.__module__ == module.__name__ and not name.startswith("_"):
                yield pytest.param(one, id=f"{info.name.rpartition('.')[2]}.{name}")


@pytest.mark.parametrize("function", list(_functions()))
def test_docstrings_name_every_parameter_with_a_known_unit(function):
    text = inspect.getdoc(function) or ""
    for name in inspect.signature(function).parameters:
        assert re.search(rf"\b{name}\b", text), f"{name} is not in the docstring"
    assert "Returns:" in text
    assert "Source:" in text or function in (daytime.summed, daytime.integral_h, protection.next_rating_a)
    for unit in re.findall(r"\[([^\]]+)\]", text):
        assert unit in UNITS or unit == "any x h", unit
