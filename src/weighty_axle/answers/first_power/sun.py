"""The sun at the hour of a reading: by the meter on the modules, or what a clear sky gives at that hour."""

from __future__ import annotations

from datetime import date

from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design

CELL_K_PER_W_M2 = 0.03
"""Cells over the air, for each watt of sun on a square metre [K m2/W]. Source: common practice, no source."""


def sun_now(design: Design) -> Figure:
    """Sun on flat modules as stated [W/m2]: the meter's, else a clear sky's at the stated day and hour; 0 where neither
    is stated.

    Source: physics.solar.sun.clear_sky (Ineichen and Perez 2002, recalled); as measured.
    """
    proving, site = design.whole.proving, design.whole.site
    if proving.sun_w_per_m2 or not proving.clear_on or proving.clear_h is None:
        read = Given("Read on the modules", proving.sun_w_per_m2, "any")
        return Figure(
            name="Sun now",
            value=proving.sun_w_per_m2,
            unit="any",
            formula="as the meter says",
            inputs=(read,),
            source="as stated",
        )
    from weighty_axle.physics.solar import sun  # numpy: not before the first paint

    day = date.fromisoformat(proving.clear_on).timetuple().tm_yday
    where = sun.position_by_the_sun(latitude_deg=site.latitude_deg, day=day, solar_h=proving.clear_h)
    turbidity = design.job.roof.sky.turbidity
    clear = sun.clear_sky(elevation_deg=where.elevation_deg, day=day, height_m=site.height_m, turbidity=turbidity)
    return Figure(
        name="Sun now",
        value=float(clear.global_w_per_m2),
        unit="any",
        formula="clear sky at the height of the sun, on a flat roof",
        inputs=(
            Given("Day of the year", day, "count"),
            Given("Hour by the sun", proving.clear_h, "h"),
            Given("Latitude", site.latitude_deg, "deg"),
            Given("Turbidity", turbidity, "1"),
        ),
        source="Ineichen and Perez 2002 (recalled)",
        limit="a sky that looks clear may be 10 % off; a meter is better",
    )


def cells_now(design: Design) -> Given:
    """Temperature of the cells at that sun [degC].

    Source: common practice, no source.
    """
    air, light = design.whole.proving.air_c, sun_now(design).value
    return Given(f"Cells: air and {CELL_K_PER_W_M2:g} K per W/m²", air + CELL_K_PER_W_M2 * light, "degC")
