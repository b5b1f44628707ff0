"""What the model expects of a recording: sun under a clear sky at every moment, drops, shares, losses, idle draw."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from weighty_axle.answers.proving.load_trials import STEPS
from weighty_axle.answers.proving.step_load import step_load
from weighty_axle.answers.roof.sunny import SunnyPlace
from weighty_axle.answers.roof.yields import module_w
from weighty_axle.answers.year.days import days_of
from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.roof import ModuleSpec, spec_of
from weighty_axle.physics.solar import sun

Floats = NDArray[np.float64]
Times = NDArray[np.int64]

EVERY_S = 600
"""Sun is worked out every so many seconds and drawn straight between."""


class ClearSun(Struct, frozen=True, kw_only=True):
    """Sun under a clear sky: light on the level roof [W/m2] and power by controller [W] at given moments."""

    light_w_per_m2: Floats
    watts: dict[str, Floats]


def clear_sun(design: Design, t_s: Times, air_c: Floats | None) -> ClearSun:
    """Clear-sky power of every controller at moments in UTC, where the vehicle is that day by its stays, else at home.
    Air as recorded, else 20 °C; controllers' limits counted.

    Source: physics.solar.sun (position by the almanac's short formulas, clear sky of Ineichen and Perez, cells by
    Faiman); losses as stated in the job.
    """
    roof = design.job.roof
    grid = np.arange(int(t_s[0]) // EVERY_S * EVERY_S, int(t_s[-1]) + 2 * EVERY_S, EVERY_S)
    light = light_at(design, grid)
    air = np.full(len(grid), 20.0) if air_c is None else _filled(np.interp(grid, t_s, air_c))
    cells = sun.cell_c(air_c=air, irradiance_w_per_m2=light, rise_c=roof.rise_c)
    losses = roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller * losses.shade
    made: dict[ModuleSpec, Floats] = {}
    found: dict[str, Floats] = {}
    for one in roof.controllers:
        specs = modules_of(design, one.tag)
        total = np.zeros(len(grid))
        for spec in specs:
            if spec not in made:
                made[spec] = module_w(spec, light, cells) * through
            total += made[spec]
        limit_w = one.spec.output_a * design.bank.nominal_v.value
        found[one.tag] = np.interp(t_s, grid, np.minimum(total, limit_w))
    return ClearSun(light_w_per_m2=np.interp(t_s, grid, light), watts=found)


def light_at(design: Design, t_s: Times) -> Floats:
    """Light on a level roof under a clear sky at moments in UTC [W/m2].

    Source: physics.solar.sun.
    """
    places = {one.day: one.place for one in days_of(design)}
    day = (t_s // 86400).astype("datetime64[D]")
    of_year = (day - day.astype("datetime64[Y]").astype("datetime64[D]")).astype(int) + 1
    of_year = np.minimum(of_year, 365)
    hours = (t_s % 86400) / 3600
    light = np.zeros(len(t_s))
    by_place: dict[SunnyPlace, list[int]] = {}
    for one, place in places.items():
        by_place.setdefault(place, []).append(one)
    turbidity = design.job.roof.sky.turbidity
    for place, days in by_place.items():
        own = np.isin(of_year, days)
        if not own.any():
            continue
        where = sun.position(
            latitude_deg=place.latitude_deg, longitude_deg=place.longitude_deg, day=of_year[own], utc_h=hours[own]
        )
        clear = sun.clear_sky(
            elevation_deg=where.elevation_deg, day=of_year[own], height_m=place.height_m, turbidity=turbidity
        )
        light[own] = clear.global_w_per_m2
    return light


def modules_of(design: Design, controller: str) -> list[ModuleSpec]:
    """Datasheets of the modules on a controller."""
    roof = design.job.roof
    strung = {tag for one in design.roof.strings if one.controller == controller for tag in one.modules}
    return [spec_of(roof, one) for one in roof.modules if one.tag in strung]


def _filled(values: Floats) -> Floats:
    return np.where(np.isfinite(values), values, 20.0)


def way_ohm(design: Design, tag: str) -> Figure | None:
    """Resistance of both poles of a way at the inverters' full load, or by its parts where there are none; None where
    there is no such way.

    Source: nodal analysis; lugs and contacts common practice, no source.
    """
    stack = design.job.inverters
    loads = (step_load(design, round(stack.spec.continuous_va * len(stack.units) * share, -2)) for share in STEPS[::-1])
    step = next((one for one in loads if one is not None), None)
    at = step.ways.get(tag) if step is not None else None
    if at is None or abs(at.amps) < 0.1:
        return _parts_ohm(design, tag)
    drop = Given("Drop", at.start_v - at.end_v, "V")
    return Figure(
        name=f"{tag}: both poles",
        value=drop.value / at.amps,
        unit="ohm",
        formula="drop / current",
        inputs=(drop, Given("Current", at.amps, "A")),
        source="nodal analysis; lugs and contacts common practice, no source",
    )


def _parts_ohm(design: Design, tag: str) -> Figure | None:
    way = next((one for one in design.tree.ways if one.tag == tag), None)
    if way is None or design.job.inverters.units:
        return None
    return Figure.total(
        name=f"{tag}: both poles",
        unit="ohm",
        formula="Σ of its parts",
        inputs=tuple(Given(f"{part.kind} {part.pole}", part.ohm, "ohm") for part in way.parts),
        source="lugs and contacts common practice, no source",
    )


def pack_share(design: Design, tag: str) -> Figure | None:
    """Share of the bank's current that the string of a pack carries; None where there is no such pack."""
    one = next((each for each in design.bank.sharing.strings if tag in each.tags), None)
    if one is None:
        return None
    return Figure(
        name=f"{tag}: share of the current",
        value=one.share,
        unit="1",
        formula="by Kirchhoff's laws",
        inputs=(),
        source="nodal analysis of packs, links and leads",
    )


def idle_w(design: Design) -> Figure | None:
    """What the inverters take by themselves while they are on [W]; None where there are none."""
    stack = design.job.inverters
    if not stack.units:
        return None
    each = Given("Own draw of one", loss_curve(stack).p0_w, "W")
    return Figure.product(
        name="Inverters on, nothing behind them",
        unit="W",
        formula="own draw × inverters",
        inputs=(each, Given("Inverters", len(stack.units), "1")),
        source="loss curve of the datasheet",
    )
