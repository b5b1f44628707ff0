"""Faults that can be planted: what each is, and where in this plant it can sit."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN

JOINT_OHM, WASHER_OHM, JOINT_W = 0.0015, 0.003, 10.0
"""What a loose lug, and a washer between the faces, add; in a thin way as much as makes so much heat at what its fuse
carries. Source: common practice, no source.
"""
SHADED_SHARE, WORN_TIMES = 0.6, 2.5
"""What a shaded string still gives; how much more resistance a tired pack has. Source: common practice, no source."""
DIRTY_SHARE, SECTION_SHARE, BELT_SHARE, LOW_SHARE = 0.75, 8 / 9, 0.3, 0.2
"""What is left: of a dirty array's light, of three modules with a section dead, of a slipping alternator, of a current
that is set low. Source: judgement.
"""
LEFT_ON_W, AWAKE_W, APART_SHARE = 60.0, 45.0, 0.3
"""What stays on at night, what an inverter takes more that does not sleep [W]; how much
less charge a pack has that stands apart. Source: judgement.
"""


class Kind(NamedTuple):
    """A kind of fault: its words, and the places it can sit in a design."""

    words: str
    places: Callable[[Design], tuple[str, ...]]


class Fault(NamedTuple):
    """A planted fault: its kind and its place."""

    kind: str
    place: str


def _units(design: Design) -> tuple[str, ...]:
    return tuple(unit.tag for unit in design.job.inverters.units)


def _pair(design: Design) -> tuple[str, ...]:
    return _units(design)[1:] if design.job.inverters.stacking == "split_phase" else ()


def _of_the_bank(places: Callable[[Design], tuple[str, ...]]) -> Callable[[Design], tuple[str, ...]]:
    """Places that belong to a bank: of a group that shares one they are the bank's own system's."""
    return lambda design: () if design.system.shares_bank else places(design)


@_of_the_bank
def _packs(design: Design) -> tuple[str, ...]:
    return tuple(pack.tag for pack in design.job.bank.packs) if design.job.bank.series == 1 else ()


def _with_switches(design: Design) -> tuple[str, ...]:
    return _packs(design) if design.job.bank.spec.managed else ()


@_of_the_bank
def _strings(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.roof.strings if one.modules)


def _chargers(design: Design) -> tuple[str, ...]:
    return (*(unit.tag for unit in design.job.inverters.units if design.job.inverters.spec.charge_a), *_solar(design))


@_of_the_bank
def _solar(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.job.roof.controllers)


@_of_the_bank
def _by_engine(design: Design) -> tuple[str, ...]:
    return tuple(end.converter.tag for end in design.ends if end.by_engine and not end.starts_here)


def _sources(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.job.inverters.sources)


@_of_the_bank
def _bank(design: Design) -> tuple[str, ...]:
    return (MAIN_RUN,) if design.job.bank.packs else ()


def _monitored(design: Design) -> tuple[str, ...]:
    there = design.job.bank.spec.managed or design.job.wiring.board.shunt_a is not None
    return _bank(design) if there else ()


def _selectors(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.job.ac.selectors)


def _several_lines(design: Design) -> tuple[str, ...]:
    return ("MAIN",) if design.job.inverters.stacking in ("split_phase", "one_two_legs") else ()


def _unbonded(design: Design) -> tuple[str, ...]:
    return _units(design)[:1] if design.job.inverters.sources else ()


KINDS: dict[str, Kind] = {
    "bad joint": Kind(
        "a lug that was not tightened", lambda design: (MAIN_RUN, *(f"W-{tag}" for tag in _units(design)))
    ),
    "washer": Kind("a washer between the fuse and its bar", lambda _design: (MAIN_RUN,)),
    "swapped sense": Kind("the leads of the current's sense the wrong way round", _monitored),
    "dead string": Kind("a plug of a string is not in", _strings),
    "shaded string": Kind("something stands in the light of a string", _strings),
    "wrong profile": Kind("a lead-acid profile was left in", _chargers),
    "equalising": Kind("equalising is on", _chargers),
    "pack off": Kind("a pack is switched off", _with_switches),
    "unequal pack": Kind("a pack is tired", _packs),
    "leg swapped": Kind("both inverters give the same leg", _pair),
    "two bonds": Kind("neutral and earth stay joined on board while plugged in", _unbonded),
    "lost neutral": Kind("the neutral to the panel is loose", _several_lines),
    "supply mode": Kind("a charger works as a supply", _by_engine),
    "engine wire": Kind("the wire that tells of the engine is missing", _by_engine),
    "source limit": Kind("the limit of another place is set", _sources),
    "selector": Kind("the selector stands otherwise than the inverters are set", _selectors),
}
"""Faults by kind."""


def _packs_by_side(design: Design) -> tuple[str, ...]:
    return _packs(design) if len(design.job.bank.packs) > 1 else ()


def _electronic_by_side(design: Design) -> tuple[str, ...]:
    return _with_switches(design) if len(design.job.bank.packs) > 1 else ()


def _electronic(design: Design) -> tuple[str, ...]:
    return _bank(design) if design.job.bank.spec.managed else ()


def _main_switch(design: Design) -> tuple[str, ...]:
    return _bank(design) if design.switched else ()


def _ways(design: Design) -> tuple[str, ...]:
    return (MAIN_RUN, *(f"W-{tag}" for tag in _units(design)))


def _ways_first(design: Design) -> tuple[str, ...]:
    return _ways(design)[:1]


def _switched(design: Design) -> tuple[str, ...]:
    root = next((one for one in design.tree.roots if not one.converters), None)
    ways = root.ways if root is not None else ()
    return tuple(way.tag for way in ways if any(part.kind == "switch" for part in way.parts) and way.kind == "main")


def _panels(design: Design) -> tuple[str, ...]:
    return tuple(panel.tag for panel in design.ac.panels) if design.job.inverters.units else ()


def _circuits(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.circuits if one.circuit.rcd_ma)


def _prefilled(design: Design) -> tuple[str, ...]:
    filling = design.precharge
    return (design.job.wiring.board.tag,) if filling is not None and filling.fitted else ()


def _charging_units(design: Design) -> tuple[str, ...]:
    return _units(design) if design.job.inverters.spec.charge_a and design.job.inverters.sources else ()


LATER: dict[str, Kind] = {
    "fuse joint": Kind("a fuse's face is loose or dirty", _ways),
    "minus lug": Kind("a lug on the minus side is loose", _ways),
    "broken strands": Kind("half of a cable's strands are broken", _ways),
    "switch contact": Kind("a contact of the main switch is burnt", _switched),
    "main fuse open": Kind("the main fuse has opened", _ways_first),
    "run fuse open": Kind("the fuse of an inverter's lead has opened", _units),
    "pack lug": Kind("a lug of a pack is loose", _packs_by_side),
    "pack fuse open": Kind("a pack's own fuse has opened", _packs_by_side),
    "pack opened": Kind("a pack's electronics have opened: a cell is low", _electronic_by_side),
    "main switch left": Kind("the main switch was left off", _main_switch),
    "packs all off": Kind("every pack is switched off", _electronic),
    "packs all opened": Kind("the electronics of every pack have opened", _electronic),
    "pack apart": Kind("a pack stands at another charge than the others", _packs_by_side),
    "cold cells": Kind("the cells are too cold to be charged", _bank),
    "pre-charge open": Kind("the pre-charge resistor has burnt through", _prefilled),
    "dead inverter": Kind("an inverter gives nothing, with its supply there", _units),
    "charger only": Kind("an inverter's switch stands at charger only", _units),
    "cut-out high": Kind("an inverter's cut-out is set too high", _units),
    "fan blocked": Kind("an inverter's air is blocked", _units),
    "charge set low": Kind("an inverter's charge current is set low", _charging_units),
    "breaker off": Kind("a panel's breaker is off", _panels),
    "leaking load": Kind("what hangs on a circuit leaks to earth", _circuits),
    "weak source": Kind("the place to plug in sags under load", _sources),
    "reversed source": Kind("line and neutral of a place to plug in are the wrong way round", _sources),
    "isolator off": Kind("a string's isolator is off", _strings),
    "reversed string": Kind("a string is connected the wrong way round", _strings),
    "dead section": Kind("a third of a module gives nothing: its diode has taken over", _strings),
    "dirty array": Kind("the modules are dirty", _solar),
    "dead controller": Kind("a solar controller gives nothing", _solar),
    "controller set low": Kind("a solar controller's current is set low", _solar),
    "slipping belt": Kind("the alternator gives less than it should", _by_engine),
    "bypassed shunt": Kind("a load hangs on the wrong side of the shunt", _monitored),
    "never full": Kind("the monitor never sees the bank full", _monitored),
    "wrong capacity": Kind("the monitor is set to another capacity", _monitored),
    "left on": Kind("something stays on at night", _bank),
    "no sleep": Kind("an inverter does not sleep without a load", _units),
}
"""Faults that come with time, for the fault finder: beyond what is tested before a vehicle is handed over."""
EVERY = KINDS | LATER


def faults_of(design: Design) -> tuple[Fault, ...]:
    """Every fault this plant can have, kind by kind.

    Source: the design.
    """
    return tuple(Fault(kind, place) for kind, one in KINDS.items() for place in one.places(design))
