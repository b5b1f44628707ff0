"""Everything a job needs, piece by piece and metre by metre, each with what it is for."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from weighty_axle.answers.cuts.conductors import cuts, prefix, was_there
from weighty_axle.answers.cuts.cut import Cut, Landing, colour_words
from weighty_axle.answers.kept import kept
from weighty_axle.answers.wiring.conduit import ac_cables
from weighty_axle.answers.wiring.schedule import gland, guard_words
from weighty_axle.design.cables import feeder_cores
from weighty_axle.design.conductors import conductor_area_mm2, outer_mm
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.document import WAS_THERE, Job
from weighty_axle.job.models.place import Hold
from weighty_axle.job.models.roof import spec_of

CLIP_M = 0.3
"""A clip or tie each so far [m]. Source: common practice, no source."""

COPPER_KG_PER_M_MM2 = 0.0089
"""Mass of copper by length and area [kg/(m mm2)]. Source: density 8890 kg/m3, IEC 60028."""

INSULATION_FACTOR = 1.2
"""A conductor with its insulation over its copper. Source: common practice, no source."""


class Need(NamedTuple):
    """So many of a part, or metres of it, for a thing by its tag. Its price stands under `priced_as`; `mass_kg` is of
    one, or a metre; None where nobody has said.
    """

    part: str
    kind: str
    many: float
    of: str
    by_metre: bool = False
    priced_as: str = ""
    mass_kg: float | None = None


@kept(
    "system",
    "ac",
    "circuits",
    "direct.panels",
    "guards.guards",
    "job.ac",
    "job.inverters",
    "protection",
    "roof.strings",
    "signals",
    "tree.ways",
    "whole.assemblies",
    "whole.bank",
    "whole.bars",
    "whole.converters",
    "whole.dc",
    "whole.fitted",
    "whole.fittings",
    "whole.groups",
    "whole.holds",
    "whole.inverters",
    "whole.outlets",
    "whole.roof",
    "whole.vehicle.bays",
    "whole.wiring.board",
    asks=(cuts,),
)
def needs(design: Design) -> tuple[Need, ...]:
    """All that a job needs, in the order it is listed; what was on board is not among it.

    Source: the answers it is read from.
    """
    return tuple(_needs(design))


def _needs(design: Design) -> Iterator[Need]:
    systems = (design, *design.others)
    yield from _units(design.whole)
    for own in systems:
        if not own.system.shares_bank:  # the bank's own system lists them
            yield from _guards(own, prefix(design, own))
        yield from _signals(own)
    yield from _boards(design.whole)
    yield from _beside(design.whole)
    yield from _alternating(design)
    for own in systems:
        if not own.system.shares_bank:
            yield from _roof(own)
    for module in design.whole.roof.modules:
        yield Need("roof fixing with screw and sealant", "hold", design.whole.roof.fixing.each, module.tag)
    made = cuts(design)
    yield from _of_conductors(design)
    for own in systems:
        yield from _conduits(own)
    for hold in design.whole.holds:
        yield from _fixings(hold)
    yield from _labels(design, made)


def _units(job: Job) -> Iterator[Need]:
    """Packs, inverters, controllers, modules, converters, generators."""
    for bank in (job.bank, *(bar.bank for bar in job.bars if bar.bank is not None)):
        if bank.role not in WAS_THERE:
            for pack in bank.packs:
                yield Need(bank.spec.name, "pack", 1, pack.tag, mass_kg=bank.spec.mass_kg)
    for stack in (job.inverters, *(group.inverters for group in job.groups)):
        for unit in stack.units:
            yield Need(stack.spec.name, "inverter", 1, unit.tag, mass_kg=stack.spec.mass_kg)
    for controller in job.roof.controllers:
        if not controller.unit:
            yield Need(controller.spec.name, "controller", 1, controller.tag, mass_kg=controller.spec.mass_kg)
    for module in job.roof.modules:
        spec = spec_of(job.roof, module)
        yield Need(spec.name, "module", 1, module.tag, mass_kg=spec.mass_kg)
    for array in job.roof.remote:
        yield Need(array.module.name, "module", array.series * array.parallel, array.tag, mass_kg=array.module.mass_kg)
    for converter in job.converters:
        yield Need(converter.spec.name, "converter", 1, converter.tag, mass_kg=converter.spec.mass_kg)
    for source in (*job.inverters.sources, *(one for group in job.groups for one in group.inverters.sources)):
        if source.generator is not None:
            yield Need(source.name, "generator", 1, source.tag)


def _guards(own: Design, before: str) -> Iterator[Need]:
    """What guards every way, with its holder; blades in a panel sit in the panel."""
    panels = {panel.tag for panel in own.direct.panels}
    ways = {way.tag: way for way in own.tree.ways}
    for guard in own.guards.guards:
        if not guard.rated_a or (was_there(own) and guard.tag == MAIN_RUN):
            continue
        words = guard_words(guard)
        breaker = words == "breaker"
        yield Need(f"{words} {guard.rated_a:g} A", "breaker" if breaker else "guard", 1, f"{before}{guard.tag}")
        if not breaker and ways[guard.tag].above not in panels:
            yield Need(f"holder, {words}", "holder", 1, f"{before}{guard.tag}")


def _signals(own: Design) -> Iterator[Need]:
    """Fuses at the source of signal leads that take one."""
    for one in own.signals:
        if one.fuse_a is not None:
            yield Need(f"in-line holder with fuse {one.fuse_a:g} A", "guard", 1, one.tag)


def _boards(job: Job) -> Iterator[Need]:
    """Bars, main switches, shunts, pre-charge."""
    for board in (job.wiring.board, *(bar for bar in job.bars if bar.bank is None or bar.bank.role not in WAS_THERE)):
        ways = board.ways or job.bank.links.bar_ways
        for pole in ("plus", "minus"):
            yield Need(f"bus bar, {ways} ways, {pole}", "board", 1, board.tag)
        if board.main_switch_a is not None:
            yield Need(f"main switch {board.main_switch_a:g} A", "switch", 1, board.tag)
        if board.shunt_a is not None:
            yield Need(f"shunt {board.shunt_a:g} A", "switch", 1, board.tag)
        if board.precharge:
            ohm = board.precharging.resistor_ohm
            yield Need(f"pre-charge resistor{f' {ohm:g} ohm' if ohm else ', as computed'}", "switch", 1, board.tag)
            closed = "switch, two positions" if board.precharging.kind == "switch" else "relay"
            yield Need(f"pre-charge {closed}", "switch", 1, board.tag)


def _beside(job: Job) -> Iterator[Need]:
    """DC panels, switches and relays, fans and heaters, plates of boards."""
    for panel in job.dc.panels:
        yield Need(f"DC panel, {panel.ways} ways, {panel.block_a:g} A", "board", 1, panel.tag)
    for circuit in job.dc.circuits:
        if circuit.relay_a is not None:
            yield Need(f"relay {circuit.relay_a:g} A", "switch", 1, circuit.tag)
    for switch in job.dc.switches:
        yield Need(f"either-or switch {switch.amps:g} A", "switch", 1, switch.tag)
    for one in job.fitted:
        if one.kind == "switch":
            yield Need(f"{one.name} {one.amps:g} A", "switch", 1, one.tag)
    for circuit in job.dc.circuits:
        if circuit.switch:
            yield Need(f"switch: {circuit.switch}", "outlet", 1, circuit.tag)
    for bay in job.vehicle.bays:
        if bay.air is not None and bay.air.fan_m3_per_h:
            yield Need(f"fan with thermostat, {bay.air.fan_m3_per_h:g} m³/h", "switch", 1, bay.tag)
    for bank in (job.bank, *(bar.bank for bar in job.bars if bar.bank is not None)):
        if bank.box.heater_w and bank.role not in WAS_THERE:
            yield Need(f"heater for the bank's box, {bank.box.heater_w:g} W", "switch", 1, bank.packs[0].tag)
    for assembly in job.assemblies:
        plates = [one for one in job.fittings if one.tag in assembly.items]
        for plate in plates:
            yield Need(plate.name, "board", 1, plate.tag, mass_kg=plate.mass_kg)


def _alternating(design: Design) -> Iterator[Need]:
    """Inlets, selectors, panels, breakers and outlets of the AC side."""
    for own in (design, *design.others):
        if not own.job.inverters.units:
            continue
        for inlet in own.ac.inlets:
            yield Need(f"inlet {inlet.amps:g} A, {inlet.lines} line{'s' * (inlet.lines > 1)}", "outlet", 1, inlet.tag)
        for selector in own.ac.selectors:
            yield Need(f"selector switch, {len(selector.positions)} positions", "switch", 1, selector.tag)
        within = feeder_cores(own.job.ac, own.job.inverters)
        for panel in own.ac.panels:
            yield Need(f"AC panel, bars {panel.bus_a:g} A", "board", 1, panel.tag)
            lines = within[panel.tag] - 2
            # Where the neutral is switched too, one line takes two poles.
            yield _breaker(
                max(lines, 2 if own.job.practice == "international" else 1), panel.breaker_a, panel.rcd_ma, panel.tag
            )
        for circuit in own.circuits:
            yield _breaker(circuit.circuit.poles, circuit.circuit.breaker_a, circuit.circuit.rcd_ma, circuit.tag)
        served = {tag for outlet in design.whole.outlets for tag in outlet.serves}
        for circuit in own.circuits:
            if circuit.circuit.outlets and not served & {circuit.tag, *circuit.loads}:
                for load in circuit.loads or (circuit.tag,):
                    yield Need("socket, AC", "outlet", 1, load)
    for outlet in design.whole.outlets:
        if outlet.kind in ("socket", "switch"):
            yield Need(f"{outlet.kind}, {'AC' if outlet.cable == 'ac' else 'DC'}", "outlet", 1, outlet.tag)


def _breaker(poles: int, amps: float, rcd_ma: float, tag: str) -> Need:
    residual = f", {rcd_ma:g} mA" if rcd_ma else ""
    return Need(f"AC breaker {amps:g} A, {poles} pole{'s' * (poles > 1)}{residual}", "breaker", 1, tag)


def _roof(own: Design) -> Iterator[Need]:
    """Isolators, string fuses, surge arresters, glands and fixings of the roof."""
    strings = [one for one in own.roof.strings if one.modules]
    for guard in own.protection:
        volts, amps = math.ceil(guard.isolator_v.value), math.ceil(guard.isolator_a.value)
        yield Need(f"PV isolator, {volts} V, {amps} A or more", "switch", 1, guard.controller)
        if guard.fuse_a is not None:
            for _ in guard.beside:
                yield Need(f"string fuse {guard.fuse_a.value:g} A", "guard", 1, guard.controller)
                yield Need("holder, string fuse", "holder", 1, guard.controller)
        if guard.surge:
            yield Need("surge arrester, PV", "switch", 1, guard.controller)
    for string in strings:
        yield Need(f"roof gland {gland(outer_mm(own.job.roof.cable))}", "gland", 2, string.tag)


@kept(asks=(cuts,))
def _of_conductors(design: Design) -> tuple[Need, ...]:
    return tuple(conductor_needs(cuts(design)))


def conductor_needs(made: tuple[Cut, ...]) -> Iterator[Need]:
    """Metres of every conductor by colour, and what both ends of each are landed with.

    Source: the cut list; copper by its density.
    """
    studs: set[tuple[str, str]] = set()
    for cut in made:
        coloured = f"{cut.sold_as}, {colour_words(cut.colour)}" if cut.colour != "cable" else cut.sold_as
        yield Need(coloured, "conductor", cut.cut_m.value, cut.tag, True, cut.sold_as, _metre_kg(cut))
        for end in (cut.start, cut.end):
            yield from _end(cut, end)
            if end.stud is not None and (cut.way, end.at) not in studs:  # conductors side by side share a stud
                studs.add((cut.way, end.at))
                for part in ("nut", "washer", "spring washer"):
                    yield Need(f"{part} {end.stud}", "fixing", 1, cut.tag)
        if cut.carries in ("DC", "PV", "earth") and "−" not in cut.tag and cut.cut_m.value > 1:
            clips = math.ceil(cut.cut_m.value / CLIP_M)
            yield Need(f"cable clip, {_clip_mm(cut):g} mm", "clip", clips, cut.tag)


def _metre_kg(cut: Cut) -> float | None:
    try:
        area = conductor_area_mm2(cut.size)
    except ValueError:
        return None
    return round(area * COPPER_KG_PER_M_MM2 * INSULATION_FACTOR * cut.cores, 4)


_CLIPS_MM = (6, 8, 10, 13, 16, 19, 22, 25, 32, 40)
"""Clips by what they hold [mm]. Source: common practice, no source."""


def _clip_mm(cut: Cut) -> int:
    """Both poles of a way lie in one clip; what is in conduit needs none."""
    around = outer_mm(cut.size) * (2 if "+" in cut.tag else 1)
    return next((one for one in _CLIPS_MM if one >= around), _CLIPS_MM[-1])


def _end(cut: Cut, end: Landing) -> Iterator[Need]:
    if end.by == "lug":
        yield Need(end.fitting, "lug", 1, cut.tag)
        across, _, length = end.shrink.partition(" × ")
        yield Need(
            f"heat shrink with adhesive, {across}", "shrink", float(length.removesuffix(" mm")) / 1000, cut.tag, True
        )
        if end.boot:
            yield Need(f"stud boot, {cut.colour}", "boot", 1, cut.tag)
    elif end.by == "ferrule":
        yield Need(f"ferrule {cut.size}", "ferrule", end.pieces, cut.tag)
    elif end.by == "plug" and cut.carries == "PV":
        yield Need("PV plug and socket, a pair", "plug", 0.5, cut.tag)
    elif end.by == "plug":
        yield Need(f"{end.fitting} of the cord of {cut.tag.removeprefix('CORD-')}", "plug", 1, cut.tag)
    if end.gland:
        yield Need(f"gland {end.gland}", "gland", 1, cut.tag)


def _conduits(own: Design) -> Iterator[Need]:
    for cable in ac_cables(own):
        if cable.conduit is not None:
            yield Need(f"conduit {cable.conduit}", "conduit", cable.conductor.length_m, cable.conductor.tag, True)


def _fixings(hold: Hold) -> Iterator[Need]:
    if hold.how == "straps":
        yield Need(f"strap, {hold.strap_n:g} N, with its ends", "hold", hold.straps, hold.tag)
        return
    yield Need(f"bolt {hold.bolt}, grade {hold.grade}", "fixing", hold.bolts, hold.tag)
    yield Need(f"self-locking nut {hold.bolt}", "fixing", hold.bolts, hold.tag)
    if hold.plate_mm is not None:
        yield Need(f"backing plate {hold.plate_mm:g} mm, {hold.bolt}", "hold", hold.bolts, hold.tag)
        yield Need(f"washer {hold.bolt}", "fixing", hold.bolts, hold.tag)
    else:
        yield Need(f"large washer {hold.bolt}", "fixing", 2 * hold.bolts, hold.tag)


def _labels(design: Design, made: tuple[Cut, ...]) -> Iterator[Need]:
    """A label at each end of every conductor, one for each panel and each warning."""
    for cut in made:
        yield Need("cable label", "label", 2, cut.tag)
    for panel in design.whole.dc.panels:
        yield Need("panel legend", "label", 1, panel.tag)
    for own in (design, *design.others):
        for board in own.ac.panels if own.job.inverters.units else ():
            yield Need("panel legend", "label", 1, board.tag)
