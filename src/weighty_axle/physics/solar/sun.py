"""Where the sun stands, what a clear sky gives, and how warm cells get."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
SOLAR_CONSTANT_W_PER_M2 = 1361.0
_J2000_TO_2025_DAYS = 9131.5
"""Days from noon on 1 January 2000 to the start of 2025, the year without a leap day that days of the year are counted
in.
"""


class SunPosition(NamedTuple):
    """Elevation over the horizon without refraction [deg], azimuth from north over east [deg]."""

    elevation_deg: Floats
    azimuth_deg: Floats


class Irradiance(NamedTuple):
    """On a level plane: all of it and the diffuse part; and the beam square to the sun [W/m2]."""

    global_w_per_m2: Floats
    diffuse_w_per_m2: Floats
    beam_w_per_m2: Floats


def position(*, latitude_deg: float, longitude_deg: float, day: ArrayLike, utc_h: ArrayLike) -> SunPosition:
    """Sun for days of the year (1 to 365, as in 2025) and hours of universal time; within 0.02 deg.

    Parameters: latitude_deg, longitude_deg, day [1], utc_h [h]
    Returns: SunPosition
    Source: Astronomical Almanac's low-precision formulas (Michalsky 1988), recalled
    """
    n = _days_since_2000(day, utc_h)
    right_ascension, declination = _among_the_stars(n)
    sidereal_h = 6.697375 + 0.0657098242 * n + np.asarray(utc_h, dtype=np.float64)
    return _over_the_horizon(
        latitude_deg, declination, np.deg2rad((sidereal_h * 15 + longitude_deg) % 360) - right_ascension
    )


def position_by_the_sun(*, latitude_deg: float, day: ArrayLike, solar_h: ArrayLike) -> SunPosition:
    """Sun for days of the year and hours of its own: at 12 it stands due south or due north, whatever the clocks say.

    Parameters: latitude_deg, day [1], solar_h [h]
    Returns: SunPosition
    Source: as position, the hour angle 15 degrees an hour (textbook relation)
    """
    hours = np.asarray(solar_h, dtype=np.float64)
    _, declination = _among_the_stars(_days_since_2000(day, hours))
    return _over_the_horizon(latitude_deg, declination, np.deg2rad(15 * (hours - 12)))


def _days_since_2000(day: ArrayLike, hour: ArrayLike) -> Floats:
    days: Floats = _J2000_TO_2025_DAYS + np.asarray(day, dtype=np.float64) - 1 + np.asarray(hour, dtype=np.float64) / 24
    return days


def _among_the_stars(n: Floats) -> tuple[Floats, Floats]:
    """Right ascension and declination [rad]."""
    mean_longitude = 280.460 + 0.9856474 * n
    anomaly = np.deg2rad((357.528 + 0.9856003 * n) % 360)
    ecliptic = np.deg2rad((mean_longitude + 1.915 * np.sin(anomaly) + 0.020 * np.sin(2 * anomaly)) % 360)
    obliquity = np.deg2rad(23.439 - 0.0000004 * n)
    return np.arctan2(np.cos(obliquity) * np.sin(ecliptic), np.cos(ecliptic)), np.arcsin(
        np.sin(obliquity) * np.sin(ecliptic)
    )


def _over_the_horizon(latitude_deg: float, declination: Floats, hour_angle: Floats) -> SunPosition:
    latitude = np.deg2rad(latitude_deg)
    sine = np.sin(declination) * np.sin(latitude) + np.cos(declination) * np.cos(latitude) * np.cos(hour_angle)
    east = -np.sin(hour_angle) * np.cos(declination)
    north = np.cos(latitude) * np.sin(declination) - np.sin(latitude) * np.cos(declination) * np.cos(hour_angle)
    return SunPosition(np.rad2deg(np.arcsin(np.clip(sine, -1, 1))), np.rad2deg(np.arctan2(east, north)) % 360)


def extraterrestrial_w_per_m2(day: ArrayLike) -> Floats:
    """Irradiance square to the sun outside the atmosphere.

    Parameters: day [1] - of the year
    Returns: irradiance per square metre
    Source: Spencer 1971, recalled
    """
    b = 2 * np.pi * (np.asarray(day, dtype=np.float64) - 1) / 365
    factor = 1.00011 + 0.034221 * np.cos(b) + 0.00128 * np.sin(b) + 0.000719 * np.cos(2 * b) + 0.000077 * np.sin(2 * b)
    made: Floats = SOLAR_CONSTANT_W_PER_M2 * factor
    return made


def air_mass(elevation_deg: ArrayLike) -> Floats:
    """Relative optical air mass at sea level; not a number below the horizon.

    Parameters: elevation_deg
    Returns: air mass [1]
    Source: Kasten and Young 1989, recalled
    """
    up = np.asarray(elevation_deg, dtype=np.float64)
    high = np.where(up > 0, up, np.nan)
    made: Floats = 1 / (np.sin(np.deg2rad(high)) + 0.50572 * (6.07995 + high) ** -1.6364)
    return made


def clear_sky(*, elevation_deg: ArrayLike, day: ArrayLike, height_m: float, turbidity: float) -> Irradiance:
    """Clear sky after Ineichen and Perez with a Linke turbidity; 0 below the horizon.

    Clear-sky models differ by 4 to 12 % among themselves.

    Parameters: elevation_deg, day [1] - of the year, height_m [m], turbidity [1] - Linke, 2 clean and cold, 3 usual, 5
        hazy
    Returns: Irradiance
    Source: Ineichen and Perez 2002, as pvlib documents it (recalled)
    """
    up = np.asarray(elevation_deg, dtype=np.float64)
    sine = np.sin(np.deg2rad(np.maximum(up, 0.0)))
    pressure_share = (1 - 2.25577e-5 * height_m) ** 5.25588
    mass = np.nan_to_num(air_mass(up), nan=0.0) * pressure_share
    beyond = extraterrestrial_w_per_m2(day)
    fh1, fh2 = np.exp(-height_m / 8000), np.exp(-height_m / 1250)
    cg1, cg2 = 5.09e-5 * height_m + 0.868, 3.92e-5 * height_m + 0.0387
    whole = cg1 * beyond * sine * np.exp(-cg2 * mass * (fh1 + fh2 * (turbidity - 1)))
    b = 0.664 + 0.163 / fh1
    beam = b * np.exp(-0.09 * mass * (turbidity - 1)) * beyond
    with np.errstate(divide="ignore", invalid="ignore"):
        limit = np.where(
            sine > 0,
            (1 - (0.1 - 0.2 * np.exp(-turbidity)) / (0.1 + 0.882 / fh1)) * whole / np.where(sine > 0, sine, 1),
            0.0,
        )
    beam = np.where(up > 0, np.maximum(0.0, np.minimum(beam, limit)), 0.0)
    whole = np.where(up > 0, np.maximum(whole, 0.0), 0.0)
    return Irradiance(whole, whole - beam * sine, beam)


def cell_c(*, air_c: ArrayLike, irradiance_w_per_m2: ArrayLike, rise_c: float) -> Floats:
    """Cell temperature in still air: air + irradiance / u0, with u0 from the rise in full sun (Faiman's model without
    wind).

    Parameters: air_c [degC], irradiance_w_per_m2 - on the plane, rise_c - at 1000 W per square metre
    Returns: temperature [degC]
    Source: Faiman 2008; the rise of a flush roof is an assumption of the job
    """
    made: Floats = (
        np.asarray(air_c, dtype=np.float64) + np.asarray(irradiance_w_per_m2, dtype=np.float64) * rise_c / 1000
    )
    return made


def plane_of_array_w_per_m2(
    sky: Irradiance, sun: SunPosition, *, tilt_deg: float, surface_azimuth_deg: float, albedo: float
) -> tuple[Floats, Floats]:
    """Beam and diffuse on a tilted plane: geometry for the beam, an even sky and an even ground for the rest.

    Parameters: sky; sun; tilt_deg, surface_azimuth_deg - azimuth the plane looks to; albedo [1]
    Returns: beam and diffuse irradiance per square metre
    Source: Liu and Jordan 1960 (isotropic sky)
    """
    tilt, up = np.deg2rad(tilt_deg), np.deg2rad(sun.elevation_deg)
    incidence = np.sin(up) * np.cos(tilt) + np.cos(up) * np.sin(tilt) * np.cos(
        np.deg2rad(sun.azimuth_deg - surface_azimuth_deg)
    )
    beam = sky.beam_w_per_m2 * np.maximum(0.0, incidence)
    diffuse = sky.diffuse_w_per_m2 * (1 + np.cos(tilt)) / 2 + albedo * sky.global_w_per_m2 * (1 - np.cos(tilt)) / 2
    return beam, diffuse
