"""Yield of the roof through the year: a clear and an overcast day of every month, mixed as the month's clearness
says.
"""

from __future__ import annotations

import functools
import math

import numpy as np
from msgspec import Struct

from weighty_axle.answers.roof.sunny import SunnyPlace
from weighty_axle.design.brief.seasons import MONTH_DAYS, MONTHS, month_start
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.roof.elsewhere import OPEN_RISE_C
from weighty_axle.design.roof.strings import NOON_SHARE
from weighty_axle.design.table import Design
from weighty_axle.job.models.roof import USUAL_CLEARNESS, Losses, ModuleSpec, RemoteArray, Sky, spec_of
from weighty_axle.job.models.vehicle import Site
from weighty_axle.physics.solar import sun
from weighty_axle.physics.solar.sun import Floats

OVERCAST_CLEARNESS = 0.18
"""Clearness of a wholly overcast day. Source: common practice, no source."""
STEPS_PER_H = 4


class MonthYield(Struct, frozen=True, kw_only=True):
    """One month: energy into the bank on its mean day, on a clear one and on an overcast one, what the controllers cut
    off, and share of clear days.
    """

    month: str
    day_wh: Figure
    clear_day_wh: float
    overcast_day_wh: float
    cut_wh: float
    cut_h: float
    clear_share: float


class YieldResult(Struct, frozen=True, kw_only=True):
    """The year at a place."""

    place: SunnyPlace
    months: tuple[MonthYield, ...]
    year_wh: Figure
    cut_year_wh: Figure
    cut_year_h: Figure
    noon_share: Figure
    best_day: tuple[float, ...]


class Light(Struct, frozen=True, kw_only=True):
    """Light on the level roof in the steps of a month's middle day [W/m2], for a clear and an overcast sky, and the
    share of clear days.
    """

    day: int
    clear: sun.Irradiance
    overcast_w_per_m2: Floats
    sun: sun.SunPosition
    air_c: float
    clear_share: float


def air_of(sky: Sky, site: Site, latitude_deg: float) -> tuple[float, ...]:
    """Mean daytime air of every month [degC]: as measured, or a sine between 15 K over the record low and 8 K under the
    design high.

    Source: common practice, no source (the sine).
    """
    if len(sky.air_c) == 12:
        return sky.air_c
    low, high = site.record_low_c + 15, site.design_high_c - 8
    turn = 0 if latitude_deg >= 0 else 6
    return tuple(
        (low + high) / 2 - (high - low) / 2 * math.cos(2 * math.pi * (month - 0.5 + turn) / 12) for month in range(12)
    )


def clearness_of(sky: Sky, latitude_deg: float) -> tuple[float, ...]:
    """Clearness by month; the typical one of the north is turned by half a year south of the equator."""
    typical = sky.clearness == USUAL_CLEARNESS
    return sky.clearness[6:] + sky.clearness[:6] if typical and latitude_deg < 0 else sky.clearness


def sky_words(sky: Sky, latitude_deg: float) -> str:
    """Where clearness and air are from, as words."""
    turned = sky.clearness == USUAL_CLEARNESS and latitude_deg < 0
    light = "typical of a middle latitude, turned by half a year for the south; recalled" if turned else sky.source
    return light + ("" if len(sky.air_c) == 12 else "; air from record low and design high by a sine") + "; sun of 2025"


def lights(place: SunnyPlace, sky: Sky, site: Site) -> tuple[Light, ...]:
    """Light of the twelve middle days; hours are those of the sun, so that noon is at 12.

    Source: physics.sun; clear days as many as make the month's clearness with overcast ones.
    """
    return _lights(
        place.latitude_deg,
        place.height_m,
        sky.turbidity,
        clearness_of(sky, place.latitude_deg),
        air_of(sky, site, place.latitude_deg),
    )


@functools.lru_cache(maxsize=32)
def _lights(
    latitude_deg: float, height_m: float, turbidity: float, clearness: tuple[float, ...], air_c: tuple[float, ...]
) -> tuple[Light, ...]:
    hours = (np.arange(24 * STEPS_PER_H) + 0.5) / STEPS_PER_H
    found = []
    for month in range(12):
        day = month_start(month) + MONTH_DAYS[month] // 2
        where = sun.position_by_the_sun(latitude_deg=latitude_deg, day=np.full(len(hours), day), solar_h=hours)
        clear = sun.clear_sky(
            elevation_deg=where.elevation_deg, day=np.full(len(hours), day), height_m=height_m, turbidity=turbidity
        )
        beyond = sun.extraterrestrial_w_per_m2(day) * np.maximum(0.0, np.sin(np.deg2rad(where.elevation_deg)))
        total = float(beyond.sum())
        best = float(clear.global_w_per_m2.sum()) / total if total else 0.7
        share = min(1.0, max(0.0, (clearness[month] - OVERCAST_CLEARNESS) / (best - OVERCAST_CLEARNESS)))
        found.append(
            Light(
                day=day,
                clear=clear,
                overcast_w_per_m2=OVERCAST_CLEARNESS * beyond,
                sun=where,
                air_c=air_c[month],
                clear_share=share,
            )
        )
    return tuple(found)


def module_w(spec: ModuleSpec, irradiance_w_per_m2: Floats, cell_c: Floats) -> Floats:
    """Power of a module at its peak point [W].

    Source: rated power by light and temperature coefficient (textbook relation)
    """
    made: Floats = spec.pmp_w * irradiance_w_per_m2 / 1000 * (1 + spec.pmp_per_c * (cell_c - 25))
    return np.maximum(made, 0.0)


def sun_yield(design: Design, place: SunnyPlace) -> YieldResult:
    """Yield into the bank by month, and what the controllers cut off.

    Source: physics.sun (Ineichen and Perez, Faiman); losses as stated in the job.
    """
    roof = design.job.roof
    groups = sun_groups(design)
    months, clearness = [], clearness_of(roof.sky, place.latitude_deg)
    best: tuple[float, ...] = ()
    noon = 0.0
    for month, light in enumerate(lights(place, roof.sky, design.job.site)):
        clear, clear_cut, cut_h, curve = _day(
            groups, light.clear.global_w_per_m2, light.air_c, roof.rise_c, roof.losses
        )
        grey, _, _, _ = _day(groups, light.overcast_w_per_m2, light.air_c, roof.rise_c, roof.losses)
        # Shadows are counted in the energy of a day only: how much of them falls at noon is not known here.
        clear, grey = clear * roof.losses.shade, grey * roof.losses.shade
        day = light.clear_share * clear + (1 - light.clear_share) * grey
        if sum(curve) > sum(best):
            best, noon = curve, max(curve)
        figure = Figure(
            name=f"A day of {MONTHS[month]} gives",
            value=day,
            unit="Wh",
            formula="share of clear days × clear day + the others × overcast day",
            inputs=(
                Given("Share of clear days", light.clear_share, "1"),
                Given("Clear day", clear, "Wh"),
                Given("Overcast day", grey, "Wh"),
                *_losses(roof.losses),
                Given("Through shadows", roof.losses.shade, "1"),
                Given("Clearness", clearness[month], "1"),
                Given("Air by day", light.air_c, "degC"),
            ),
            source="Ineichen and Perez clear sky, Faiman cell temperature, recalled",
            limit=f"{place.name}; {sky_words(roof.sky, place.latitude_deg)}",
        )
        months.append(
            MonthYield(
                month=MONTHS[month],
                day_wh=figure,
                clear_day_wh=clear,
                overcast_day_wh=grey,
                cut_wh=light.clear_share * clear_cut,
                cut_h=light.clear_share * cut_h,
                clear_share=light.clear_share,
            )
        )
    days = [MONTH_DAYS[at] for at in range(12)]
    rated = design.roof.rated_w
    return YieldResult(
        place=place,
        months=tuple(months),
        year_wh=Figure(
            name="The year gives",
            value=sum(one.day_wh.value * count for one, count in zip(months, days, strict=True)),
            unit="Wh",
            formula="Σ days × mean day",
            inputs=tuple(one.day_wh for one in months),
            source=TEXTBOOK,
            limit=place.name,
        ),
        cut_year_wh=Figure(
            name="Cut off by the controllers in the year",
            value=sum(one.cut_wh * count for one, count in zip(months, days, strict=True)),
            unit="Wh",
            formula="Σ what modules give over a controller's output",
            inputs=(rated,),
            source=TEXTBOOK,
        ),
        cut_year_h=Figure(
            name="Hours of the year in which something is cut",
            value=sum(one.cut_h * count for one, count in zip(months, days, strict=True)),
            unit="h",
            formula="Σ hours over a controller's output",
            inputs=(rated,),
            source=TEXTBOOK,
        ),
        noon_share=Figure(
            name="Best clear day at noon, of the rated power",
            value=noon / rated.value if rated.value else 0.0,
            unit="1",
            formula="highest power into the bank ÷ rated power",
            inputs=(rated,),
            source=PRACTICE,
            limit=(
                f"computed for the best clear day here; the rule of thumb of {100 * NOON_SHARE[0]:.0f} to "
                f"{100 * NOON_SHARE[1]:.0f} % is for an ordinary good one"
            ),
        ),
        best_day=best,
    )


def sun_groups(design: Design) -> list[tuple[list[ModuleSpec], float]]:
    """Modules of every controller, and the power at which it cuts off [W]."""
    roof, bank_v = design.job.roof, design.bank.nominal_v.value
    by_tag = {module.tag: spec_of(roof, module) for module in roof.modules}
    groups = []
    for controller, result in zip(roof.controllers, design.roof.controllers, strict=True):
        tags = [tag for string in design.roof.strings if string.tag in result.strings for tag in string.modules]
        groups.append(([by_tag[tag] for tag in tags], controller.spec.output_a * bank_v))
    return groups


def sun_day_w(design: Design, place: SunnyPlace, month: int, stay: str) -> Floats:
    """Power into the bank through the mean day of a month, in steps of a quarter of an hour by the sun's time [W], with
    arrays elsewhere that are there at a stay.

    Source: sun_yield, remote_day_wh.
    """
    roof, light = design.job.roof, lights(place, design.job.roof.sky, design.job.site)[month]
    total: Floats = np.zeros(24 * STEPS_PER_H)
    clear, grey = light.clear.global_w_per_m2, light.overcast_w_per_m2
    for share, plane in ((light.clear_share, clear), (1 - light.clear_share, grey)):
        curve = _day(sun_groups(design), plane, light.air_c, roof.rise_c, roof.losses)[3]
        total = total + share * roof.losses.shade * np.asarray(curve)
    shape = light.clear_share * clear + (1 - light.clear_share) * grey
    sum_h = float(shape.sum()) / STEPS_PER_H
    for array in roof.remote:
        if sum_h and (not array.stays or stay in array.stays):
            total = total + remote_day_wh(design, array, place)[month].value / sum_h * shape
    return total


def remote_day_wh(design: Design, array: RemoteArray, place: SunnyPlace) -> tuple[Figure, ...]:
    """What an array elsewhere gives on the mean day of every month, tilted and turned as it stands, its cable counted.

    Source: physics.sun (Liu and Jordan for the tilt); losses as stated in the job.
    """
    roof, spec = design.job.roof, array.module
    through = roof.losses.soiling * roof.losses.wiring * roof.losses.mismatch * roof.losses.controller
    kept = 1 - next(one.drop_share.value for one in design.remote if one.tag == array.tag)
    towards = array.azimuth_deg if array.azimuth_deg is not None else 180.0 if place.latitude_deg >= 0 else 0.0
    rise = roof.rise_c if array.where == "trailer" and array.tilt_deg < 5 else OPEN_RISE_C
    found = []
    for month, light in enumerate(lights(place, roof.sky, design.job.site)):
        beam, diffuse = sun.plane_of_array_w_per_m2(
            light.clear, light.sun, tilt_deg=array.tilt_deg, surface_azimuth_deg=towards, albedo=roof.sky.albedo
        )
        planes = ((light.clear_share, beam + diffuse), (1 - light.clear_share, light.overcast_w_per_m2))
        day = 0.0
        for share, plane in planes:
            cells = sun.cell_c(air_c=light.air_c, irradiance_w_per_m2=plane, rise_c=rise)
            day += (
                share
                * float(module_w(spec, plane, cells).sum())
                / STEPS_PER_H
                * array.series
                * array.parallel
                * through
                * kept
            )
        given = (
            Given("Tilt", array.tilt_deg, "deg"),
            Given("Towards", towards, "deg"),
            Given("Share of clear days", light.clear_share, "1"),
            *_losses(roof.losses),
        )
        found.append(
            Figure(
                name=f"{array.tag}, a day of {MONTHS[month]}",
                value=day,
                unit="Wh",
                formula="clear and overcast days on the tilted plane, losses and cable counted",
                inputs=given,
                source="Liu and Jordan tilted plane, recalled",
                limit=place.name,
            )
        )
    return tuple(found)


def _losses(losses: Losses) -> tuple[Given, ...]:
    return (
        Given("Through dirt", losses.soiling, "1"),
        Given("Through wiring", losses.wiring, "1"),
        Given("Through mismatch", losses.mismatch, "1"),
        Given("Through the controller", losses.controller, "1"),
    )


def _day(
    groups: list[tuple[list[ModuleSpec], float]], light: Floats, air_c: float, rise_c: float, losses: Losses
) -> tuple[float, float, float, tuple[float, ...]]:
    """Energy into the bank [Wh], what is cut off [Wh], for how long [h], and the power step by step [W]."""
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller
    cells = sun.cell_c(air_c=air_c, irradiance_w_per_m2=light, rise_c=rise_c)
    total, cut, over = np.zeros_like(light), 0.0, np.zeros(len(light), dtype=bool)
    for specs, limit_w in groups:
        power = (
            sum((module_w(spec, light, cells) * specs.count(spec) for spec in set(specs)), np.zeros_like(light))
            * through
        )
        kept = np.minimum(power, limit_w)
        cut += float((power - kept).sum()) / STEPS_PER_H
        over |= power > limit_w + 1e-9
        total = total + kept
    return float(total.sum()) / STEPS_PER_H, cut, float(over.sum()) / STEPS_PER_H, tuple(float(one) for one in total)


def elsewhere_year_wh(design: Design, place: SunnyPlace) -> tuple[Figure, ...]:
    """What each array elsewhere would give in a year at a place, as far as it is there: one with stays named is at the
    places of those stays only.

    Source: remote_day_wh, summed over the months.
    """
    tags = {
        stay.tag
        for stay in design.job.stays
        if (stay.place, stay.latitude_deg, stay.longitude_deg) == (place.name, place.latitude_deg, place.longitude_deg)
    }
    found = []
    for array in design.job.roof.remote:
        if array.stays and tags.isdisjoint(array.stays):
            continue
        months = remote_day_wh(design, array, place)
        year = sum(one.value * days for one, days in zip(months, MONTH_DAYS, strict=True))
        found.append(
            Figure(
                name=f"{array.name} adds in the year",
                value=year,
                unit="Wh",
                formula="Σ days × mean day",
                inputs=months,
                source=TEXTBOOK,
                limit=place.name,
            )
        )
    return tuple(found)
