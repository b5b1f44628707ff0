"""The bank in the cold and the heat: energy it gives, heat its box loses, and what the heater takes."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.bank import BankRatings
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.model import Bank
from weighty_axle.job.survey import Site
from weighty_axle.physics.cells import interpolated
from weighty_axle.reference.tables import cold_capacity

SHOWN_C = (-20.0, -10.0, 0.0, 10.0, 25.0)


class ColdResult(Struct, frozen=True):
    """Usable energy by cell temperature, the coldest the cells get, and the heater's share of the day. `held` says the heater keeps the box."""

    usable_wh: dict[str, Figure]
    coldest_c: Figure
    usable_coldest_wh: Figure
    skin_w_per_k: Figure
    heater_w: Figure
    heater_day_wh: Figure
    held: bool


def cold(bank: Bank, site: Site, ratings: BankRatings) -> ColdResult:
    """Capacity in the cold by table; heat through the box's skin U A dT at the record low.

    Source: textbook relation (conduction through a plane wall); capacity table of reference/ (recalled).
    """
    table = next(row for row in cold_capacity().rows if row.chemistry == bank.spec.chemistry)
    box, usable = bank.box, ratings.usable_energy_wh

    def at(name: str, cell_c: float) -> Figure:
        bounded = max(table.cell_c[0], min(table.cell_c[-1], cell_c))
        share = Given("Share of the 25 °C capacity", interpolated(bounded, table.cell_c, table.share), "1")
        return Figure(
            name, usable.value * share.value, "Wh", "usable energy × share", (usable, share, Given("Cells at", cell_c, "degC")), cold_capacity().cited
        )

    area, thick, conductivity = (
        Given("Skin of the box", box.area_m2, "m2"),
        Given("Insulation", box.insulation_mm / 1000, "m"),
        Given("Conductivity", box.conductivity_w_per_mk, "W/(m K)"),
    )
    skin = Figure(
        "Box loses per kelvin",
        box.conductivity_w_per_mk * box.area_m2 / (box.insulation_mm / 1000),
        "W/K",
        "conductivity × area ÷ thickness",
        (conductivity, area, thick),
        TEXTBOOK,
    )
    low, kept = Given("Record low", site.record_low_c, "degC"), Given("Kept at", box.keep_c, "degC")
    power = Figure(
        "Heater needs",
        max(0.0, skin.value * (box.keep_c - site.record_low_c)),
        "W",
        "loss per kelvin × (kept at − record low)",
        (skin, kept, low),
        TEXTBOOK,
    )
    held = bank.spec.heated or box.heater_w >= power.value
    coldest = box.keep_c if held else site.record_low_c
    coldest_figure = Figure(
        "Coldest cells",
        coldest,
        "degC",
        "kept at, where the heater holds it; else the record low",
        (kept, low, Given("Heater", box.heater_w, "W")),
        TEXTBOOK,
    )
    return ColdResult(
        {f"{cell_c:g}": at(f"Usable at {cell_c:g} °C", cell_c) for cell_c in SHOWN_C},
        coldest_figure, at("Usable at the coldest", coldest), skin, power,
        Figure("Heater takes on the coldest day", power.value * 24, "Wh", "heater power × 24 h", (power,), TEXTBOOK, "the record low all day long: the worst there is"),
        held,
    )  # fmt: skip
