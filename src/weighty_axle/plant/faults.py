"""Faults that can be planted: what each is, and where in this plant it can sit."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN

JOINT_OHM, WASHER_OHM = 0.0015, 0.003
"""What a loose lug, and a washer between the faces, add. Source: common practice, no source."""
SHADED_SHARE, WORN_TIMES = 0.6, 2.5
"""What a shaded string still gives; how much more resistance a tired pack has. Source: common practice, no source."""


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


def _packs(design: Design) -> tuple[str, ...]:
    return tuple(pack.tag for pack in design.job.bank.packs) if design.job.bank.series == 1 else ()


def _strings(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.roof.strings if one.modules)


def _chargers(design: Design) -> tuple[str, ...]:
    return (*(unit.tag for unit in design.job.inverters.units if design.job.inverters.spec.charge_a), *_solar(design))


def _solar(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.job.roof.controllers)


def _by_engine(design: Design) -> tuple[str, ...]:
    return tuple(end.converter.tag for end in design.ends if end.by_engine and not end.starts_here)


def _sources(design: Design) -> tuple[str, ...]:
    return tuple(one.tag for one in design.job.inverters.sources)


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
    "swapped sense": Kind("the leads of the current's sense the wrong way round", lambda _design: (MAIN_RUN,)),
    "dead string": Kind("a plug of a string is not in", _strings),
    "shaded string": Kind("something stands in the light of a string", _strings),
    "wrong profile": Kind("a lead-acid profile was left in", _chargers),
    "equalising": Kind("equalising is on", _chargers),
    "pack off": Kind("a pack is switched off", _packs),
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


def faults_of(design: Design) -> tuple[Fault, ...]:
    """Every fault this plant can have, kind by kind.

    Source: the design.
    """
    return tuple(Fault(kind, place) for kind, one in KINDS.items() for place in one.places(design))
