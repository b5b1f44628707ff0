"""Step Roof: strings against their controller's window, and what stands in whose way."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank import BankRatings
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.model import Controller, Module, Obstacle, Roof
from weighty_axle.job.parts import ModuleSpec
from weighty_axle.job.survey import Site
from weighty_axle.physics.photovoltaics import design_current_a, open_voltage_v, peak_power_voltage_v
from weighty_axle.reference.tables import voc_factor

NOON_SHARE = (0.55, 0.70)
"""Share of rated watts a flat roof gives near noon on a good clear day. Source: common practice, no source."""


class StringResult(Struct, frozen=True):
    """One string: modules in series and its voltages."""

    tag: str
    controller: str
    modules: tuple[str, ...]
    cold_voc_v: Figure
    cold_voc_linear_v: Figure
    cold_voc_code_v: Figure
    hot_vmp_v: Figure
    cold_margin_v: Figure


class ControllerResult(Struct, frozen=True):
    """One controller with the strings on it; series counts are what its window allows."""

    tag: str
    strings: tuple[str, ...]
    rated_w: Figure
    design_isc_a: Figure
    output_a: Figure
    start_v: Figure
    fewest_in_series: int
    most_in_series: int


class RoofResult(Struct, frozen=True):
    """The roof as a whole. Clashes are pairs of tags; strays are modules over the margin."""

    strings: tuple[StringResult, ...]
    controllers: tuple[ControllerResult, ...]
    rated_w: Figure
    noon_low_w: Figure
    noon_high_w: Figure
    mass_kg: Figure
    clashes: tuple[tuple[str, str], ...]
    strays: tuple[str, ...]
    unassigned: tuple[str, ...]


def roof(stated: Roof, site: Site, bank: BankRatings, charge_cell_v: float) -> RoofResult:
    """Strings, controllers and clashes.

    Source: physics.photovoltaics; NEC 690.7(A) table, recalled.
    """
    strings = tuple(_string(string.tag, string.controller, stated, site) for string in stated.strings)
    controllers = tuple(_controller(one, strings, stated, site, bank, charge_cell_v) for one in stated.controllers)
    wired = sum(one.string != "" for one in stated.modules)
    rated = Figure(
        "Modules, rated",
        wired * stated.module.pmp_w,
        "W",
        "modules on strings × rated power",
        (Given("Modules on strings", wired, "count"), Given("Rated power of one", stated.module.pmp_w, "W")),
        "module datasheet",
    )
    low, high = (
        Figure(
            f"Roof near noon, {word}",
            rated.value * share,
            "W",
            "rated power × share near noon on a good clear day",
            (rated, Given("Share", share, "1")),
            PRACTICE,
        )
        for word, share in zip(("low", "high"), NOON_SHARE, strict=True)
    )
    mass = Figure(
        "Modules, mass",
        len(stated.modules) * stated.module.mass_kg,
        "kg",
        "modules × mass of one",
        (Given("Modules", len(stated.modules), "count"), Given("Mass of one", stated.module.mass_kg, "kg")),
        TEXTBOOK,
    )
    return RoofResult(
        strings, controllers, rated, low, high, mass, _clashes(stated), _strays(stated),
        tuple(one.tag for one in stated.modules if not one.string),
    )  # fmt: skip


def _string(tag: str, controller_tag: str, stated: Roof, site: Site) -> StringResult:
    module = stated.module
    modules = tuple(one.tag for one in sorted(stated.modules, key=lambda one: one.x_m) if one.string == tag)
    count = Given("Modules in series", len(modules), "count")
    cold, voc = Given("Record low", site.record_low_c, "degC"), Given("Voc of one", module.voc_v, "V")
    linear = Figure(
        f"{tag} cold Voc, linear", len(modules) * open_voltage_v(voc_v=module.voc_v, voc_per_c=module.voc_per_c, cell_c=site.record_low_c), "V",
        "modules × Voc × (1 + β (record low − 25 °C))", (count, voc, Given("β", module.voc_per_c, "per °C"), cold), "IEC 60891 linear correction",
    )  # fmt: skip
    factor = _code_factor(site.record_low_c)
    code = Figure(
        f"{tag} cold Voc, code table",
        len(modules) * module.voc_v * factor,
        "V",
        "modules × Voc × table factor",
        (count, voc, Given("Factor at the record low", factor, "ratio"), cold),
        "NEC (NFPA 70) 2023 table 690.7(A) (recalled; check against your copy)",
    )
    worse = max(linear, code, key=lambda one: one.value)
    voc_cold = Figure(
        f"{tag} cold Voc",
        worse.value,
        "V",
        "the larger of the linear coefficient and the code's table",
        (linear, code),
        worse.source,
        "the code's table binds" if worse is code else "the linear coefficient binds",
    )
    hot_c = site.design_high_c + stated.rise_c
    hot = Figure(
        f"{tag} hot Vmp",
        len(modules) * peak_power_voltage_v(vmp_v=module.vmp_v, voc_v=module.voc_v, voc_per_c=module.voc_per_c, pmp_per_c=module.pmp_per_c, cell_c=hot_c), "V",
        "modules × the lower of Vmp + Voc β ΔT and Vmp (1 + γ ΔT)",
        (count, Given("Vmp of one", module.vmp_v, "V"), Given("Cell temperature", hot_c, "degC"), Given("β", module.voc_per_c, "per °C"), Given("γ", module.pmp_per_c, "per °C")),
        TEXTBOOK + "; rise over air for a flush roof is an assumption of the job",
    )  # fmt: skip
    limit_v = min(next(one.spec.max_pv_v for one in stated.controllers if one.tag == controller_tag), module.system_limit_v)
    margin = Figure(
        f"{tag} cold margin",
        limit_v - voc_cold.value,
        "V",
        "limit − cold Voc",
        (Given("Lower of controller and module limit", limit_v, "V"), voc_cold),
        TEXTBOOK,
    )
    return StringResult(tag, controller_tag, modules, voc_cold, linear, code, hot, margin)


def _code_factor(record_low_c: float) -> float:
    """Factor of the code's table; below the table's end the linear coefficient alone decides."""
    try:
        return voc_factor(record_low_c)
    except ValueError:
        return 0.0


def _controller(
    one: Controller, strings: tuple[StringResult, ...], stated: Roof, site: Site, bank: BankRatings, charge_cell_v: float
) -> ControllerResult:
    module, spec = stated.module, one.spec
    own = [string for string in strings if string.controller == one.tag and string.modules]
    count = sum(len(string.modules) for string in own)
    rated = Figure(
        f"{one.tag} modules, rated",
        count * module.pmp_w,
        "W",
        "modules × rated power",
        (Given("Modules", count, "count"), Given("Rated power of one", module.pmp_w, "W")),
        "module datasheet",
    )
    isc = Figure(
        f"{one.tag} input design current",
        design_current_a(isc_a=module.isc_a, strings=len(own)),
        "A",
        "1.25 × Isc × strings",
        (Given("Isc", module.isc_a, "A"), Given("Strings", len(own), "count")),
        "NEC (NFPA 70) 2023 690.8(A)(1) (recalled; check against your copy)",
    )
    output = Figure(
        f"{one.tag} output",
        min(spec.output_a, rated.value / bank.lowest_working_v.value),
        "A",
        "rated power ÷ lowest working voltage, at most the controller's rating",
        (rated, bank.lowest_working_v, Given("Controller's rating", spec.output_a, "A")),
        TEXTBOOK,
    )
    charge_v = bank.cells * charge_cell_v
    start = Figure(
        f"{one.tag} voltage needed",
        charge_v + spec.start_margin_v,
        "V",
        "full-charge voltage + start margin",
        (Given("Full-charge voltage", charge_v, "V"), Given("Start margin", spec.start_margin_v, "V")),
        "controller datasheet",
    )
    cold_each = module.voc_v * max(_code_factor(site.record_low_c), 1 + module.voc_per_c * (site.record_low_c - 25))
    hot_each = _hot_each(module, site.design_high_c + stated.rise_c)
    most = math.floor(min(spec.max_pv_v, module.system_limit_v) / cold_each + 1e-9)
    fewest = math.ceil(start.value / hot_each - 1e-9) if hot_each > 0 else 0
    return ControllerResult(one.tag, tuple(string.tag for string in own), rated, isc, output, start, fewest, most)


def _hot_each(module: ModuleSpec, cell_c: float) -> float:
    return peak_power_voltage_v(vmp_v=module.vmp_v, voc_v=module.voc_v, voc_per_c=module.voc_per_c, pmp_per_c=module.pmp_per_c, cell_c=cell_c)


Box = tuple[float, float, float, float]
"""Rectangle on the roof: rear-most and front-most along, left and right across [m]: x0, x1, y0, y1."""


def module_box(module: Module, spec: ModuleSpec) -> Box:
    """Footprint of a module on the roof [m]."""
    along, across = (spec.width_m, spec.length_m) if module.turned else (spec.length_m, spec.width_m)
    return module.x_m - along / 2, module.x_m + along / 2, module.y_m - across / 2, module.y_m + across / 2


def obstacle_box(obstacle: Obstacle) -> Box:
    """Footprint of an obstacle on the roof [m]."""
    return (
        obstacle.x_m - obstacle.length_m / 2, obstacle.x_m + obstacle.length_m / 2,
        obstacle.y_m - obstacle.width_m / 2, obstacle.y_m + obstacle.width_m / 2,
    )  # fmt: skip


def boxes_meet(one: Box, other: Box) -> bool:
    """Whether two rectangles overlap by more than a millimetre."""
    slack = 0.001
    return one[0] < other[1] - slack and other[0] < one[1] - slack and one[2] < other[3] - slack and other[2] < one[3] - slack


def _clashes(stated: Roof) -> tuple[tuple[str, str], ...]:
    boxes = [(one.tag, module_box(one, stated.module)) for one in stated.modules]
    others = [(one.tag, obstacle_box(one)) for one in stated.obstacles]
    return tuple(
        (tag, other_tag) for index, (tag, box) in enumerate(boxes) for other_tag, other in boxes[index + 1 :] + others if boxes_meet(box, other)
    )


def _strays(stated: Roof) -> tuple[str, ...]:
    half = stated.width_m / 2 - stated.margin_m + 0.001
    front, rear = stated.start_m + stated.margin_m - 0.001, stated.end_m - stated.margin_m + 0.001
    found = []
    for one in stated.modules:
        x0, x1, y0, y1 = module_box(one, stated.module)
        if x0 < front or x1 > rear or y0 < -half or y1 > half:
            found.append(one.tag)
    return tuple(found)
