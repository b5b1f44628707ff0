"""Shade: where shadows fall, and what the same modules give through the year wired in different ways."""

from __future__ import annotations

import functools
from collections.abc import Callable

import numpy as np
from msgspec import Struct

from weighty_axle.answers.roof.sunny import SunnyPlace
from weighty_axle.answers.roof.yields import air_of, lights
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.roof.geometry import MODULE_TOP_M, module_boxes
from weighty_axle.design.roof.strings import cold_voc_v, hot_vmp_v, rope
from weighty_axle.design.table import Design
from weighty_axle.job.models.roof import Module, ModuleSpec, Obstacle, Roof, spec_of
from weighty_axle.physics.solar import shadows, sun
from weighty_axle.physics.solar.array_power import LEVELS, ModuleKind, SkyLight, year_of_power_w
from weighty_axle.physics.solar.shadows import Points, Prism
from weighty_axle.physics.solar.single_diode import Diode, fit

LEAST_ELEVATION_DEG = 3.0
AS_STRUNG = "as it is strung"
HEADINGS_DEG = (0.0, 90.0, 180.0, 270.0)
DAY_STEP_H = 0.5
_CELLS_ALONG, _CELLS_ACROSS, _SAMPLES = 12, 2, 4
Wiring = tuple[tuple[tuple[int, ...], ...], ...]
"""Controllers of strings of modules, by their place in the roof's list."""


class WiredYear(Struct, frozen=True, kw_only=True):
    """One way of wiring: the year's energy of the modules, the share lost to shade, and why no controller here takes it
    (empty: it does).
    """

    name: str
    year_wh: Figure
    lost_share: Figure
    against: str


class ShadeResult(Struct, frozen=True, kw_only=True):
    """All ways of wiring, best first, and what that means in a sentence."""

    ways: tuple[WiredYear, ...]
    sentence: str
    hours: int


def prism(obstacle: Obstacle) -> Prism:
    """What stands over the modules' faces."""
    along, across = obstacle.length_m / 2, obstacle.width_m / 2
    return Prism(
        obstacle.x_m - along,
        obstacle.x_m + along,
        obstacle.y_m - across,
        obstacle.y_m + across,
        max(0.0, obstacle.height_m - MODULE_TOP_M),
    )


def shadow_outlines(
    design: Design, place: SunnyPlace, *, day: int, solar_h: float, heading_deg: float
) -> tuple[tuple[tuple[tuple[float, float], ...], ...], float]:
    """Outlines of all shadows on the roof at an hour of the sun, and the sun's elevation [deg]; none while it is down.

    Source: physics.sun, physics.shadows.
    """
    where = sun.position_by_the_sun(latitude_deg=place.latitude_deg, day=day, solar_h=solar_h)
    up = float(where.elevation_deg)
    if up <= 0:
        return (), up
    along, across = shadows.away_from_sun(
        elevation_deg=where.elevation_deg, azimuth_deg=where.azimuth_deg, heading_deg=heading_deg
    )
    prisms = (prism(obstacle) for obstacle in design.job.roof.obstacles)
    return tuple(shadows.outline(one, float(along), float(across)) for one in prisms if one.height_m > 0), up


@functools.lru_cache(maxsize=64)
def diode_of(spec: ModuleSpec) -> Diode:
    """The single diode of a module type. Raises FitError for a datasheet none fits."""
    return fit(
        voc_v=spec.voc_v,
        isc_a=spec.isc_a,
        vmp_v=spec.vmp_v,
        imp_a=spec.imp_a,
        voc_per_c=spec.voc_per_c,
        isc_per_c=spec.isc_per_c,
    )


def sample_points(module: Module, box: tuple[float, float, float, float], sections: int) -> Points:
    """Points on a module's cells: sections lie side by side across its short side, cells one behind the other along its
    long side.
    """
    count = _CELLS_ALONG * _CELLS_ACROSS
    xs, ys, section = [], [], []
    x0, x1, y0, y1 = box
    for which in range(sections):
        for cell in range(count):
            along, across = divmod(cell, _CELLS_ACROSS)
            for sample in range(_SAMPLES):
                a = (along + 0.25 + 0.5 * (sample % 2)) / _CELLS_ALONG
                b = (which + (across + 0.25 + 0.5 * (sample // 2)) / _CELLS_ACROSS) / sections
                xs.append(x0 + (x1 - x0) * (b if module.turned else a))
                ys.append(y0 + (y1 - y0) * (a if module.turned else b))
                section.append(which)
    return Points(np.array(xs), np.array(ys), np.array(section))


class Way(Struct, frozen=True, kw_only=True):
    """A way of wiring, and why a controller would not take it (empty: it does)."""

    name: str
    wiring: Wiring
    against: str


def wirings(design: Design) -> tuple[Way, ...]:
    """The wiring as it is, and the same modules otherwise: one string, all side by side, and equal strings of the
    lengths the controllers take.

    The same number of controllers is kept; each has modules that lie together, from front to rear.
    """
    roof = design.job.roof
    place = {one.tag: at for at, one in enumerate(roof.modules)}
    now = tuple(
        tuple(
            tuple(place[one.tag] for one in rope(roof, string))
            for string in roof.strings
            if string.controller == controller.tag and rope(roof, string)
        )
        for controller in roof.controllers
    )
    now = tuple(strings for strings in now if strings)
    ordered = sorted(
        (at for strings in now for string in strings for at in string),
        key=lambda at: (roof.modules[at].x_m, roof.modules[at].y_m),
    )
    found = [Way(name=AS_STRUNG, wiring=now, against="")]
    if len(ordered) < 2:
        return tuple(found)
    limits = [controller for controller in design.roof.controllers if controller.strings]
    fewest, most = max(limit.fewest_in_series for limit in limits), min(limit.most_in_series for limit in limits)
    lengths = {len(string) for strings in now for string in strings}
    parts = [ordered[at * len(ordered) // len(now) : (at + 1) * len(ordered) // len(now)] for at in range(len(now))]
    for length in sorted({1, len(ordered), *range(fewest, most + 1)}):
        whole = length == len(ordered)
        own = [ordered] if whole else parts
        if length < 1 or lengths == {length} or any(len(part) % length for part in own):
            continue
        made = tuple(tuple(tuple(part[at : at + length]) for at in range(0, len(part), length)) for part in own)
        name = "all in series" if whole else "all in parallel" if length == 1 else f"strings of {length}"
        found.append(Way(name=name, wiring=made, against=_against(design, made)))
    return tuple(found)


def _against(design: Design, wiring: Wiring) -> str:
    """Why the controllers would not take these strings, whatever types are in them; empty where they do."""
    roof, site = design.job.roof, design.job.site
    hot_c = site.design_high_c + roof.rise_c
    used = [
        (one, result) for one, result in zip(roof.controllers, design.roof.controllers, strict=True) if result.strings
    ]
    limit_v, run_v = min(one.spec.max_pv_v for one, _ in used), max(result.run_v.value for _, result in used)
    for string in (string for strings in wiring for string in strings):
        specs = [spec_of(roof, roof.modules[at]) for at in string]
        cold_v = sum(cold_voc_v(spec, site.record_low_c) for spec in specs)
        if cold_v > min(limit_v, *(spec.system_limit_v for spec in specs)) + 1e-9:
            return "too high for the controller in the cold"
        if sum(hot_vmp_v(spec, hot_c) for spec in specs) < run_v - 1e-9:
            return "too low to charge when hot"
    return ""


def _silent(_share: float, _words: str) -> None:
    """Progress nobody watches."""


def shade(design: Design, place: SunnyPlace, progress: Callable[[float, str], None] = _silent) -> ShadeResult | None:
    """The year, hour by hour under a clear sky, overcast days added without shadows. None without modules on strings.

    Modules of several types keep their own curves. Controllers do not clip here: what the modules give is compared.
    Source: physics.single_diode, physics.array_power, physics.shadows.
    """
    roof, site = design.job.roof, design.job.site
    ways = wirings(design)
    if not ways[0].wiring:
        return None
    specs, types, kinds, kind_of = _modules(roof)
    days = np.arange(1, 366)
    day, hour = np.repeat(days, 24), np.tile(np.arange(24) + 0.5, len(days))
    where = sun.position_by_the_sun(latitude_deg=place.latitude_deg, day=day, solar_h=hour)
    where, day, month, sky = _under_clear_sky(design, place, where, day)
    share = np.array([one.clear_share for one in lights(place, roof.sky, site)])[month]
    made_of = [way.wiring for way in ways]
    headings = (roof.heading_deg,) if roof.heading_deg is not None else HEADINGS_DEG
    energy, bright = np.zeros(len(ways)), np.zeros(len(ways))
    dark_free = np.zeros((len(day), len(specs), max(one.sections for one in types)), dtype=np.int64)
    for at, heading in enumerate(headings):
        progress(at / len(headings), f"front to {heading:.0f}°")
        levels = shade_levels(design, where, heading)
        powers = year_of_power_w(kinds, kind_of, sky, levels, made_of)
        energy += (powers * share).sum(axis=1) / len(headings)
        if at == 0:
            bright = (year_of_power_w(kinds, kind_of, sky, dark_free, made_of) * share).sum(axis=1)
    wired = [specs[at] for strings in ways[0].wiring for string in strings for at in string]
    count, grey = len(wired), sum(_overcast_wh(design, place, one) * wired.count(one) for one in types)
    progress(1.0, "")
    made = []
    for way, wh, without in zip(ways, energy, bright, strict=True):
        name = way.name
        given = (
            Given("Modules", count, "count"),
            Given("Clear days, shadows counted", float(wh), "Wh"),
            Given("Overcast days", grey, "Wh"),
        )
        year = Figure(
            name=f"The year, {name}",
            value=float(wh) + grey,
            unit="Wh",
            formula="Σ greatest power of the wiring, hour by hour × share of clear days + overcast days",
            inputs=given,
            source=TEXTBOOK,
            limit=place.name,
        )
        whole = float(without) + grey
        lost = Figure(
            name=f"Lost to shade, {name}",
            value=1 - year.value / whole if whole else 0.0,
            unit="1",
            formula="1 − year ÷ year without shadows",
            inputs=(year, Given("Without shadows", whole, "Wh")),
            source=TEXTBOOK,
        )
        made.append(WiredYear(name=name, year_wh=year, lost_share=lost, against=way.against))
    made.sort(key=lambda one: -one.year_wh.value)
    return ShadeResult(ways=tuple(made), sentence=_sentence(tuple(made)), hours=len(day) * len(headings))


class ShadeDay(Struct, frozen=True, kw_only=True):
    """A clear day under the shadows, as strung: at the sun's hours [h] what the modules give, with shadows and without
    [W]; and what the shadows take of it.
    """

    hours: tuple[float, ...]
    with_w: tuple[float, ...]
    without_w: tuple[float, ...]
    lost_share: Figure


def shade_day(design: Design, place: SunnyPlace, day: int, heading_deg: float) -> ShadeDay | None:
    """One clear day, parked one way. None without modules on strings, or where the sun stays down.

    Source: as `shade`.
    """
    wiring = wirings(design)[0].wiring
    hours = np.arange(0, 24, DAY_STEP_H) + DAY_STEP_H / 2
    where = sun.position_by_the_sun(latitude_deg=place.latitude_deg, day=np.full(len(hours), day), solar_h=hours)
    up = where.elevation_deg > LEAST_ELEVATION_DEG
    if not wiring or not up.any():
        return None
    _, _, kinds, kind_of = _modules(design.job.roof)
    where, _, _, sky = _under_clear_sky(design, place, where, np.full(len(hours), day))
    levels = shade_levels(design, where, heading_deg)
    given, whole = (year_of_power_w(kinds, kind_of, sky, one, [wiring])[0] for one in (levels, np.zeros_like(levels)))
    with_wh, without_wh = (
        Given(name, float(one.sum()) * DAY_STEP_H, "Wh") for name, one in (("With shadows", given), ("Without", whole))
    )
    lost = Figure(
        name="Shadows take of a clear day",
        value=1 - with_wh.value / without_wh.value if without_wh.value else 0.0,
        unit="1",
        formula="1 − energy with shadows ÷ energy without",
        inputs=(with_wh, without_wh),
        source=TEXTBOOK,
        limit=f"{place.name}, front to {heading_deg:g}°, as strung",
    )
    return ShadeDay(
        hours=tuple(hours[up].tolist()), with_w=tuple(given.tolist()), without_w=tuple(whole.tolist()), lost_share=lost
    )


def _modules(
    roof: Roof,
) -> tuple[list[ModuleSpec], list[ModuleSpec], list[ModuleKind], np.ndarray[tuple[int], np.dtype[np.int64]]]:
    """Type of every module, the different ones, their curves, and which each module has."""
    specs = [spec_of(roof, module) for module in roof.modules]
    types = list(dict.fromkeys(specs))
    return (
        specs,
        types,
        [ModuleKind(diode_of(one), one.sections) for one in types],
        np.array([types.index(spec) for spec in specs], dtype=np.int64),
    )


def _under_clear_sky(
    design: Design, place: SunnyPlace, where: sun.SunPosition, day: np.ndarray[tuple[int], np.dtype[np.int64]]
) -> tuple[
    sun.SunPosition, np.ndarray[tuple[int], np.dtype[np.int64]], np.ndarray[tuple[int], np.dtype[np.int64]], SkyLight
]:
    """The hours in which the sun stands over the horizon: its positions, their days and months, light and cells."""
    roof, site = design.job.roof, design.job.site
    seen = where.elevation_deg > LEAST_ELEVATION_DEG
    where, day = sun.SunPosition(where.elevation_deg[seen], where.azimuth_deg[seen]), day[seen]
    clear = sun.clear_sky(
        elevation_deg=where.elevation_deg, day=day, height_m=place.height_m, turbidity=roof.sky.turbidity
    )
    month = np.searchsorted(np.cumsum([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30]), day)
    air = np.array(air_of(roof.sky, site, place.latitude_deg))[month]
    level_beam = clear.global_w_per_m2 - clear.diffuse_w_per_m2
    sky = SkyLight(
        level_beam,
        clear.diffuse_w_per_m2,
        sun.cell_c(air_c=air, irradiance_w_per_m2=clear.global_w_per_m2, rise_c=roof.rise_c),
    )
    return where, day, month, sky


def shade_levels(
    design: Design, where: sun.SunPosition, heading_deg: float
) -> np.ndarray[tuple[int, int, int], np.dtype[np.int64]]:
    """Level of shade of every section, shape (hours, modules, sections of the type that has most).

    Half-cut modules halve what one half loses: each half has a way of its own.
    """
    roof = design.job.roof
    along, across = shadows.away_from_sun(
        elevation_deg=where.elevation_deg, azimuth_deg=where.azimuth_deg, heading_deg=heading_deg
    )
    prisms = [prism(obstacle) for obstacle in roof.obstacles]
    boxes = module_boxes(roof)
    most = max((spec_of(roof, one).sections for one in roof.modules), default=0)
    levels = np.zeros((len(along), len(roof.modules), most), dtype=np.int64)
    for at, module in enumerate(roof.modules):
        sections = spec_of(roof, module).sections
        points = sample_points(module, boxes[module.tag], sections)
        dark = shadows.shaded(points, prisms, along, across)
        if not dark.any():
            continue
        if spec_of(roof, module).half_cut:
            half = np.tile(
                np.arange(_CELLS_ALONG * _CELLS_ACROSS * _SAMPLES) < _CELLS_ALONG * _CELLS_ACROSS * _SAMPLES // 2,
                sections,
            )
            first, second = (
                shadows.section_shares(
                    Points(points.x_m[part], points.y_m[part], points.section[part]), dark[:, part], sections, _SAMPLES
                )
                for part in (half, ~half)
            )
            shares = (first + second) / 2
        else:
            shares = shadows.section_shares(points, dark, sections, _SAMPLES)
        levels[:, at, :sections] = np.rint(shares * LEVELS).astype(np.int64)
    return levels


def _overcast_wh(design: Design, place: SunnyPlace, spec: ModuleSpec) -> float:
    """Energy of one module on all overcast days of the year; without beam there is no shadow."""
    from weighty_axle.answers.roof.yields import STEPS_PER_H, module_w
    from weighty_axle.design.brief.seasons import MONTH_DAYS

    total = 0.0
    for days, light in zip(MONTH_DAYS, lights(place, design.job.roof.sky, design.job.site), strict=True):
        cells = sun.cell_c(
            air_c=light.air_c, irradiance_w_per_m2=light.overcast_w_per_m2, rise_c=design.job.roof.rise_c
        )
        total += (
            days * (1 - light.clear_share) * float(module_w(spec, light.overcast_w_per_m2, cells).sum()) / STEPS_PER_H
        )
    return total


def _sentence(ways: tuple[WiredYear, ...]) -> str:
    now = next(way for way in ways if way.name == AS_STRUNG)
    best = next(way for way in ways if not way.against)
    if best.year_wh.value < 1.005 * now.year_wh.value:
        return (
            f"Leave it as it is strung: shade takes {100 * now.lost_share.value:.1f} % of the year, and nothing the "
            "controllers take gives half a percent more."
        )
    more = best.year_wh.value / now.year_wh.value - 1
    return (
        f"{best.name[0].upper()}{best.name[1:]} would give {100 * more:.1f} % more a year: shade takes "
        f"{100 * best.lost_share.value:.1f} % then, {100 * now.lost_share.value:.1f} % as it is strung."
    )
