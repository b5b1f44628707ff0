"""Where practitioners disagree: each school as the other design beside this one, made by one press."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace

from weighty_axle.design.inverters.selectors import stacking_selector
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.inverters import set_stacking
from weighty_axle.job.edits.roof import set_controllers
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import LINES, Stacking
from weighty_axle.job.models.place import Assembly
from weighty_axle.job.models.roof import String
from weighty_axle.job.models.wiring import Fitted
from weighty_axle.job.tags import next_tag
from weighty_axle.reference.tables import controllers


class School(NamedTuple):
    """One question: what this design does, what the other would, what that buys and costs, and how it is made of a
    design. Making raises EditRefusedError with a sentence where the question does not arise.
    """

    key: str
    question: str
    buys: str
    other: Callable[[Design], tuple[str, Job]]


def _full(design: Design) -> tuple[str, Job]:
    job = design.whole
    school = "brim" if job.settings.full_charge == "gentle" else "gentle"
    name = "Charged to the brim" if school == "brim" else "Charged gently"
    return name, replace(job, settings=replace(job.settings, full_charge=school))


def _strings(design: Design) -> tuple[str, Job]:
    """All modules of a controller in one string, or each by itself."""
    job = design.whole
    if len(job.roof.modules) < 2 or not job.roof.strings:
        raise EditRefusedError("There are no two modules on strings to be wired otherwise.")
    longest = max(sum(m.string == one.tag for m in job.roof.modules) for one in job.roof.strings)
    made = replace(job, roof=replace(job.roof, strings=()))
    strings: list[String] = []
    modules = []
    of_string = {one.tag: one.controller for one in job.roof.strings}
    for module in job.roof.modules:
        controller = of_string.get(module.string)
        if controller is None:
            modules.append(module)
            continue
        own = next((one for one in strings if longest == 1 and one.controller == controller), None)
        if own is None:
            own = String(tag=next_tag(made, "string"), controller=controller)
            strings.append(own)
            made = replace(made, roof=replace(made.roof, strings=tuple(strings)))
        modules.append(replace(module, string=own.tag))
    roof = replace(made.roof, strings=tuple(strings), modules=tuple(modules))
    return ("Modules in parallel" if longest > 1 else "Modules in series"), replace(made, roof=roof)


def _controllers(design: Design) -> tuple[str, Job]:
    """One controller for all, or one for each half."""
    job = design.whole
    own = [one for one in job.roof.controllers if not one.unit and not one.bar]
    if not own or len(own) != len(job.roof.controllers):
        raise EditRefusedError("Controllers built into inverters or on other bars are not made fewer or more here.")
    if len(own) > 1:
        total = sum(one.spec.output_a for one in own)
        alone = [one for one in controllers().rows if not one.built_in]
        fit = [one for one in alone if one.max_pv_v >= own[0].spec.max_pv_v]
        spec = min((one for one in fit if one.output_a >= total), key=lambda one: one.output_a, default=None)
        spec = spec or max(fit or alone, key=lambda one: one.output_a)
        return "One big controller", set_controllers(spec, 1).apply(job)
    made = set_controllers(own[0].spec, 2).apply(job)
    tags = [one.tag for one in made.roof.controllers]
    strings = tuple(replace(one, controller=tags[at % 2]) for at, one in enumerate(made.roof.strings))
    return "A controller for each half", replace(made, roof=replace(made.roof, strings=strings))


_OTHER_STACKING: dict[Stacking, Stacking] = {
    "split_phase": "parallel",
    "legs_in_phase": "split_phase",
    "parallel": "split_phase",
    "independent": "parallel",
}


def _stacking(design: Design) -> tuple[str, Job]:
    job = design.whole
    wanted = _OTHER_STACKING.get(job.inverters.stacking)
    if wanted is None or len(job.inverters.units) < 2 or job.inverters.spec.lines != 1:
        raise EditRefusedError("Only two units of one line each are stacked otherwise.")
    made = set_stacking(wanted).apply(job)
    word = "In parallel" if wanted == "parallel" else "Split-phase"
    if len(LINES[wanted]) == 1 and any("+" in load.supply for load in job.loads):
        raise EditRefusedError("Loads across two legs need split-phase.")
    return f"{word} stacking", made


def _selector(design: Design) -> tuple[str, Job]:
    job = design.whole
    if job.ac.selectors:
        feed = job.ac.inlets[0].tag if job.ac.inlets else ""
        kept = tuple(one for one in job.ac.panels if one.fed_from not in {s.tag for s in job.ac.selectors})
        if len(kept) != len(job.ac.panels):
            raise EditRefusedError("A panel is fed from the selector: its feed has to be said by hand.")
        return "Fixed stacking", replace(job, ac=replace(job.ac, selectors=(), inverters_fed_from=feed))
    edit = stacking_selector(job, design.ac)
    if edit is None:
        raise EditRefusedError("Only two units of one line each, stacked as two legs, take a change-over selector.")
    return "With a change-over selector", edit.apply(job)


def _breakers(design: Design) -> tuple[str, Job]:
    job = design.whole
    ways = [one for one in design.guards.guards if one.rated_a]
    fitted = {one.run for one in job.fitted if one.kind == "breaker"}
    if fitted:
        return "Fuses", replace(job, fitted=tuple(one for one in job.fitted if one.kind != "breaker"))
    others = tuple(one for one in job.fitted if one.run not in {way.tag for way in ways})
    made = replace(job, fitted=others)
    for way in ways:
        tag = next_tag(made, "protection")
        one = Fitted(tag=tag, name=f"Breaker in {way.tag}", run=way.tag, kind="breaker", amps=way.rated_a)
        made = replace(made, fitted=(*made.fitted, one))
    return "DC breakers", made


def _dc_loads(design: Design) -> tuple[str, Job]:
    job = design.whole
    if not job.inverters.units:
        raise EditRefusedError("There are no inverters to run house loads from.")
    own = {load.tag for load in job.loads if load.supply.startswith("DC") and not load.on and not load.charges}
    if not own:
        raise EditRefusedError("No house load is on DC.")
    supply = "AC" if LINES[job.inverters.stacking] == ("AC",) else "leg_open"

    def moved(load: Load) -> Load:
        return replace(load, supply=supply, circuit="") if load.tag in own else load

    return "All from the inverters", replace(job, loads=tuple(map(moved, job.loads)))


def _board(design: Design) -> tuple[str, Job]:
    job = design.whole
    if job.assemblies:
        return "Wired in place", replace(job, assemblies=())
    tags = tuple(
        [unit.tag for unit in job.inverters.units]
        + [one.tag for one in job.roof.controllers if not one.unit]
        + [job.wiring.board.tag]
    )
    made = Assembly(tag=next_tag(job, "board built on the bench"), name="Board built on the bench", items=tags)
    return "Built on a board", replace(job, assemblies=(made,))


def _practice(design: Design) -> tuple[str, Job]:
    job = design.whole
    american = job.practice == "north_american"
    wiring = replace(job.wiring, ampacity_table="small_craft_mm2" if american else "small_craft_awg", conductors={})
    name = "International practice" if american else "North American practice"
    return name, replace(job, practice="international" if american else "north_american", wiring=wiring)


def _place(design: Design) -> tuple[str, Job]:
    job = design.whole
    box = job.bank.box
    name = "Bank in a bay outside" if box.inside else "Bank in the living space"
    return name, replace(job, bank=replace(job.bank, box=replace(box, inside=not box.inside)))


SCHOOLS = (
    School("full", "Full charge: gentle or to the brim", "The brim balances faster; gentle lasts longer.", _full),
    School(
        "strings", "Modules in series or in parallel", "Series: less copper; parallel: shade costs one only.", _strings
    ),
    School(
        "controllers",
        "One big controller or one for each half",
        "One: less wiring; two: a fault costs half.",
        _controllers,
    ),
    School(
        "stacking", "Two units split-phase or in parallel", "Split-phase runs 240 V; parallel starts more.", _stacking
    ),
    School(
        "selector",
        "Fixed stacking or a change-over selector",
        "A selector takes any campsite; fixed has no wrong turn.",
        _selector,
    ),
    School("breakers", "Fuses or DC breakers", "Breakers switch off by hand; fuses break a lithium short.", _breakers),
    School("dc_loads", "House loads on DC or all from the inverters", "DC loses less; AC needs one wiring.", _dc_loads),
    School(
        "board", "Built on a board or wired in place", "A board is tested on the bench; in place fits any bay.", _board
    ),
    School(
        "practice", "North American or international practice", "Each by its own sizes, factors and devices.", _practice
    ),
    School(
        "place", "Bank in a bay outside or in the living space", "Inside stays warm; outside vents by itself.", _place
    ),
)
"""The ten schools. Source: common practice, no source."""
