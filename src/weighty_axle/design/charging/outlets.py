"""Chargers that hang on AC circuits: which count for a bar, and with how much."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.charging.paths import ChargerLoad
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.brief import Load

USUAL_EFFICIENCY = 0.9
"""Of a charger that states only what it takes. Source: common practice, no source."""


class AcCharger(Struct, frozen=True, kw_only=True):
    """A charger of this bar: what it gives and takes; `always` where inverters of another bank feed it, else it works
    plugged in.
    """

    tag: str
    gives_a: Figure
    takes_w: float
    always: bool


def ac_chargers(
    loads: tuple[Load, ...], chargers: tuple[ChargerLoad, ...], bar: str, bank: BankRatings
) -> tuple[AcCharger, ...]:
    """Chargers of a bar that count: before the inverters, or behind those of another bank. One behind inverters that
    live on this very bar never does: the bank would charge itself.
    """
    by_tag = {load.tag: load for load in loads}
    found = []
    for one in chargers:
        if one.charges != bar or one.fed_by == bar or one.tag not in by_tag:
            continue
        load = by_tag[one.tag]
        watts = Given(f"{load.name} takes", load.running_w * load.count, "W")
        if load.charge_a is not None:
            gives = Figure.total(
                name=load.name,
                unit="A",
                formula="as its datasheet says",
                inputs=(Given("Charges with", load.charge_a * load.count, "A"),),
                source="charger datasheet",
            )
        else:
            gives = Figure(
                name=load.name,
                value=watts.value * USUAL_EFFICIENCY / bank.lowest_working_v.value,
                unit="A",
                formula="power × efficiency ÷ lowest working voltage",
                inputs=(watts, Given("Efficiency, usual", USUAL_EFFICIENCY, "1"), bank.lowest_working_v),
                source=TEXTBOOK,
            )
        found.append(AcCharger(tag=load.tag, gives_a=gives, takes_w=watts.value, always=bool(one.fed_by)))
    return tuple(found)


def plugged_chargers(chargers: tuple[AcCharger, ...]) -> Figure:
    """What those that work plugged in give together."""
    return Figure.total(
        name="Chargers on AC",
        unit="A",
        formula="Σ of the chargers before the inverters",
        inputs=tuple(one.gives_a for one in chargers if not one.always),
        source="charger datasheet",
    )
