"""Light and air through a year: drawn day by day, turned into power controller by controller."""

from __future__ import annotations

import functools
import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from weighty_axle.answers.roof.sunny import SunnyPlace
from weighty_axle.answers.roof.yields import OVERCAST_CLEARNESS, air_of, lights, module_w, sun_groups
from weighty_axle.answers.year.days import YearDay
from weighty_axle.design.brief.seasons import MONTH_DAYS
from weighty_axle.design.place.heat import SWING_K
from weighty_axle.design.roof.elsewhere import OPEN_RISE_C
from weighty_axle.design.table import Design
from weighty_axle.job.models.brief import YEAR_DAYS
from weighty_axle.job.models.roof import ModuleSpec, RemoteArray
from weighty_axle.physics.solar import sun
from weighty_axle.physics.year.arrays import Floats
from weighty_axle.physics.year.weather import air_c, drawn_days
from weighty_axle.reference.importers.weather_file import WeatherHours

Flags = NDArray[np.bool_]
LEAST_LIGHT_W_PER_M2 = 20.0
"""Between a clear and an overcast sky there must be so much for a share of them to mean anything."""
NEAR_KM = 150.0
"""How far weather is taken along without a word. Source: common practice, no source."""
MONTH_OF_DAY = np.repeat(np.arange(12), MONTH_DAYS)


class SunnyYear(Struct, frozen=True, kw_only=True):
    """Sun over the places of a year in each of its steps, whatever the weather: clear light on the level roof, the beam
    and its height, light under a wholly overcast sky [W/m2], and of each day the mean share of clear sky and air.
    """

    per_day: int
    hours: Floats
    clear: sun.Irradiance
    position: sun.SunPosition
    overcast_w_per_m2: Floats
    clear_share: Floats
    daytime_c: Floats


class Weather(Struct, frozen=True, kw_only=True):
    """One year's weather in its steps: share of clear sky, and air outside [degC]."""

    clear_share: Floats
    air_c: Floats


def sunny_year(design: Design, days: tuple[YearDay, ...], per_day: int) -> SunnyYear:
    """The sun over the places of a year; hours are those of the sun, so that noon is at 12.

    Source: physics.solar.sun; clear days as many as make the month's clearness with overcast ones.
    """
    stretches: list[tuple[SunnyPlace, list[int]]] = []
    for one in days:
        if not stretches or stretches[-1][0] != one.place:
            stretches.append((one.place, []))
        stretches[-1][1].append(one.day)
    sky, site = design.job.roof.sky, design.job.site
    parts, shares, airs = [], [], []
    for place, own in stretches:
        parts.append(_sun(place.latitude_deg, place.height_m, sky.turbidity, own[0], len(own), per_day))
        by_month = lights(place, sky, site)
        air = air_of(sky, site, place.latitude_deg)
        months = MONTH_OF_DAY[np.array(own) - 1]
        shares.append(np.array([by_month[month].clear_share for month in months]))
        airs.append(np.array([air[month] for month in months]))
    columns = [np.concatenate(one) for one in zip(*parts, strict=True)]
    return SunnyYear(
        per_day=per_day,
        hours=np.tile((np.arange(per_day) + 0.5) * 24 / per_day, YEAR_DAYS),
        clear=sun.Irradiance(columns[0], columns[1], columns[2]),
        position=sun.SunPosition(columns[3], columns[4]),
        overcast_w_per_m2=columns[5],
        clear_share=np.concatenate(shares),
        daytime_c=np.concatenate(airs),
    )


@functools.lru_cache(maxsize=256)
def _sun(
    latitude_deg: float, height_m: float, turbidity: float, first_day: int, count: int, per_day: int
) -> tuple[Floats, ...]:
    """A stretch of days at one place."""
    day = np.repeat(np.arange(first_day, first_day + count), per_day)
    hours = np.tile((np.arange(per_day) + 0.5) * 24 / per_day, count)
    where = sun.position_by_the_sun(latitude_deg=latitude_deg, day=day, solar_h=hours)
    clear = sun.clear_sky(elevation_deg=where.elevation_deg, day=day, height_m=height_m, turbidity=turbidity)
    beyond = sun.extraterrestrial_w_per_m2(day) * np.maximum(0.0, np.sin(np.deg2rad(where.elevation_deg)))
    return (*clear, *where, OVERCAST_CLEARNESS * beyond)


def drawn_weather(sunny: SunnyYear, seed: str, year: int) -> Weather:
    """A year's weather drawn for its places and months.

    Source: physics.year.weather.
    """
    drawn = drawn_days(seed, year, sunny.clear_share.tolist())
    air = air_c(
        np.repeat(sunny.daytime_c, sunny.per_day), np.repeat(drawn.warmer_k, sunny.per_day), sunny.hours, SWING_K
    )
    return Weather(clear_share=np.repeat(drawn.clear_share, sunny.per_day), air_c=air)


def weather_of_hours(sunny: SunnyYear, hours: WeatherHours, turbidity: float) -> Weather:
    """Measured hours as a year's weather: where they were measured the light on the ground is theirs to the watt; at
    other places the share of clear sky is.

    Clock time becomes the sun's by the longitude alone (the equation of time, 16 min at most, is left out).
    Source: physics.solar.sun; share of clear sky between a clear and an overcast one.
    """
    day, clock = np.repeat(np.arange(1, YEAR_DAYS + 1), 24), np.tile(np.arange(24) + 0.5, YEAR_DAYS)
    where = sun.position(
        latitude_deg=hours.latitude_deg, longitude_deg=hours.longitude_deg, day=day, utc_h=clock - hours.zone_h
    )
    clear = sun.clear_sky(
        elevation_deg=where.elevation_deg, day=day, height_m=hours.height_m, turbidity=turbidity
    ).global_w_per_m2
    beyond = sun.extraterrestrial_w_per_m2(day) * np.maximum(0.0, np.sin(np.deg2rad(where.elevation_deg)))
    over = OVERCAST_CLEARNESS * beyond
    lit: Flags = np.asarray(clear - over > LEAST_LIGHT_W_PER_M2)
    shares = np.divide(np.array(hours.ground_w_per_m2) - over, clear - over, out=np.full(len(day), np.nan), where=lit)
    light_days = np.any(lit.reshape(-1, 24), axis=1).reshape(-1, 1)
    by_day = np.nanmean(np.where(light_days, shares.reshape(-1, 24), 0.0), axis=1)
    shares = np.clip(np.where(lit, shares, np.repeat(by_day, 24)), -0.2, 1.4)
    later_h = (hours.longitude_deg - 15 * hours.zone_h) / 15
    at = np.arange(YEAR_DAYS)[:, None] * 24 + (sunny.hours[: sunny.per_day] - later_h)[None, :]
    slot = np.floor(at).astype(np.int64) % (24 * YEAR_DAYS)
    middles = np.arange(24 * YEAR_DAYS) + 0.5
    air = np.interp(at.ravel(), middles, np.array(hours.air_c), period=24 * YEAR_DAYS)
    return Weather(clear_share=shares[slot].ravel(), air_c=air)


def far_words(design: Design, hours: WeatherHours) -> str:
    """That a weather is of another place than the job's, in a sentence; empty where it is near."""
    site = design.job.site
    radians = [math.radians(one) for one in (hours.latitude_deg, site.latitude_deg)]
    apart = math.radians(hours.longitude_deg - site.longitude_deg)
    cosine = math.sin(radians[0]) * math.sin(radians[1]) + math.cos(radians[0]) * math.cos(radians[1]) * math.cos(apart)
    km = 6371 * math.acos(max(-1.0, min(1.0, cosine)))
    if km < NEAR_KM:
        return ""
    return f"The weather is of {hours.place}, {km:.0f} km from {site.home}: its sky and its air are taken along."


class SunPower(Struct, frozen=True, kw_only=True):
    """What modules give before their controllers' own limits, on the roof and elsewhere, by step and controller [W]."""

    roof_w: Floats
    away_w: Floats
    limits_w: Floats


def sun_power(design: Design, days: tuple[YearDay, ...], sunny: SunnyYear, weather: Weather) -> SunPower:
    """Light turned into power: level modules on the roof, arrays elsewhere in their own plane where they are there.

    Inputs of one unit that share a limit count as one. Source: as answers.roof.yields.
    """
    roof = design.job.roof
    groups = sun_groups(design)
    columns, limits = _columns(design, groups)
    steps = len(sunny.hours)
    on_roof, away = np.zeros((steps, len(limits))), np.zeros((steps, len(limits)))
    losses = roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller
    light = weather.clear_share * sunny.clear.global_w_per_m2 + (1 - weather.clear_share) * sunny.overcast_w_per_m2
    cells = sun.cell_c(air_c=weather.air_c, irradiance_w_per_m2=light, rise_c=roof.rise_c)
    made: dict[ModuleSpec, Floats] = {}
    for column, (specs, _) in zip(columns, groups, strict=True):
        for spec in dict.fromkeys(specs):
            if spec not in made:
                made[spec] = module_w(spec, light, cells) * through * losses.shade
            on_roof[:, column] += specs.count(spec) * made[spec]
    at = {controller.tag: column for controller, column in zip(roof.controllers, columns, strict=True)}
    for array in roof.remote:
        if array.controller in at:
            away[:, at[array.controller]] += _elsewhere_w(design, array, days, sunny, weather) * through
    return SunPower(roof_w=on_roof, away_w=away, limits_w=limits)


def _columns(design: Design, groups: list[tuple[list[ModuleSpec], float]]) -> tuple[list[int], Floats]:
    """Column of every controller, and the most each column gives [W]: built-in inputs of a unit stand in one."""
    roof, spec, volts = design.job.roof, design.job.inverters.spec, design.bank.nominal_v.value
    columns, limits, shared = list[int](), list[float](), dict[str, int]()
    for controller, (_, limit_w) in zip(roof.controllers, groups, strict=True):
        if controller.unit and controller.unit in shared:
            columns.append(shared[controller.unit])
            limits[columns[-1]] += limit_w
        else:
            shared[controller.unit or controller.tag] = len(limits)
            columns.append(len(limits))
            limits.append(limit_w)
    for unit in {controller.unit for controller in roof.controllers if controller.unit}:
        if spec.solar_charge_a is not None:
            limits[shared[unit]] = min(limits[shared[unit]], spec.solar_charge_a * volts)
        if spec.solar_w is not None:
            limits[shared[unit]] = min(limits[shared[unit]], spec.solar_w)
    return columns, np.array(limits)


def _elsewhere_w(
    design: Design, array: RemoteArray, days: tuple[YearDay, ...], sunny: SunnyYear, weather: Weather
) -> Floats:
    """An array elsewhere, its cable counted, on the days it is there [W]."""
    roof = design.job.roof
    kept = 1 - next(one.drop_share.value for one in design.remote if one.tag == array.tag)
    north = np.repeat([one.place.latitude_deg >= 0 for one in days], sunny.per_day)
    planes = np.zeros(len(sunny.hours))
    for towards, there in _faces(array, north):
        beam, diffuse = sun.plane_of_array_w_per_m2(
            sunny.clear, sunny.position, tilt_deg=array.tilt_deg, surface_azimuth_deg=towards, albedo=roof.sky.albedo
        )
        planes = np.where(there, beam + diffuse, planes)
    light = weather.clear_share * planes + (1 - weather.clear_share) * sunny.overcast_w_per_m2
    rise = roof.rise_c if array.where == "trailer" and array.tilt_deg < 5 else OPEN_RISE_C
    cells = sun.cell_c(air_c=weather.air_c, irradiance_w_per_m2=light, rise_c=rise)
    here = [not array.stays or (one.stay is not None and one.stay.tag in array.stays) for one in days]
    made: Floats = module_w(array.module, light, cells) * array.series * array.parallel * kept
    return made * np.repeat(np.array(here, dtype=np.float64), sunny.per_day)


def _faces(array: RemoteArray, north: Flags) -> tuple[tuple[float, Flags], ...]:
    """Where it looks, and in which steps: stated, or to the sun of the hemisphere it is in."""
    if array.azimuth_deg is not None:
        return ((array.azimuth_deg, np.ones(len(north), dtype=bool)),)
    return ((180.0, north), (0.0, ~north))
