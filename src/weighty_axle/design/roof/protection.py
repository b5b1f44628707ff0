"""Protection of the roof's circuits: isolators, string fuses, surge, cable, gland and labels, controller by
controller.
"""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.conductors import SUN_CABLE_C, ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.roof.elsewhere import RemoteResult
from weighty_axle.design.roof.geometry import rope_m
from weighty_axle.design.roof.strings import RoofResult
from weighty_axle.job.models.roof import Roof, spec_of
from weighty_axle.job.models.wiring import AmpacityKey
from weighty_axle.physics.electric.conductors import ambient_factor
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference import tables

STRING_FUSES_A = (10.0, 12.0, 15.0, 16.0, 20.0, 25.0, 30.0, 32.0)
"""Usual ratings of fuses for module strings. Source: IEC 60269-6, recalled."""
ROOF_INSULATION_C = 90
"""Insulation of cable made for the sun [degC]. Source: common practice, no source."""
SURGE_CABLE_M = 10.0
"""From this much cable outside on, surge arresters are asked for.

Source: IEC 60364-7-712 clause 712.443, recalled, simplified.
"""


class RoofCable(Struct, frozen=True, kw_only=True):
    """The longest string cable of one input on the roof: its length, what it loses, what it may carry (None for a size
    no table has).
    """

    length_m: Figure
    drop_share: Figure
    carries_a: Figure | None


class InputProtection(Struct, frozen=True, kw_only=True):
    """What one controller's input needs, strings of the roof and arrays elsewhere side by side.

    `back_a` could flow back into the string that stands least of it, `reverse_a` is what that one stands, `weakest` its
    name; `series_fuse_a` is what the modules of every string stand. `fuse_a` is None where strings need no fuse of
    their own, `fuse_fits` says that one rating suits current and modules, `cable` where nothing of the roof is on the
    input.
    """

    controller: str
    beside: tuple[str, ...]
    weakest: str
    isolator_v: Figure
    isolator_a: Figure
    back_a: Figure
    reverse_a: Given
    series_fuse_a: Given
    fuse_a: Figure | None
    fuse_fits: bool
    cable: RoofCable | None
    surge: bool
    labels: tuple[str, ...]


class _Beside(Struct, frozen=True, kw_only=True):
    """One of the strings side by side on an input."""

    name: str
    voc_v: Figure
    isc_a: float
    reverse_a: float


def pv_protection(
    roof: Roof, result: RoofResult, remote: tuple[RemoteResult, ...], ampacity_key: AmpacityKey
) -> tuple[InputProtection, ...]:
    """Isolator, fuses, cable and labels of every controller with strings or arrays elsewhere, these all plugged in at
    once.

    Source: NEC 690.8, 690.9, 690.13 and 690.15, IEC 60364-7-712, recalled.
    """
    beside = {controller.tag: _side_by_side(controller.tag, roof, result, remote) for controller in roof.controllers}
    return tuple(_one(tag, found, roof, result, ampacity_key) for tag, found in beside.items() if found)


def _side_by_side(
    controller: str, roof: Roof, result: RoofResult, remote: tuple[RemoteResult, ...]
) -> tuple[_Beside, ...]:
    by_tag = {module.tag: spec_of(roof, module) for module in roof.modules}
    found = []
    for string in result.strings:
        if string.controller == controller and string.modules:
            specs = [by_tag[tag] for tag in string.modules]
            found.append(
                _Beside(
                    name=string.tag,
                    voc_v=string.cold_voc_v,
                    isc_a=max(spec.isc_a for spec in specs),
                    reverse_a=min(spec.reverse_a for spec in specs),
                )
            )
    for array, far in zip(roof.remote, remote, strict=True):
        if array.controller == controller:
            found += [
                _Beside(
                    name=array.tag, voc_v=far.cold_voc_v, isc_a=array.module.isc_a, reverse_a=array.module.reverse_a
                )
            ] * array.parallel
    return tuple(found)


def sun_cable_a(size: str, key: str) -> Figure | None:
    """What a cable in sun on a roof may carry; None for a size no table has at 90 °C."""
    found = tables.ampacity_tables()
    for table in (found[key], *found.values()):
        for row in table.rows:
            if row.size == size and ROOF_INSULATION_C in row.amps:
                factor = ambient_factor(
                    insulation_c=ROOF_INSULATION_C, ambient_c=SUN_CABLE_C, table_ambient_c=table.ambient_c
                )
                given = (
                    Given("Table at 90 °C insulation", row.amps[ROOF_INSULATION_C], "A"),
                    Given("Air at the cable", SUN_CABLE_C, "degC"),
                    Given("Factor", factor, "ratio"),
                )
                return Figure(
                    name=f"{size} in the sun may carry",
                    value=row.amps[ROOF_INSULATION_C] * min(1.0, factor),
                    unit="A",
                    formula="table value × ambient factor",
                    inputs=given,
                    source=table.source,
                )
    return None


def _one(
    controller: str, beside: tuple[_Beside, ...], roof: Roof, result: RoofResult, ampacity_key: AmpacityKey
) -> InputProtection:
    coldest = max((neighbour.voc_v for neighbour in beside), key=lambda one: one.value)
    design_a = next(one.design_isc_a for one in result.controllers if one.tag == controller)
    volts = Figure(
        name=f"Isolator of {controller}, at least",
        value=coldest.value,
        unit="V",
        formula="highest cold Voc of its strings; two poles, made for direct current",
        inputs=(coldest,),
        source="NEC 690.13 and 690.15, IEC 60364-7-712, recalled",
    )
    amps = Figure(
        name=f"Isolator of {controller}, current",
        value=design_a.value,
        unit="A",
        formula="input design current",
        inputs=(design_a,),
        source="NEC 690.8, recalled",
    )
    back, weakest = _back(controller, beside)
    reverse = Given("Module's series fuse", weakest.reverse_a, "A")
    cable = _cable(controller, roof, result, ampacity_key)
    outside_m = max(
        [array.cable_m for array in roof.remote if array.controller == controller]
        + ([cable.length_m.value] if cable else [])
    )
    strings = [string for string in result.strings if string.controller == controller and string.modules]
    labels = (
        f"{controller} isolator: solar, {coldest.value:.0f} V DC, live in light",
        *(f"{string.tag}: {len(string.modules)} modules, {string.cold_voc_v.value:.0f} V" for string in strings),
        *(
            f"{array.tag}: {array.name}, {array.series} × {array.parallel} modules"
            for array in roof.remote
            if array.controller == controller
        ),
        f"{controller} gland: two cables, double insulated",
        "Do not part plugs under load",
    )
    series_fuse = Given("Smallest series fuse of the modules", min(neighbour.reverse_a for neighbour in beside), "A")
    fuse = _fuse(controller, beside, back, series_fuse) if back.value > reverse.value else None
    names = tuple(dict.fromkeys(neighbour.name for neighbour in beside))
    fits = fuse is None or 1.56 * max(neighbour.isc_a for neighbour in beside) <= fuse.value <= series_fuse.value
    return InputProtection(
        controller=controller,
        beside=names,
        weakest=weakest.name,
        isolator_v=volts,
        isolator_a=amps,
        back_a=back,
        reverse_a=reverse,
        series_fuse_a=series_fuse,
        fuse_a=fuse,
        fuse_fits=fits,
        cable=cable,
        surge=outside_m > SURGE_CABLE_M,
        labels=labels,
    )


def _back(controller: str, beside: tuple[_Beside, ...]) -> tuple[Figure, _Beside]:
    """What the others could drive into the string that stands least of it."""
    total_a = sum(neighbour.isc_a for neighbour in beside)
    weakest = max(beside, key=lambda neighbour: (total_a - neighbour.isc_a) / neighbour.reverse_a)
    others = list(beside)
    others.remove(weakest)
    given = tuple(Given(f"Isc of {one.name}", one.isc_a, "A") for one in others)
    back_a = 1.25 * sum(one.isc_a for one in others)
    return Figure(
        name=f"Back into one string of {controller}",
        value=back_a,
        unit="A",
        formula="1.25 × Σ Isc of the other strings side by side",
        inputs=given,
        source="NEC 690.9(A), recalled",
    ), weakest


def _fuse(controller: str, beside: tuple[_Beside, ...], back: Figure, series_fuse: Given) -> Figure:
    """One rating for all strings of an input: the string of most current sets it, the modules of every string must
    stand it.
    """
    isc = Given("Largest Isc", max(neighbour.isc_a for neighbour in beside), "A")
    try:
        rating = next_rating_a(1.56 * isc.value, STRING_FUSES_A)
    except ValueError:
        rating = STRING_FUSES_A[-1]
    return Figure(
        name=f"Fuse in each string of {controller}",
        value=rating,
        unit="A",
        formula="next rating from 1.56 × Isc, at most the module's series fuse",
        inputs=(back, isc, series_fuse),
        source="NEC 690.9(B), recalled",
        limit=""
        if 1.56 * isc.value <= rating <= series_fuse.value
        else "above the module's series fuse: fewer strings side by side",
    )


def _cable(controller: str, roof: Roof, result: RoofResult, ampacity_key: AmpacityKey) -> RoofCable | None:
    strings = [string for string in result.strings if string.controller == controller and string.modules]
    if not strings:
        return None
    by_tag = {module.tag: spec_of(roof, module) for module in roof.modules}
    longest = max(strings, key=lambda string: rope_m(roof, controller, string.modules))
    length = Figure(
        name=f"Longest string cable of {controller}",
        value=rope_m(roof, controller, longest.modules),
        unit="m",
        formula="entry to the first module, along the rope, and back",
        inputs=(Given(f"Modules of {longest.tag}", len(longest.modules), "count"),),
        source=TEXTBOOK,
    )
    ohm = ohm_per_m(roof.cable, SUN_CABLE_C)
    vmp = min(sum(by_tag[tag].vmp_v for tag in string.modules) for string in strings)
    imp = max(by_tag[tag].imp_a for string in strings for tag in string.modules)
    drop = Figure(
        name=f"Drop on the roof, {controller}",
        value=length.value * ohm * imp / vmp,
        unit="1",
        formula="length × resistance × Imp ÷ string's Vmp",
        inputs=(
            length,
            Given(f"Resistance per metre at {SUN_CABLE_C:.0f} °C", ohm, "ohm"),
            Given("Imp", imp, "A"),
            Given("Vmp of the string", vmp, "V"),
        ),
        source=TEXTBOOK,
    )
    return RoofCable(length_m=length, drop_share=drop, carries_a=sun_cable_a(roof.cable, ampacity_key))
