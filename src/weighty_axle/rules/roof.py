"""Rules of step Roof."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.derive import Design
from weighty_axle.design.figures import PRACTICE, Given
from weighty_axle.design.roof import ControllerResult
from weighty_axle.design.roof_geometry import allowed_half_m
from weighty_axle.job.roof import Controller, spec_of
from weighty_axle.job.roof_edits import move_on_roof, take_module_out
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


def _controllers(design: Design) -> Iterator[tuple[Controller, ControllerResult]]:
    return zip(design.job.roof.controllers, design.roof.controllers, strict=True)


def _spec(design: Design, tag: str) -> Controller:
    return next(one for one in design.job.roof.controllers if one.tag == tag)


@rule(
    "roof.cold-over-controller",
    "stop",
    "{string} reaches {voc} at {low}; {controller} stands {limit}.",
    "NEC (NFPA 70) 2023 690.7(A), recalled; controller datasheet",
)
def cold_over_controller(design: Design) -> Iterator[Hit]:
    """Cold open-circuit voltage above the controller's limit."""
    low = Given("", design.job.site.record_low_c, "degC")
    for string in design.roof.strings:
        limit = _spec(design, string.controller).spec.max_pv_v
        if string.cold_voc_v.value > limit:
            yield hit(
                string.tag,
                string.controller,
                string=string.tag,
                voc=string.cold_voc_v,
                low=low,
                controller=string.controller,
                limit=volts(limit),
                remedy=take_module_out(string.tag),
            )


@rule("roof.cold-margin-small", "check", "{string} comes within {margin} of its limit on the coldest morning.", PRACTICE)
def cold_margin_small(design: Design) -> Iterator[Hit]:
    """Less than 3 % of the limit left in the cold."""
    for string in design.roof.strings:
        limit = string.cold_voc_v.value + string.cold_margin_v.value
        if string.modules and 0 <= string.cold_margin_v.value < 0.03 * limit:
            yield hit(string.tag, string=string.tag, margin=string.cold_margin_v)


@rule("roof.cold-over-module", "stop", "{string} reaches {voc}; the modules' insulation is good for {limit}.", "module datasheet")
def cold_over_module(design: Design) -> Iterator[Hit]:
    """Cold voltage above the modules' system voltage."""
    roof = design.job.roof
    limits = {one.tag: spec_of(roof, one).system_limit_v for one in roof.modules}
    for string in design.roof.strings:
        limit = min((limits[tag] for tag in string.modules), default=roof.module.system_limit_v)
        if string.cold_voc_v.value > limit:
            yield hit(string.tag, string=string.tag, voc=string.cold_voc_v, limit=volts(limit), remedy=take_module_out(string.tag))


@rule(
    "roof.below-table",
    "check",
    "The record low of {low} is below the code's correction table: the linear coefficient alone is used.",
    "NEC (NFPA 70) 2023 table 690.7(A), recalled",
)
def below_table(design: Design) -> Iterator[Hit]:
    """Colder than the code's table."""
    if design.job.site.record_low_c < -40 and design.roof.strings:
        yield hit(low=Given("", design.job.site.record_low_c, "degC"))


@rule(
    "roof.hot-under-start", "stop", "{string} sinks to {vmp} on hot cells; {controller} needs {start} to charge a full bank.", "controller datasheet"
)
def hot_under_start(design: Design) -> Iterator[Hit]:
    """Hot Vmp below the voltage the controller needs."""
    start = {one.tag: one.start_v for one in design.roof.controllers}
    for string in design.roof.strings:
        need = start[string.controller]
        if string.modules and string.hot_vmp_v.value < need.value:
            yield hit(string.tag, string.controller, string=string.tag, vmp=string.hot_vmp_v, controller=string.controller, start=need)


@rule(
    "roof.isc-over-controller",
    "stop",
    "{controller} may see {isc} from its strings; its input stands {limit}.",
    "NEC (NFPA 70) 2023 690.8(A)(1), recalled; controller datasheet",
)
def isc_over_controller(design: Design) -> Iterator[Hit]:
    """Short-circuit current above the controller's input."""
    for controller, result in _controllers(design):
        if result.design_isc_a.value > controller.spec.max_isc_a:
            yield hit(controller.tag, controller=controller.tag, isc=result.design_isc_a, limit=amps(controller.spec.max_isc_a))


@rule("roof.unequal-strings", "stop", "{controller} has strings of {counts} modules in parallel; strings on one input must be alike.", PRACTICE)
def unequal_strings(design: Design) -> Iterator[Hit]:
    """Strings of different length on one input."""
    for result in design.roof.controllers:
        counts = sorted({len(one.modules) for one in design.roof.strings if one.tag in result.strings})
        if len(counts) > 1:
            yield hit(result.tag, *result.strings, controller=result.tag, counts=" and ".join(map(str, counts)))


@rule(
    "roof.string-fuses",
    "check",
    "{controller} has {count} strings in parallel: from three on each needs its own fuse.",
    "NEC (NFPA 70) 2023 690.9(A), recalled",
)
def string_fuses(design: Design) -> Iterator[Hit]:
    """Three or more strings in parallel."""
    for result in design.roof.controllers:
        if len(result.strings) >= 3:
            yield hit(result.tag, *result.strings, controller=result.tag, count=str(len(result.strings)))


@rule("roof.over-60-v", "note", "{string} works above 60 V: no automotive breakers or open studs; a two-pole DC isolator rated for {voc}.", PRACTICE)
def over_60_v(design: Design) -> Iterator[Hit]:
    """A string above 60 V (said once, for the highest)."""
    highest = max(design.roof.strings, key=lambda one: one.cold_voc_v.value, default=None)
    if highest is not None and highest.cold_voc_v.value > 60:
        yield hit(highest.tag, string=highest.tag, voc=highest.cold_voc_v)


@rule("roof.clipping", "note", "{controller} gives {output} at most while its modules are rated {rated}: the top of clear days is cut.", PRACTICE)
def clipping(design: Design) -> Iterator[Hit]:
    """More modules than the controller passes."""
    for controller, result in _controllers(design):
        if result.rated_w.value > controller.spec.output_a * design.bank.nominal_v.value:
            yield hit(controller.tag, controller=controller.tag, output=amps(controller.spec.output_a), rated=result.rated_w)


@rule("roof.clash", "stop", "{module} lies on {other}.", "geometry")
def clash(design: Design) -> Iterator[Hit]:
    """Modules on each other or on an obstacle."""
    for module, other in design.roof.clashes:
        yield hit(module, other, module=module, other=other)


@rule("roof.over-margin", "check", "{module} reaches over the roof's edge margin.", "geometry")
def over_margin(design: Design) -> Iterator[Hit]:
    """Modules over the margin; the remedy brings one back across the vehicle when it fits there."""
    roof = design.job.roof
    for module in roof.modules:
        if module.tag in design.roof.strays:
            spec = spec_of(roof, module)
            along, across = (spec.width_m, spec.length_m) if module.turned else (spec.length_m, spec.width_m)
            room = min(allowed_half_m(roof, x) for x in (module.x_m - along / 2, module.x_m + along / 2)) - across / 2
            inside = abs(module.y_m) > room >= 0
            remedy = move_on_roof(module.tag, module.x_m, max(-room, min(room, module.y_m))) if inside else None
            yield hit(module.tag, module=module.tag, remedy=remedy)


@rule("roof.unassigned", "check", "{count} modules are on no string: {modules}.", PRACTICE)
def unassigned(design: Design) -> Iterator[Hit]:
    """Modules that are carried but not wired."""
    tags = design.roof.unassigned
    if tags:
        yield hit(*tags, count=str(len(tags)), modules=", ".join(tags))


@rule("roof.empty-string", "check", "{string} has no modules.", PRACTICE)
def empty_string(design: Design) -> Iterator[Hit]:
    """A string without modules."""
    for string in design.roof.strings:
        if not string.modules:
            yield hit(string.tag, string=string.tag)
