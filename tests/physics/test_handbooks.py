"""Worked examples and rules of thumb out of handbooks, all recalled: the program must come to the same numbers."""

from __future__ import annotations

import math

import numpy as np
import pytest

from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.physics.body.wind import dynamic_pressure_pa
from weighty_axle.physics.electric.conductors import awg_area_mm2, gauge_number
from weighty_axle.physics.solar import sun

FT_M = 0.3048


@pytest.mark.parametrize(
    ("month_day", "day", "solar_h", "zenith_deg", "from_south_deg"),
    [("13 February", 44, 9.5, 66.5, -40.0), ("1 July", 182, 18.5, 79.6, 112.0)],
)
def test_where_the_sun_stands(month_day, day, solar_h, zenith_deg, from_south_deg):
    """Duffie and Beckman, Solar Engineering of Thermal Processes, example 1.6.2: latitude 43 degrees north, azimuth
    from south, west positive; with Cooper's declination, up to 0.7 degrees off.
    """
    got = sun.position_by_the_sun(latitude_deg=43.0, day=day, solar_h=solar_h)
    assert 90 - float(got.elevation_deg) == pytest.approx(zenith_deg, abs=0.8), month_day
    assert float(got.azimuth_deg) - 180 == pytest.approx(from_south_deg, abs=0.8), month_day


def test_a_day_beyond_the_air():
    """Duffie and Beckman, example 1.10.1: 33.8 MJ/m2 at 43 degrees north on 15 April, of a solar constant of 1367 W/m2,
    with Cooper's declination.
    """
    hours = (np.arange(24 * 60) + 0.5) / 60
    up = sun.position_by_the_sun(latitude_deg=43.0, day=105, solar_h=hours).elevation_deg
    joules = float((sun.extraterrestrial_w_per_m2(105) * np.maximum(0, np.sin(np.deg2rad(up)))).sum()) * 60
    assert joules * 1367 / 1361 == pytest.approx(33.8e6, rel=0.013)


@pytest.mark.parametrize("latitude", [-50.0, -23.0, 0.0, 35.0, 46.2, 60.0])
@pytest.mark.parametrize("day", [15, 80, 172, 266, 355])
def test_how_long_the_sun_is_up(latitude, day):
    """Textbook: cos of half the day's angle = -tan latitude x tan declination; declination after Cooper, 23.45 sin(360
    (284 + n) / 365).
    """
    hours = (np.arange(24 * 240) + 0.5) / 240
    where = sun.position_by_the_sun(latitude_deg=latitude, day=day, solar_h=hours)
    declination = math.radians(23.45) * math.sin(math.radians(360 * (284 + day) / 365))
    by_hand = 24 / math.pi * math.acos(max(-1.0, min(1.0, -math.tan(math.radians(latitude)) * math.tan(declination))))
    assert float((where.elevation_deg > 0).sum()) / 240 == pytest.approx(by_hand, abs=0.2)
    noon = sun.position_by_the_sun(latitude_deg=latitude, day=day, solar_h=12.0)
    assert float(noon.elevation_deg) == pytest.approx(90 - abs(latitude - math.degrees(declination)), abs=1.0)
    morning, evening = (
        sun.position_by_the_sun(latitude_deg=latitude, day=day, solar_h=12 + h).elevation_deg for h in (-3.0, 3.0)
    )
    assert float(morning) == pytest.approx(float(evening), abs=0.1), "a day is the same before and after its noon"


@pytest.mark.parametrize("day", [1, 45, 130, 207, 306])
def test_hours_of_the_sun_against_hours_of_the_clock(day):
    """The equation of time by Spencer's series: the two ways to say when stand that far apart, up to a quarter of an
    hour.
    """
    b = 2 * math.pi * (day - 1) / 365
    minutes = 229.18 * (
        0.000075
        + 0.001868 * math.cos(b)
        - 0.032077 * math.sin(b)
        - 0.014615 * math.cos(2 * b)
        - 0.04089 * math.sin(2 * b)
    )
    by_clock = sun.position(latitude_deg=46.2, longitude_deg=0.0, day=day, utc_h=10.0 - minutes / 60)
    by_sun = sun.position_by_the_sun(latitude_deg=46.2, day=day, solar_h=10.0)
    assert float(by_clock.elevation_deg) == pytest.approx(float(by_sun.elevation_deg), abs=0.15)
    assert float(by_clock.azimuth_deg) == pytest.approx(float(by_sun.azimuth_deg), abs=0.25)


@pytest.mark.parametrize(("speed_m_per_s", "pressure_pa"), [(10.0, 61.3), (27.8, 473.0), (32.7, 655.0), (40.0, 981.0)])
def test_wind_presses_as_the_codes_say(speed_m_per_s, pressure_pa):
    """ASCE 7: q = 0.613 V2 in pascal and metres a second; 32.7 m/s is the foot of Beaufort 12."""
    assert dynamic_pressure_pa(speed_m_per_s) == pytest.approx(pressure_pa, rel=0.003)


@pytest.mark.parametrize(
    ("size", "amps", "feet"), [("10 AWG", 30, 100), ("6 AWG", 50, 60), ("2 AWG", 90, 25), ("4/0 AWG", 250, 12)]
)
def test_drop_by_the_electricians_constant(size, amps, feet):
    """Handbooks: drop = 2 K I L / circular mils with K = 12.9 ohm-circular-mil a foot for copper at 75 degrees C."""
    circular_mils = awg_area_mm2(gauge_number(size)) / 5.067e-4
    by_hand = 2 * 12.9 * amps * feet / circular_mils
    assert 2 * feet * FT_M * ohm_per_m(size, 75.0) * amps == pytest.approx(by_hand, rel=0.03)
