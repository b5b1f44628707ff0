"""Rules of strings: their voltages and currents against module and controller."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.derive import derive
from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.roof.elsewhere import RemoteResult
from weighty_axle.design.roof.strings import ControllerResult, StringResult
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, EditRefusedError
from weighty_axle.job.edits.roof import take_module_out
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Controller, array_of, controller_of, spec_of
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


def _controllers(design: Design) -> Iterator[tuple[Controller, ControllerResult]]:
    return zip(design.job.roof.controllers, design.roof.controllers, strict=True)


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
        limit = controller_of(design.job.roof, string.controller).spec.max_pv_v
        if over(string.cold_voc_v.value, limit):
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


@rule(
    "roof.cold-margin-small", "check", "{string} comes within {margin} of its limit on the coldest morning.", PRACTICE
)
def cold_margin_small(design: Design) -> Iterator[Hit]:
    """Less than 3 % of the limit left in the cold."""
    for string in design.roof.strings:
        limit = string.cold_voc_v.value + string.cold_margin_v.value
        if string.modules and not over(string.cold_voc_v.value, limit) and string.cold_margin_v.value < 0.03 * limit:
            yield hit(string.tag, string=string.tag, margin=string.cold_margin_v)


@rule(
    "roof.cold-over-module",
    "stop",
    "{string} reaches {voc}; the modules' insulation is good for {limit}.",
    "module datasheet",
)
def cold_over_module(design: Design) -> Iterator[Hit]:
    """Cold voltage above the modules' system voltage."""
    roof = design.job.roof
    limits = {module.tag: spec_of(roof, module).system_limit_v for module in roof.modules}
    for string in design.roof.strings:
        limit = min((limits[tag] for tag in string.modules), default=roof.module.system_limit_v)
        if over(string.cold_voc_v.value, limit):
            yield hit(
                string.tag,
                string=string.tag,
                voc=string.cold_voc_v,
                limit=volts(limit),
                remedy=take_module_out(string.tag),
            )


@rule(
    "roof.below-table",
    "check",
    (
        "The record low of {low} is below the code's correction table: its last factor or the linear coefficient is "
        "used, whichever gives more."
    ),
    "NEC (NFPA 70) 2023 table 690.7(A), recalled",
)
def below_table(design: Design) -> Iterator[Hit]:
    """Colder than the code's table."""
    if design.job.site.record_low_c < -40 and design.roof.strings:
        yield hit(low=Given("", design.job.site.record_low_c, "degC"))


@rule(
    "roof.start-never",
    "stop",
    "{string} opens at {voc} as a hot day begins; {controller} starts at {start}.",
    "controller datasheet",
)
def start_never(design: Design) -> Iterator[Hit]:
    """Open-circuit voltage under what the controller wants to start on a nearly full bank."""
    needs = {controller.tag: controller.start_v for controller in design.roof.controllers}
    for name, tags, one in _strung(design):
        start = needs[one.controller]
        if over(start.value, one.dawn_voc_v.value):
            yield hit(*tags, string=name, voc=one.dawn_voc_v, controller=one.controller, start=start)


@rule(
    "roof.hot-under-run",
    "stop",
    "{string} opens at {voc} on hot cells; {controller} goes on from {run}: in heat nothing reaches a full bank.",
    "controller datasheet",
)
def hot_under_run(design: Design) -> Iterator[Hit]:
    """Even open, the hot voltage is under what a nearly full bank asks for."""
    needs = {controller.tag: controller.run_v for controller in design.roof.controllers}
    for name, tags, one in _strung(design):
        if over(needs[one.controller].value, one.hot_voc_v.value):
            yield hit(*tags, string=name, voc=one.hot_voc_v, controller=one.controller, run=needs[one.controller])


@rule(
    "roof.hot-under-peak",
    "check",
    (
        "{string} has its peak at {vmp} on hot cells; {controller} goes on from {run}: a nearly full bank gets less "
        "than the peak then."
    ),
    "controller datasheet",
)
def hot_under_peak(design: Design) -> Iterator[Hit]:
    """Hot Vmp below what a nearly full bank asks for: it still charges, beside its peak."""
    needs = {controller.tag: controller.run_v for controller in design.roof.controllers}
    for name, tags, one in _strung(design):
        run = needs[one.controller]
        if over(run.value, one.hot_vmp_v.value) and not over(run.value, one.hot_voc_v.value):
            yield hit(*tags, string=name, vmp=one.hot_vmp_v, controller=one.controller, run=run)


def _strung(design: Design) -> Iterator[tuple[str, tuple[str, ...], StringResult | RemoteResult]]:
    """Strings on the roof and arrays elsewhere: name, tags and voltages."""
    for string in design.roof.strings:
        if string.modules:
            yield string.tag, (string.tag, string.controller), string
    for far in design.remote:
        yield array_of(design.job.roof, far.tag).name, (far.tag, far.controller), far


@rule(
    "roof.isc-over-controller",
    "stop",
    "{controller} may see {isc} from its strings; its input stands {limit}.",
    "NEC (NFPA 70) 2023 690.8(A)(1), recalled; controller datasheet",
)
def isc_over_controller(design: Design) -> Iterator[Hit]:
    """Short-circuit current above the controller's input."""
    for controller, result in _controllers(design):
        if over(result.design_isc_a.value, controller.spec.max_isc_a):
            yield hit(
                controller.tag,
                controller=controller.tag,
                isc=result.design_isc_a,
                limit=amps(controller.spec.max_isc_a),
            )


@rule(
    "roof.unequal-strings",
    "stop",
    "{controller} has strings of {counts} modules in parallel; strings on one input must be alike.",
    PRACTICE,
)
def unequal_strings(design: Design) -> Iterator[Hit]:
    """Strings of different length on one input."""
    for result in design.roof.controllers:
        counts = sorted({len(string.modules) for string in design.roof.strings if string.tag in result.strings})
        if len(counts) > 1:
            yield hit(result.tag, *result.strings, controller=result.tag, counts=" and ".join(map(str, counts)))


@rule("roof.mixed-string", "check", "{string} mixes {types}: the weakest current rules all of them.", PRACTICE)
def mixed_string(design: Design) -> Iterator[Hit]:
    """Types of different current in one string."""
    roof = design.job.roof
    by_tag = {module.tag: spec_of(roof, module) for module in roof.modules}
    for string in design.roof.strings:
        specs = {by_tag[tag] for tag in string.modules}
        if len(specs) > 1 and max(spec.imp_a for spec in specs) > 1.05 * min(spec.imp_a for spec in specs):
            yield hit(string.tag, string=string.tag, types=" and ".join(sorted(spec.name for spec in specs)))


@rule(
    "roof.over-60-v",
    "note",
    "{string} works above 60 V: no automotive breakers or open studs; a two-pole DC isolator rated for {voc}.",
    PRACTICE,
)
def over_60_v(design: Design) -> Iterator[Hit]:
    """A string or an array elsewhere above 60 V (said once, for the highest)."""
    found = [(string.tag, string.cold_voc_v) for string in design.roof.strings] + [
        (array.tag, array.cold_voc_v) for array in design.remote
    ]
    tag, voc = max(found, key=lambda one: one[1].value, default=("", None))
    if voc is not None and voc.value > 60:
        yield hit(tag, string=tag, voc=voc)


@rule(
    "roof.clipping",
    "note",
    (
        "{controller} gives {output} at most while its modules may bring {brings} on the clearest days: Yield tells "
        "how much is cut."
    ),
    PRACTICE,
)
def clipping(design: Design) -> Iterator[Hit]:
    """More than the controller passes once losses are counted, arrays elsewhere plugged in."""
    losses = design.job.roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller
    for controller, result in _controllers(design):
        rated_w = result.rated_w.value + sum(
            array.rated_w.value for array in design.remote if array.controller == controller.tag
        )
        brings = Given("", rated_w * through, "W")
        if over(brings.value, controller.spec.output_a * design.bank.nominal_v.value):
            yield hit(controller.tag, controller=controller.tag, output=amps(controller.spec.output_a), brings=brings)


@rule(
    "roof.unassigned",
    "check",
    "{count} modules are on no string: {modules}.",
    PRACTICE,
    "Strings ranks every way on these controllers and on others.",
)
def unassigned(design: Design) -> Iterator[Hit]:
    """Modules that are carried but not wired; the remedy strings the roof the way that gives most in the year."""
    tags = design.roof.unassigned
    if tags:
        remedy = Edit("String the roof the way that gives most", _best_strings) if design.job.roof.controllers else None
        yield hit(*tags, count=str(len(tags)), modules=", ".join(tags), remedy=remedy)


def _best_strings(job: Job) -> Job:
    """The first of the ranked ways to string; worked out when it is asked for (it needs numpy)."""
    from weighty_axle.answers.roof.string_plans import string_plans
    from weighty_axle.answers.roof.sunny import home

    design = derive(job)
    plans = string_plans(design, home(design))
    if not plans:
        raise EditRefusedError(
            "No strings of these modules fit the windows of the controllers there are; Strings ranks other controllers."
        )
    return plans[0].edit.apply(job)


@rule("roof.empty-string", "check", "{string} has no modules.", PRACTICE)
def empty_string(design: Design) -> Iterator[Hit]:
    """A string without modules."""
    for string in design.roof.strings:
        if not string.modules:
            yield hit(string.tag, string=string.tag)
