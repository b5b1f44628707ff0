"""Rules of the bank in the cold and the heat."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.rules.bank.packs import pack_tags
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "bank.cold-charging",
    "check",
    "The cells may get as cold as {low}: no charging below {limit} in the cell.",
    PRACTICE,
    "Insulate the box and heat it, or let the BMS block charging and tell the customer when.",
)
def cold_charging(design: Design) -> Iterator[Hit]:
    """Frost that nothing keeps off."""
    spec, coldest = design.job.bank.spec, design.cold.coldest_c
    if coldest.value < spec.charge_low_c:
        yield hit(*pack_tags(design), low=coldest, limit=Given("", spec.charge_low_c, "degC"))


@rule(
    "bank.cold-discharging",
    "stop",
    "The cells may get as cold as {low}; the packs give nothing below {limit}.",
    "pack datasheet",
)
def cold_discharging(design: Design) -> Iterator[Hit]:
    """Colder than the packs work at all."""
    spec, coldest = design.job.bank.spec, design.cold.coldest_c
    if coldest.value < spec.discharge_low_c:
        yield hit(*pack_tags(design), low=coldest, limit=Given("", spec.discharge_low_c, "degC"))


@rule(
    "bank.cold-stored",
    "note",
    "Stored without heat the cells get as cold as {low}: no charging below {limit}, not by the sun either.",
    PRACTICE,
    "See that the BMS blocks charging in frost, or open the modules' isolators for storage.",
)
def cold_stored(design: Design) -> Iterator[Hit]:
    """A bank that is warm in use and frozen in store, with modules that would charge it."""
    spec, stored = design.job.bank.spec, design.cold.stored_c
    if (
        stored.value < spec.charge_low_c <= design.cold.coldest_c.value
        and design.job.roof.controllers
        and not spec.heated
    ):
        yield hit(*pack_tags(design), low=stored, limit=Given("", spec.charge_low_c, "degC"))


@rule(
    "bank.heater-weak",
    "check",
    "The box needs {need} at the coldest; its heater gives {have}.",
    "textbook relation: U A dT",
)
def heater_weak(design: Design) -> Iterator[Hit]:
    """A heater that does not hold the box."""
    have, need = design.job.bank.box.heater_w, design.cold.heater_w
    if 0 < have < need.value and not design.job.bank.spec.heated:
        remedy = set_value(
            "bank.box.heater_w",
            float(math.ceil(need.value / 10) * 10),
            f"Heater of {math.ceil(need.value / 10) * 10} W",
        )
        yield hit(*pack_tags(design), need=need, have=Given("", have, "W"), remedy=remedy)


@rule(
    "bank.hot-charging",
    "check",
    "The hottest bay reaches {high}; the packs charge up to {limit}: leave air between them, vent the bay.",
    "pack datasheet",
)
def hot_charging(design: Design) -> Iterator[Hit]:
    """Bay hotter than the packs charge."""
    high, limit = design.job.site.bay_high_c, design.job.bank.spec.charge_high_c
    if high > limit:
        yield hit(*pack_tags(design), high=Given("", high, "degC"), limit=Given("", limit, "degC"))
