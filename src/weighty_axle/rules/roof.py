"""Rules of step Roof."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.derive import Design, derive
from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.pv_protection import sun_cable_a
from weighty_axle.design.remote import RemoteResult
from weighty_axle.design.roof import ControllerResult, StringResult
from weighty_axle.design.roof_geometry import MODULE_TOP_M, allowed_half_m
from weighty_axle.job.edits.edit import Edit, EditRefusedError, set_value
from weighty_axle.job.edits.roof import move_on_roof, take_module_out
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Controller, array_of, controller_of, spec_of
from weighty_axle.rules.registry import Hit, amps, hit, rule, share, volts

ROOF_DROP_SHARE = 0.02
"""Share of the voltage that cables on the roof may lose. Source: common practice, no source."""


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


@rule("roof.cold-margin-small", "check", "{string} comes within {margin} of its limit on the coldest morning.", PRACTICE)
def cold_margin_small(design: Design) -> Iterator[Hit]:
    """Less than 3 % of the limit left in the cold."""
    for string in design.roof.strings:
        limit = string.cold_voc_v.value + string.cold_margin_v.value
        if string.modules and not over(string.cold_voc_v.value, limit) and string.cold_margin_v.value < 0.03 * limit:
            yield hit(string.tag, string=string.tag, margin=string.cold_margin_v)


@rule("roof.cold-over-module", "stop", "{string} reaches {voc}; the modules' insulation is good for {limit}.", "module datasheet")
def cold_over_module(design: Design) -> Iterator[Hit]:
    """Cold voltage above the modules' system voltage."""
    roof = design.job.roof
    limits = {one.tag: spec_of(roof, one).system_limit_v for one in roof.modules}
    for string in design.roof.strings:
        limit = min((limits[tag] for tag in string.modules), default=roof.module.system_limit_v)
        if over(string.cold_voc_v.value, limit):
            yield hit(string.tag, string=string.tag, voc=string.cold_voc_v, limit=volts(limit), remedy=take_module_out(string.tag))


@rule(
    "roof.below-table",
    "check",
    "The record low of {low} is below the code's correction table: its last factor or the linear coefficient is used, whichever gives more.",
    "NEC (NFPA 70) 2023 table 690.7(A), recalled",
)
def below_table(design: Design) -> Iterator[Hit]:
    """Colder than the code's table."""
    if design.job.site.record_low_c < -40 and design.roof.strings:
        yield hit(low=Given("", design.job.site.record_low_c, "degC"))


@rule("roof.start-never", "stop", "{string} opens at {voc} as a hot day begins; {controller} starts at {start}.", "controller datasheet")
def start_never(design: Design) -> Iterator[Hit]:
    """Open-circuit voltage under what the controller wants to start on a nearly full bank."""
    needs = {one.tag: one.start_v for one in design.roof.controllers}
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
    needs = {one.tag: one.run_v for one in design.roof.controllers}
    for name, tags, one in _strung(design):
        if over(needs[one.controller].value, one.hot_voc_v.value):
            yield hit(*tags, string=name, voc=one.hot_voc_v, controller=one.controller, run=needs[one.controller])


@rule(
    "roof.hot-under-peak", "check", "{string} has its peak at {vmp} on hot cells; {controller} goes on from {run}: a nearly full bank gets less than the peak then.",
    "controller datasheet",
)  # fmt: skip
def hot_under_peak(design: Design) -> Iterator[Hit]:
    """Hot Vmp below what a nearly full bank asks for: it still charges, beside its peak."""
    needs = {one.tag: one.run_v for one in design.roof.controllers}
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
    "{string} may get {back} back from its neighbours on {controller}; its modules stand {limit}: a fuse of {fuse} in each string.",
    "NEC (NFPA 70) 2023 690.9(A), recalled",
)
def string_fuses(design: Design) -> Iterator[Hit]:
    """Strings side by side that can drive more back into one than its modules stand."""
    for one in design.protection:
        if one.fuse_a is not None:
            yield hit(
                one.controller,
                *one.beside,
                string=one.weakest,
                back=one.back_a,
                controller=one.controller,
                limit=amps(one.reverse_a.value),
                fuse=one.fuse_a,
            )


@rule(
    "roof.string-fuse-too-large",
    "stop",
    "{controller}: strings need fuses of {fuse}, above the {limit} their modules stand; put fewer strings side by side.",
    "NEC (NFPA 70) 2023 690.9(B), recalled",
)
def string_fuse_too_large(design: Design) -> Iterator[Hit]:
    """No fuse protects the modules and carries their current."""
    for one in design.protection:
        if one.fuse_a is not None and not one.fuse_fits:
            yield hit(one.controller, *one.beside, controller=one.controller, fuse=one.fuse_a, limit=amps(one.series_fuse_a.value))


@rule("roof.mixed-string", "check", "{string} mixes {types}: the weakest current rules all of them.", PRACTICE)
def mixed_string(design: Design) -> Iterator[Hit]:
    """Types of different current in one string."""
    roof = design.job.roof
    by_tag = {one.tag: spec_of(roof, one) for one in roof.modules}
    for string in design.roof.strings:
        specs = {by_tag[tag] for tag in string.modules}
        if len(specs) > 1 and max(one.imp_a for one in specs) > 1.05 * min(one.imp_a for one in specs):
            yield hit(string.tag, string=string.tag, types=" and ".join(sorted(one.name for one in specs)))


@rule("roof.drop", "check", "The cable of {controller} on the roof loses {drop}; {limit} is usual at most.", PRACTICE)
def roof_drop(design: Design) -> Iterator[Hit]:
    """Cable on the roof that loses too much."""
    for one in design.protection:
        if one.cable is not None and over(one.cable.drop_share.value, ROOF_DROP_SHARE):
            yield hit(one.controller, controller=one.controller, drop=one.cable.drop_share, limit=share(ROOF_DROP_SHARE))


@rule("roof.cable-small", "stop", "{size} in the sun may carry {limit}; {what} asks for {asked}.", "NEC (NFPA 70) 2023 690.8(B), recalled")
def cable_small(design: Design) -> Iterator[Hit]:
    """Cable in the sun too thin for 1.56 times the short-circuit current."""
    roof = design.job.roof
    for one in design.protection:
        if one.cable is None or one.cable.carries_a is None:
            continue
        own = {string.tag for string in design.roof.strings if string.controller == one.controller}
        isc = max(spec_of(roof, module).isc_a for module in roof.modules if module.string in own)
        if over(1.56 * isc, one.cable.carries_a.value):
            yield hit(one.controller, size=roof.cable, limit=one.cable.carries_a, what=f"a string of {one.controller}", asked=amps(1.56 * isc))
    for array in roof.remote:
        limit, asked = sun_cable_a(array.size, design.job.wiring.ampacity_table), 1.56 * array.module.isc_a * array.parallel
        if limit is not None and over(asked, limit.value):
            yield hit(array.tag, size=array.size, limit=limit, what=array.name, asked=amps(asked))


@rule("roof.cable-unknown", "stop", "{what} is of {size}: no table says what it loses and may carry in the sun, so neither is judged.", PRACTICE)
def cable_unknown(design: Design) -> Iterator[Hit]:
    """A cable in the sun of a size the tables do not list."""
    roof = design.job.roof
    key = design.job.wiring.ampacity_table
    if roof.strings and not _known(roof.cable, key):
        yield hit(what="The cable on the roof", size=roof.cable)
    for one in roof.remote:
        if not _known(one.size, key):
            yield hit(one.tag, what=f"The cable to {one.name}", size=one.size)


def _known(size: str, key: str) -> bool:
    return ohm_per_m(size) > 0 and sun_cable_a(size, key) is not None


@rule("roof.over-60-v", "note", "{string} works above 60 V: no automotive breakers or open studs; a two-pole DC isolator rated for {voc}.", PRACTICE)
def over_60_v(design: Design) -> Iterator[Hit]:
    """A string or an array elsewhere above 60 V (said once, for the highest)."""
    found = [(one.tag, one.cold_voc_v) for one in design.roof.strings] + [(one.tag, one.cold_voc_v) for one in design.remote]
    tag, voc = max(found, key=lambda one: one[1].value, default=("", None))
    if voc is not None and voc.value > 60:
        yield hit(tag, string=tag, voc=voc)


@rule(
    "roof.clipping",
    "note",
    "{controller} gives {output} at most while its modules may bring {brings} on the clearest days: Yield tells how much is cut.",
    PRACTICE,
)
def clipping(design: Design) -> Iterator[Hit]:
    """More than the controller passes once losses are counted, arrays elsewhere plugged in."""
    losses = design.job.roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller
    for controller, result in _controllers(design):
        rated_w = result.rated_w.value + sum(one.rated_w.value for one in design.remote if one.controller == controller.tag)
        brings = Given("", rated_w * through, "W")
        if over(brings.value, controller.spec.output_a * design.bank.nominal_v.value):
            yield hit(controller.tag, controller=controller.tag, output=amps(controller.spec.output_a), brings=brings)


@rule(
    "roof.shade-uncounted",
    "note",
    "Shadows of {things} are not counted in the yield yet.",
    PRACTICE,
    "Compare wirings on Shade, and count what it finds.",
)
def shade_uncounted(design: Design) -> Iterator[Hit]:
    """Things that stand over the modules while nothing is taken off the yield."""
    roof = design.job.roof
    tall = [one.tag for one in roof.obstacles if one.height_m > MODULE_TOP_M]
    if tall and design.roof.strings and roof.losses.shade == 1.0:
        yield hit(*tall, things=", ".join(tall))


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
    from weighty_axle.design.string_plans import string_plans
    from weighty_axle.design.sun_yield import home

    design = derive(job)
    plans = string_plans(design, home(design))
    if not plans:
        raise EditRefusedError("No strings of these modules fit the windows of the controllers there are; Strings ranks other controllers.")
    return plans[0].edit.apply(job)


@rule("roof.empty-string", "check", "{string} has no modules.", PRACTICE)
def empty_string(design: Design) -> Iterator[Hit]:
    """A string without modules."""
    for string in design.roof.strings:
        if not string.modules:
            yield hit(string.tag, string=string.tag)


@rule(
    "roof.over-width",
    "stop",
    "{module} stands out over the vehicle's width by {over}: it would count as part of the vehicle.",
    "vehicle construction rules limit the width; ask locally",
)
def over_width(design: Design) -> Iterator[Hit]:
    """Modules wider than the vehicle."""
    half = design.job.vehicle.width_m / 2
    for tag, box in design.roof.boxes.items():
        over = max(abs(box[2]), abs(box[3])) - half
        if over > 0.001:
            yield hit(tag, module=tag, over=Given("", over, "m"))


@rule(
    "roof.room-taken",
    "check",
    "{module} lies in the room kept for {what}.",
    PRACTICE,
    "Move it, or agree with the customer to give the room up and say why.",
)
def room_taken(design: Design) -> Iterator[Hit]:
    """Modules in a lane or in the room to service something."""
    roof = design.job.roof
    names = {one.tag: f"work on {one.name}" for one in roof.obstacles} | {lane.tag: lane.name for lane in roof.lanes}
    for module, room in design.roof.taken:
        yield hit(module, room, module=module, what=names[room])


@rule("roof.module-too-large", "stop", "{module} does not fit on this roof either way round.", "geometry")
def module_too_large(design: Design) -> Iterator[Hit]:
    """A type larger than the roof."""
    roof = design.job.roof
    long, wide = roof.end_m - roof.start_m - 2 * roof.margin_m, 2 * max(allowed_half_m(roof, roof.start_m), allowed_half_m(roof, roof.end_m))
    for spec in {spec_of(roof, one) for one in roof.modules} | {roof.module}:
        fits = any(a <= long + 1e-9 and b <= wide + 1e-9 for a, b in ((spec.length_m, spec.width_m), (spec.width_m, spec.length_m)))
        if not fits:
            yield hit(*(one.tag for one in roof.modules if spec_of(roof, one) == spec), module=spec.name)


@rule("roof.fixing-pull", "stop", "At road speed one fixing is pulled with {pull}; it may take {limit}: {needed} fixings each.", PRACTICE)
def fixing_pull(design: Design) -> Iterator[Hit]:
    """Wind lift above what the fixings hold."""
    stated, held = design.job.roof.fixing, design.fixings
    if over(held.pull_n.value, stated.allowed_n):
        remedy = (
            set_value("roof.fixing.each", int(held.needed_count.value), f"{held.needed_count.value:.0f} fixings each")
            if held.needed_count.value <= 40
            else None
        )
        yield hit(pull=held.pull_n, limit=Given("", stated.allowed_n, "N"), needed=f"{held.needed_count.value:.0f}", remedy=remedy)


@rule("roof.roof-load", "check", "The modules weigh {load} on the roof; it is stated for {limit}.", PRACTICE)
def roof_load(design: Design) -> Iterator[Hit]:
    """More weight on the roof's skin than it is stated for."""
    stated, held = design.job.roof.fixing, design.fixings
    if over(held.roof_load_kg_per_m2.value, stated.allowed_roof_kg_per_m2):
        yield hit(load=held.roof_load_kg_per_m2, limit=Given("", stated.allowed_roof_kg_per_m2, "kg_per_m2"))


@rule(
    "roof.off-members",
    "check",
    "{count} modules lie over fewer than two roof members: {modules}.",
    PRACTICE,
    "Shift them, or lay rails from member to member.",
)
def off_members(design: Design) -> Iterator[Hit]:
    """Modules whose fixings find nothing to hold in."""
    tags = design.fixings.off_members
    if tags:
        yield hit(*tags, count=str(len(tags)), modules=", ".join(tags))
