"""The bank in the cold and the heat: energy it gives, heat its box loses, and what the heater takes."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.roof import Sky
from weighty_axle.job.models.vehicle import Site
from weighty_axle.physics.electric.cells import interpolated
from weighty_axle.reference.tables import cold_capacity

SHOWN_C = (-20.0, -10.0, 0.0, 10.0, 25.0)


class ColdResult(Struct, frozen=True, kw_only=True):
    """Usable energy by cell temperature, the coldest the cells get in use and stored, and what the heater takes.

    `held` says the heater keeps the box.

    `days` is how long the bank lasts without sun or hook-up on the coldest days, heater and cold cells counted;
    `asleep_w` is the heater's mean in the coldest month while stored.
    """

    usable_wh: dict[str, Figure]
    coldest_c: Figure
    usable_coldest_wh: Figure
    skin_w_per_k: Figure
    heater_w: Figure
    heater_day_wh: Figure
    held: bool
    days: Figure
    stored_c: Figure
    usable_stored_wh: Figure
    asleep_w: Figure


def coldest_month_c(sky: Sky, site: Site) -> Given:
    """Mean air of the coldest month [degC]: as measured, or 15 K over the record low.

    Source: common practice, no source.
    """
    if len(sky.air_c) == 12:
        return Given("Coldest month", min(sky.air_c), "degC")
    return Given("Coldest month, 15 K over the record low", site.record_low_c + 15, "degC")


def cold(bank: Bank, site: Site, sky: Sky, ratings: BankRatings, energy_per_day_wh: Figure) -> ColdResult:
    """Capacity in the cold by table; heat through the box's skin U A dT at the record low.

    Source: textbook relation (conduction through a plane wall); capacity table of reference/ (recalled).
    """
    table = next(row for row in cold_capacity().rows if row.chemistry == bank.spec.chemistry)
    box, usable = bank.box, ratings.usable_energy_wh

    def at(name: str, cell_c: float) -> Figure:
        bounded = max(table.cell_c[0], min(table.cell_c[-1], cell_c))
        share = Given("Share of the 25 °C capacity", interpolated(bounded, table.cell_c, table.share), "1")
        return Figure(
            name=name,
            value=usable.value * share.value,
            unit="Wh",
            formula="usable energy × share",
            inputs=(usable, share, Given("Cells at", cell_c, "degC")),
            source=cold_capacity().cited,
        )

    area, thick, conductivity = (
        Given("Skin of the box", box.area_m2, "m2"),
        Given("Insulation", box.insulation_mm / 1000, "m"),
        Given("Conductivity", box.conductivity_w_per_mk, "W/(m K)"),
    )
    skin = Figure(
        name="Box loses per kelvin",
        value=box.conductivity_w_per_mk * box.area_m2 / (box.insulation_mm / 1000),
        unit="W/K",
        formula="conductivity × area ÷ thickness",
        inputs=(conductivity, area, thick),
        source=TEXTBOOK,
    )
    low, kept = Given("Record low", site.record_low_c, "degC"), Given("Kept at", box.keep_c, "degC")
    around = Given("Living space at its coldest, in use", box.inside_low_c, "degC") if box.inside else low
    power = Figure(
        name="Heater needs",
        value=max(0.0, skin.value * (box.keep_c - around.value)),
        unit="W",
        formula="loss per kelvin × (kept at − air around it)",
        inputs=(skin, kept, around),
        source=TEXTBOOK,
    )
    heats = bank.spec.heated or box.heater_w > 0
    held = bank.spec.heated or box.heater_w >= power.value
    coldest = max(box.keep_c, around.value) if held else around.value
    coldest_figure = Figure(
        name="Coldest cells",
        value=coldest,
        unit="degC",
        formula="kept at, where the heater holds it; else the air around the box",
        inputs=(kept, around, Given("Heater", box.heater_w, "W")),
        source=TEXTBOOK,
    )
    heater_day = Figure(
        name="Heater takes on the coldest day",
        value=power.value * 24,
        unit="Wh",
        formula="heater power × 24 h",
        inputs=(power,),
        source=TEXTBOOK,
        limit="the coldest air all day long: the worst there is",
    )
    taken = Given("Heater on the coldest day", heater_day.value if heats else 0.0, "Wh")
    usable_cold = at("Usable at the coldest", coldest)
    asked = energy_per_day_wh.value + taken.value
    days = Figure(
        name="Days without sun, in the cold",
        value=usable_cold.value / asked if asked else math.inf,
        unit="days",
        formula="usable at the coldest ÷ (energy out of the bank per day + heater)",
        inputs=(usable_cold, energy_per_day_wh, taken),
        source=TEXTBOOK,
    )
    # Stored, nobody warms the living space; cells are as cold as it gets, unless the heater goes on.
    kept_asleep = heats and box.heats_asleep
    stored = Figure(
        name="Coldest cells, stored",
        value=max(box.keep_c, site.record_low_c) if kept_asleep else site.record_low_c,
        unit="degC",
        formula="kept at where the heater goes on; else the record low",
        inputs=(kept, low),
        source=TEXTBOOK,
    )
    month = coldest_month_c(sky, site)
    asleep = Figure(
        name="Heater while stored",
        value=max(0.0, skin.value * (box.keep_c - month.value)) if kept_asleep else 0.0,
        unit="W",
        formula="loss per kelvin × (kept at − mean air), where the heater goes on",
        inputs=(skin, kept, month),
        source=TEXTBOOK,
        limit="" if kept_asleep else "it is off while stored",
    )
    return ColdResult(
        usable_wh={f"{cell_c:g}": at(f"Usable at {cell_c:g} °C", cell_c) for cell_c in SHOWN_C},
        coldest_c=coldest_figure,
        usable_coldest_wh=usable_cold,
        skin_w_per_k=skin,
        heater_w=power,
        heater_day_wh=heater_day,
        held=held,
        days=days,
        stored_c=stored,
        usable_stored_wh=at("Usable stored, coldest month", box.keep_c if kept_asleep else month.value),
        asleep_w=asleep,
    )
