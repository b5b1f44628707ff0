"""Step Roof: strings against their controller's window, and what stands in whose way."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.roof.geometry import boxes_meet, flat_box, module_boxes, service_box, stand_off_m, strays
from weighty_axle.job.models.roof import Controller, Module, ModuleSpec, Roof, String, spec_of
from weighty_axle.job.models.vehicle import Site
from weighty_axle.physics.solar.photovoltaics import (
    design_current_a,
    open_voltage_v,
    peak_power_voltage_v,
    worst_open_voltage_v,
)
from weighty_axle.reference.tables import voc_corrections, voc_factor

if TYPE_CHECKING:
    from weighty_axle.physics.search.packing import Rectangle


NOON_SHARE = (0.55, 0.70)
"""Share of rated watts a flat roof gives near noon on a good clear day. Source: common practice, no source."""


class StringResult(Struct, frozen=True, kw_only=True):
    """One string: modules in series and its voltages.

    `dawn_voc_v` is what a controller sees at the start of a hot day, cells no warmer than the air.
    """

    tag: str
    controller: str
    modules: tuple[str, ...]
    cold_voc_v: Figure
    cold_voc_linear_v: Figure
    cold_voc_code_v: Figure
    hot_vmp_v: Figure
    hot_voc_v: Figure
    dawn_voc_v: Figure
    cold_margin_v: Figure


class ControllerResult(Struct, frozen=True, kw_only=True):
    """One controller with the strings on it; series counts are what its window allows."""

    tag: str
    strings: tuple[str, ...]
    rated_w: Figure
    design_isc_a: Figure
    output_a: Figure
    start_v: Figure
    run_v: Figure
    fewest_in_series: int
    most_in_series: int


class RoofResult(Struct, frozen=True, kw_only=True):
    """The roof as a whole.

    Clashes and taken (module in a lane or service room) are pairs of tags; strays are modules over what is allowed.
    """

    strings: tuple[StringResult, ...]
    controllers: tuple[ControllerResult, ...]
    rated_w: Figure
    placed_w: Figure
    noon_low_w: Figure
    noon_high_w: Figure
    mass_kg: Figure
    stand_off_m: Figure
    clashes: tuple[tuple[str, str], ...]
    taken: tuple[tuple[str, str], ...]
    strays: tuple[str, ...]
    boxes: dict[str, Rectangle]
    unassigned: tuple[str, ...]


def roof(stated: Roof, site: Site, bank: BankRatings, charge_cell_v: float, everything: Roof) -> RoofResult:
    """Strings, controllers and clashes; `everything` is the roof with what charges other banks too, which stands in the
    way all the same.

    Source: physics.photovoltaics; NEC 690.7(A) table, recalled.
    """
    strings = tuple(_string(string, stated, site) for string in stated.strings)
    controllers = tuple(
        _controller(controller, strings, stated, site, bank, charge_cell_v) for controller in stated.controllers
    )
    wired = Counter(spec_of(stated, module) for module in stated.modules if module.string)
    every = Counter(spec_of(stated, module) for module in stated.modules)
    rated = Figure(
        name="Modules strung",
        value=sum(spec.pmp_w * count for spec, count in wired.items()),
        unit="W",
        formula="Σ modules on strings × rated power",
        inputs=tuple(Given(f"{count} × {spec.name}", spec.pmp_w, "W") for spec, count in wired.items()),
        source="module datasheet",
    )
    placed = Figure(
        name="Modules placed",
        value=sum(spec.pmp_w * count for spec, count in every.items()),
        unit="W",
        formula="Σ modules × rated power, strung or not",
        inputs=tuple(Given(f"{count} × {spec.name}", spec.pmp_w, "W") for spec, count in every.items()),
        source="module datasheet",
    )
    low, high = (
        Figure.product(
            name=f"Near noon, {word} (rule)",
            unit="W",
            formula="rated power × share near noon on a good clear day",
            inputs=(rated, Given("Share", share, "1")),
            source=PRACTICE,
            limit="an ordinary good clear day with dirt, heat and losses; Yield computes the best one here",
        )
        for word, share in zip(("low", "high"), NOON_SHARE, strict=True)
    )
    mass = Figure(
        name="Modules, mass",
        value=sum(spec.mass_kg * count for spec, count in every.items()),
        unit="kg",
        formula="Σ modules × mass of one",
        inputs=tuple(Given(f"{count} × {spec.name}", spec.mass_kg, "kg") for spec, count in every.items()),
        source=TEXTBOOK,
    )
    boxes = module_boxes(stated)
    every_box = boxes if everything is stated else module_boxes(everything)
    outermost = max(boxes.values(), key=lambda box: stand_off_m(stated, box), default=(0.0, 0.0, 0.0, 0.0))
    near_m, far_m = sorted((abs(outermost[2]), abs(outermost[3])))
    given = (
        Given("Crown", stated.crown_m, "m"),
        Given("Half width", stated.width_m / 2, "m"),
        Given("Far edge from the middle", far_m, "m"),
        Given("Near edge from the middle", 0.0 if outermost[2] <= 0 <= outermost[3] else near_m, "m"),
    )
    stand_off = Figure(
        name="Largest gap under",
        value=stand_off_m(stated, outermost),
        unit="m",
        formula="crown × (far edge² − near edge²) ÷ half width²",
        inputs=given,
        source=TEXTBOOK,
        limit="a parabola across the roof; feet or packers of that height at the outer edge",
    )
    return RoofResult(
        strings=strings,
        controllers=controllers,
        rated_w=rated,
        placed_w=placed,
        noon_low_w=low,
        noon_high_w=high,
        mass_kg=mass,
        stand_off_m=stand_off,
        clashes=_clashes(everything, every_box),
        taken=_taken(everything, every_box),
        strays=tuple(tag for tag, box in boxes.items() if strays(stated, box)),
        boxes=boxes,
        unassigned=tuple(module.tag for module in stated.modules if not module.string),
    )


def rope(stated: Roof, string: String) -> tuple[Module, ...]:
    """Modules of a string in the order of its rope: as clicked, others from front to rear behind them."""
    place = {tag: at for at, tag in enumerate(string.order)}
    own = [module for module in stated.modules if module.string == string.tag]
    return tuple(sorted(own, key=lambda one: (place.get(one.tag, len(place)), one.x_m, one.y_m)))


def _string(string: String, stated: Roof, site: Site) -> StringResult:
    tag = string.tag
    own = rope(stated, string)
    specs = Counter(spec_of(stated, one) for one in own) or Counter({stated.module: 0})
    cold = Given("Record low", site.record_low_c, "degC")

    def summed(of: Callable[[ModuleSpec], float]) -> float:
        return sum(count * of(spec) for spec, count in specs.items())

    each = tuple(
        given
        for spec, count in specs.items()
        for given in (
            Given(f"{spec.name}, in series", count, "count"),
            Given(f"{spec.name}, Voc", spec.voc_v, "V"),
            Given(f"{spec.name}, β", spec.voc_per_c, "per °C"),
        )
    )
    linear = Figure(
        name=f"{tag} cold Voc, linear",
        value=summed(lambda spec: open_voltage_v(voc_v=spec.voc_v, voc_per_c=spec.voc_per_c, cell_c=site.record_low_c)),
        unit="V",
        formula="Σ modules × Voc × (1 + β (record low − 25 °C))",
        inputs=(*each, cold),
        source="IEC 60891 linear correction",
    )
    factor = code_factor(site.record_low_c)
    code = Figure(
        name=f"{tag} cold Voc, code table",
        value=summed(lambda spec: spec.voc_v * factor),
        unit="V",
        formula="Σ modules × Voc × table factor",
        inputs=(*each, Given("Factor at the record low", factor, "ratio"), cold),
        source="NEC (NFPA 70) 2023 table 690.7(A) (recalled; check against your copy)",
    )
    worse = max(linear, code, key=lambda one: one.value)
    voc_cold = Figure(
        name=f"{tag} cold Voc",
        value=worse.value,
        unit="V",
        formula="the larger of the linear coefficient and the code's table",
        inputs=(linear, code),
        source=worse.source,
        limit="the code's table binds" if worse is code else "the linear coefficient binds",
    )
    hot_c = site.design_high_c + stated.rise_c
    hot = Figure(
        name=f"{tag} hot Vmp",
        value=summed(lambda spec: hot_vmp_v(spec, hot_c)),
        unit="V",
        formula="Σ modules × the lower of Vmp + Voc β ΔT and Vmp (1 + γ ΔT)",
        inputs=(
            *each,
            *(Given(f"{spec.name}, Vmp", spec.vmp_v, "V") for spec in specs),
            Given("Cell temperature", hot_c, "degC"),
            *(Given(f"{spec.name}, γ", spec.pmp_per_c, "per °C") for spec in specs),
        ),
        source=TEXTBOOK + "; rise over air for a flush roof is an assumption of the job",
    )

    def open_at(name: str, cell_c: float, words: str) -> Figure:
        formula = "Σ modules × Voc × (1 + β (cells − 25 °C))"
        value = summed(lambda spec: open_voltage_v(voc_v=spec.voc_v, voc_per_c=spec.voc_per_c, cell_c=cell_c))
        return Figure(
            name=f"{tag} {name}",
            value=value,
            unit="V",
            formula=formula,
            inputs=(*each, Given("Cell temperature", cell_c, "degC")),
            source="IEC 60891 linear correction",
            limit=words,
        )

    hot_open = open_at("hot Voc", hot_c, "")
    dawn = open_at("Voc as a hot day begins", site.design_high_c, "cells no warmer than the air")
    limit_v = min(
        next(controller.spec.max_pv_v for controller in stated.controllers if controller.tag == string.controller),
        *(spec.system_limit_v for spec in specs),
    )
    margin = Figure.difference(
        name=f"{tag} cold margin",
        unit="V",
        formula="limit − cold Voc",
        inputs=(Given("Lower of controller and module limit", limit_v, "V"), voc_cold),
        source=TEXTBOOK,
    )
    return StringResult(
        tag=tag,
        controller=string.controller,
        modules=tuple(one.tag for one in own),
        cold_voc_v=voc_cold,
        cold_voc_linear_v=linear,
        cold_voc_code_v=code,
        hot_vmp_v=hot,
        hot_voc_v=hot_open,
        dawn_voc_v=dawn,
        cold_margin_v=margin,
    )


def code_factor(record_low_c: float) -> float:
    """Factor of the code's table; below the table's end its last row is the least, so that colder never means less
    voltage.
    """
    return voc_factor(max(record_low_c, voc_corrections().rows[-1].from_c))


def _controller(
    one: Controller,
    strings: tuple[StringResult, ...],
    stated: Roof,
    site: Site,
    bank: BankRatings,
    charge_cell_v: float,
) -> ControllerResult:
    module, spec = stated.module, one.spec
    own = [string for string in strings if string.controller == one.tag and string.modules]
    by_tag = {module.tag: spec_of(stated, module) for module in stated.modules}
    specs = Counter(by_tag[tag] for string in own for tag in string.modules)
    rated = Figure(
        name=f"{one.tag} modules, rated",
        value=sum(kind.pmp_w * count for kind, count in specs.items()),
        unit="W",
        formula="Σ modules × rated power",
        inputs=tuple(Given(f"{count} × {kind.name}", kind.pmp_w, "W") for kind, count in specs.items()),
        source="module datasheet",
    )
    currents = [(string.tag, max(by_tag[tag].isc_a for tag in string.modules)) for string in own]
    currents += [
        (array.tag, array.module.isc_a)
        for array in stated.remote
        if array.controller == one.tag
        for _ in range(array.parallel)
    ]
    isc = Figure(
        name=f"{one.tag} input design current",
        value=sum(design_current_a(isc_a=amps, strings=1) for _, amps in currents),
        unit="A",
        formula="1.25 × Σ Isc of the strings, arrays elsewhere too",
        inputs=tuple(Given(f"Isc of {tag}", amps, "A") for tag, amps in currents),
        source="NEC (NFPA 70) 2023 690.8(A)(1) (recalled; check against your copy)",
    )
    output = Figure(
        name=f"{one.tag} output",
        value=min(spec.output_a, rated.value / bank.lowest_working_v.value),
        unit="A",
        formula="rated power ÷ lowest working voltage, at most the controller's rating",
        inputs=(rated, bank.lowest_working_v, Given("Controller's rating", spec.output_a, "A")),
        source=TEXTBOOK,
    )
    charge_v = bank.cells * charge_cell_v
    start, run = controller_needs(one, charge_v)
    cold_each = cold_voc_v(module, site.record_low_c)
    hot_each = hot_vmp_v(module, site.design_high_c + stated.rise_c)
    dawn_each = open_voltage_v(voc_v=module.voc_v, voc_per_c=module.voc_per_c, cell_c=site.design_high_c)
    most = math.floor(min(spec.max_pv_v, module.system_limit_v) / cold_each + 1e-9)
    fewest = max(
        (math.ceil(need.value / each - 1e-9) if each > 0 else 0 for need, each in ((run, hot_each), (start, dawn_each)))
    )
    return ControllerResult(
        tag=one.tag,
        strings=tuple(string.tag for string in own),
        rated_w=rated,
        design_isc_a=isc,
        output_a=output,
        start_v=start,
        run_v=run,
        fewest_in_series=fewest,
        most_in_series=most,
    )


def controller_needs(one: Controller, charge_v: float) -> tuple[Figure, Figure]:
    """Voltage that a controller wants to start, and to go on with a bank that is nearly full."""
    spec, full = one.spec, Given("Full-charge voltage", charge_v, "V")
    if spec.start_v is not None:
        start = Figure(
            name=f"{one.tag} starts at",
            value=spec.start_v,
            unit="V",
            formula="as its datasheet states",
            inputs=(Given("Start voltage", spec.start_v, "V"),),
            source="controller datasheet",
        )
    else:
        start = Figure.total(
            name=f"{one.tag} starts at",
            unit="V",
            formula="full-charge voltage + start margin",
            inputs=(full, Given("Start margin", spec.start_margin_v, "V")),
            source="controller datasheet",
            limit="a nearly full bank: the most it ever asks for",
        )
    run = Figure.total(
        name=f"{one.tag} goes on from",
        unit="V",
        formula="full-charge voltage + run margin",
        inputs=(full, Given("Run margin", spec.run_margin_v, "V")),
        source="controller datasheet",
    )
    return start, run


def cold_voc_v(module: ModuleSpec, record_low_c: float) -> float:
    """Open-circuit voltage of a module in the cold, by code table or coefficient, whichever is more [V]."""
    return worst_open_voltage_v(
        voc_v=module.voc_v, voc_per_c=module.voc_per_c, cell_c=record_low_c, code_factor=code_factor(record_low_c)
    )


def hot_vmp_v(module: ModuleSpec, cell_c: float) -> float:
    """Voltage at the peak of a module on hot cells [V]."""
    return peak_power_voltage_v(
        vmp_v=module.vmp_v, voc_v=module.voc_v, voc_per_c=module.voc_per_c, pmp_per_c=module.pmp_per_c, cell_c=cell_c
    )


def _clashes(stated: Roof, modules: dict[str, Rectangle]) -> tuple[tuple[str, str], ...]:
    """Pairs that overlap, module with module and module with obstacle, in the order they are stated."""
    boxes = [*modules.items(), *((obstacle.tag, flat_box(obstacle)) for obstacle in stated.obstacles)]
    # Swept along the roof: only what starts before a box ends can lie on it.
    order = sorted(range(len(boxes)), key=lambda at: boxes[at][1][0])
    found, count = [], len(modules)
    for place, at in enumerate(order):
        end = boxes[at][1][1]
        for other in order[place + 1 :]:
            if boxes[other][1][0] >= end:
                break
            if (at < count or other < count) and boxes_meet(boxes[at][1], boxes[other][1]):
                found.append((min(at, other), max(at, other)))
    return tuple((boxes[one][0], boxes[other][0]) for one, other in sorted(found))


def _taken(stated: Roof, modules: dict[str, Rectangle]) -> tuple[tuple[str, str], ...]:
    """Modules in room that is kept: (module, obstacle whose service room, or lane)."""
    rooms = [(obstacle.tag, box) for obstacle in stated.obstacles if (box := service_box(obstacle)) is not None]
    rooms += [(lane.tag, flat_box(lane)) for lane in stated.lanes]
    found = []
    for tag, box in modules.items():
        found += [(tag, room) for room, kept in rooms if boxes_meet(box, kept)]
    return tuple(found)
