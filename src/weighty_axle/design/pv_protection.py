"""Protection of the roof's circuits: isolators, string fuses, surge, cable, gland and labels, controller by controller."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.conductors import SUN_CABLE_C, ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.roof import RoofResult
from weighty_axle.design.roof_geometry import rope_m
from weighty_axle.job.roof import Roof, spec_of
from weighty_axle.physics.conductors import ambient_factor
from weighty_axle.physics.protection import next_rating_a
from weighty_axle.reference import tables

STRING_FUSES_A = (10.0, 12.0, 15.0, 16.0, 20.0, 25.0, 30.0, 32.0)
"""Usual ratings of fuses for module strings. Source: IEC 60269-6, recalled."""
ROOF_INSULATION_C = 90
"""Insulation of cable made for the sun [degC]. Source: common practice, no source."""
SURGE_CABLE_M = 10.0
"""From this much cable outside on, surge arresters are asked for. Source: IEC 60364-7-712 clause 712.443, recalled, simplified."""


class InputProtection(Struct, frozen=True):
    """What one controller's input needs. `fuse_a` is None where strings need no fuse of their own; `back_a` could flow back into one string."""

    controller: str
    isolator_v: Figure
    isolator_a: Figure
    back_a: Figure
    fuse_a: Figure | None
    cable_m: Figure
    drop_share: Figure
    cable_a: Figure | None
    surge: bool
    labels: tuple[str, ...]


def pv_protection(roof: Roof, result: RoofResult, ampacity_key: str) -> tuple[InputProtection, ...]:
    """Isolator, fuses, cable and labels of every controller with strings.

    Source: NEC 690.8, 690.9, 690.13 and 690.15, IEC 60364-7-712, recalled.
    """
    used = {one.controller for one in result.strings if one.modules}
    return tuple(_one(controller.tag, roof, result, ampacity_key) for controller in roof.controllers if controller.tag in used)


def sun_cable_a(size: str, key: str) -> Figure | None:
    """What a cable in sun on a roof may carry; None for a size no table has at 90 °C."""
    found = tables.ampacity_tables()
    for table in (found[key], *found.values()):
        for row in table.rows:
            if row.size == size and ROOF_INSULATION_C in row.amps:
                factor = ambient_factor(insulation_c=ROOF_INSULATION_C, ambient_c=SUN_CABLE_C, table_ambient_c=table.ambient_c)
                given = (
                    Given("Table at 90 °C insulation", row.amps[ROOF_INSULATION_C], "A"),
                    Given("Air at the cable", SUN_CABLE_C, "degC"),
                    Given("Factor", factor, "ratio"),
                )
                return Figure(
                    f"{size} in the sun may carry",
                    row.amps[ROOF_INSULATION_C] * min(1.0, factor),
                    "A",
                    "table value × ambient factor",
                    given,
                    table.source,
                )
    return None


def _one(controller: str, roof: Roof, result: RoofResult, ampacity_key: str) -> InputProtection:
    strings = [one for one in result.strings if one.controller == controller and one.modules]
    by_tag = {one.tag: spec_of(roof, one) for one in roof.modules}
    specs = {by_tag[tag] for one in strings for tag in one.modules}
    isc, reverse = max(spec.isc_a for spec in specs), min(spec.reverse_a for spec in specs)
    coldest = max((one.cold_voc_v for one in strings), key=lambda one: one.value)
    design_a = next(one.design_isc_a for one in result.controllers if one.tag == controller)
    volts = Figure(
        f"Isolator of {controller}, at least",
        coldest.value,
        "V",
        "highest cold Voc of its strings; two poles, made for direct current",
        (coldest,),
        "NEC 690.13 and 690.15, IEC 60364-7-712, recalled",
    )
    amps = Figure(f"Isolator of {controller}, current", design_a.value, "A", "input design current", (design_a,), "NEC 690.8, recalled")
    others = Given("Other strings side by side", len(strings) - 1, "count")
    back = Figure(
        f"Back into one string of {controller}",
        (len(strings) - 1) * isc * 1.25,
        "A",
        "other strings × 1.25 × Isc",
        (others, Given("Isc", isc, "A")),
        "NEC 690.9(A), recalled",
    )
    fuse = None
    if back.value > reverse:
        wanted = 1.56 * isc
        try:
            rating = next_rating_a(wanted, STRING_FUSES_A)
        except ValueError:
            rating = STRING_FUSES_A[-1]
        fuse = Figure(f"Fuse in each string of {controller}", rating, "A", "next rating from 1.56 × Isc, at most the module's series fuse", (back, Given("Isc", isc, "A"), Given("Module's series fuse", reverse, "A")), "NEC 690.9(B), recalled", "" if rating <= reverse else "above the module's series fuse: fewer strings side by side")  # fmt: skip
    longest = max(strings, key=lambda one: rope_m(roof, controller, one.modules))
    length = rope_m(roof, controller, longest.modules)
    cable = Figure(
        f"Longest string cable of {controller}",
        length,
        "m",
        "entry to the first module, along the rope, and back",
        (Given(f"Modules of {longest.tag}", len(longest.modules), "count"),),
        TEXTBOOK,
    )
    ohm = ohm_per_m(roof.cable, SUN_CABLE_C)
    vmp = min(sum(by_tag[tag].vmp_v for tag in one.modules) for one in strings)
    imp = max(spec.imp_a for spec in specs)
    drop = Figure(
        f"Drop on the roof, {controller}",
        length * ohm * imp / vmp,
        "1",
        "length × resistance × Imp ÷ string's Vmp",
        (cable, Given(f"Resistance per metre at {SUN_CABLE_C:.0f} °C", ohm, "ohm"), Given("Imp", imp, "A"), Given("Vmp of the string", vmp, "V")),
        TEXTBOOK,
    )
    labels = (
        f"{controller} isolator: solar, {coldest.value:.0f} V DC, live in light", *(f"{one.tag}: {len(one.modules)} modules, {one.cold_voc_v.value:.0f} V" for one in strings),
        f"{controller} gland: two cables, double insulated", "Do not part plugs under load",
    )  # fmt: skip
    return InputProtection(controller, volts, amps, back, fuse, cable, drop, sun_cable_a(roof.cable, ampacity_key), length > SURGE_CABLE_M, labels)
