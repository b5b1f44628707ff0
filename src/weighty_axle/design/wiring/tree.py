"""The DC side as a network: from what feeds a bar, along the bar, through every run, feed, panel and circuit to its
end.

Plus and minus of a way carry the same current, so that a way is one branch of both its poles; a bar is as many branches
as there are studs between its ways. Nothing is drawn by hand: it is built from the other answers.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Iterator
from typing import Literal, NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.conductors import least_ohm_per_km, ohm_per_m
from weighty_axle.design.wiring.choices import ConductorChoice
from weighty_axle.design.wiring.direct import DirectResult
from weighty_axle.design.wiring.feeds import FeedRun
from weighty_axle.design.wiring.runs import Run, WiringResult
from weighty_axle.job.models.bank import Links
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.wiring import Board, DcCircuit, DcPanel, Fitted, FuseKey, Wiring
from weighty_axle.job.systems import System
from weighty_axle.physics.electric.conductors import COPPER_RESISTIVITY_20C, at_temperature
from weighty_axle.reference import hardware

GROUND = "ground"
"""Node the voltages are told against: the negative of what feeds."""


BAR_C = 60.0
"""Copper of a bus bar in use [degC]. Source: common practice, no source."""


WayKind = Literal["main", "run", "feed", "panel", "circuit", "bar"]
PartKind = Literal["fuse", "switch", "shunt", "cable", "lug", "bar"]


class Part(NamedTuple):
    """One thing in the path of a way's current: what it is in words, which pole it is in, and its resistance, hot, and
    the least it can have for a fault (copper cold, nothing counted for contacts).
    """

    kind: PartKind
    words: str
    pole: Literal["+", "−"]
    ohm: float
    least_ohm: float


class TreeWay(Struct, frozen=True, kw_only=True):
    """One way of the network: the nodes it starts and ends at, the parts in it, the tag of the way above it (empty
    from a source), and the bar it belongs to. Of one that is not `known` no conductor or no length is: nothing is told.
    """

    tag: str
    kind: WayKind
    start: str
    end: str
    words: str
    bar: str
    above: str
    parts: tuple[Part, ...]
    size: str
    count: int
    length_m: float
    fuse_a: float
    fuse_kind: str
    known: bool

    @property
    def ohm(self) -> float:
        """Both poles together [ohm]."""
        return sum(part.ohm for part in self.parts)

    @property
    def least_ohm(self) -> float:
        """The same at its least, for fault currents [ohm]."""
        return sum(part.least_ohm for part in self.parts)


class Root(Struct, frozen=True, kw_only=True):
    """A bar with what feeds it: the bank, or converters that hold its voltage. `studs` are its ways in their order."""

    bar: str
    converters: tuple[str, ...]
    studs: tuple[str, ...]
    ways: tuple[TreeWay, ...]


class DcTree(Struct, frozen=True, kw_only=True):
    """Every network of a system: of its own bar first, then of bars that its converters feed."""

    roots: tuple[Root, ...]

    @property
    def ways(self) -> tuple[TreeWay, ...]:
        """All ways of all bars."""
        return tuple(way for root in self.roots for way in root.ways)


def dc_tree(
    system: System,
    whole: Job,
    fitted: tuple[Fitted, ...],
    stated: Wiring,
    links: Links,
    wiring: WiringResult,
    feeds_in: tuple[FeedRun, ...],
    direct: DirectResult,
) -> DcTree:
    """The network of a system; none for a group that shares a bank: its leads are the bank's.

    Source: resistances as the ways were chosen; reference/contacts.json for what parts lose.
    """
    if system.shares_bank:
        return DcTree(roots=())
    made = _Builder(whole, fitted, stated, links, wiring, feeds_in, direct)
    roots = [made.own(system.bar)]
    roots += [made.fed(bar.tag) for bar in direct.bars if any(feed.end == bar.tag for feed in feeds_in)]
    return DcTree(roots=tuple(roots))


@functools.cache
def contact_ohm(part: str, rated_a: float) -> float:
    """Resistance of a part by what it loses at its rating [ohm].

    Source: reference/contacts.json.
    """
    millivolts = next((row.mv for row in hardware.contacts().rows if row.part == part), 0.0)
    return millivolts / 1000 / rated_a


class _Builder:
    """The networks while they are built. A way whose `start` is empty hangs on a stud of its bar."""

    def __init__(
        self,
        whole: Job,
        fitted: tuple[Fitted, ...],
        stated: Wiring,
        links: Links,
        wiring: WiringResult,
        feeds_in: tuple[FeedRun, ...],
        direct: DirectResult,
    ) -> None:
        self.stated, self.links, self.wiring = stated, links, wiring
        self.feeds_in, self.direct = feeds_in, direct
        self.panels: dict[str, DcPanel] = {one.tag: one for one in whole.dc.panels}
        self.circuits: dict[str, DcCircuit] = {one.tag: one for one in whole.dc.circuits}
        self.switches = {one.run: (one.name, one.amps) for one in fitted if one.kind == "switch"}
        self.switches |= {one.feeds: (one.name, one.amps) for one in whole.dc.switches}
        relays = ((one.tag, one.relay_a) for one in whole.dc.circuits)
        self.switches |= {tag: ("relay", amps) for tag, amps in relays if amps is not None}
        self.fitted_a = {one.run: one.amps for one in fitted if one.kind != "switch"}
        self.abreast = {one.run: one.lengths_m for one in stated.abreast}
        self.breakers = {one.run for one in fitted if one.kind == "breaker"}

    # ---- bars ----

    def own(self, bar: str) -> Root:
        """The bar with the bank: the main run, the bar, everything on it."""
        main, *runs = self.wiring.runs
        first = self._run(main, bar, "main", self.stated.main_fuse)
        first = replace(first, start="bank", parts=(*first.parts, *_on_board(self.stated.board)))
        hung = [self._run(run, bar, "run", self.stated.branch_fuse) for run in runs]
        hung += [way for feed in self.feeds_in if feed.start == bar for way in self._shared(feed, bar)]
        return self._hang(bar, (), (first,), [*hung, *self._direct(bar)])

    def fed(self, bar: str) -> Root:
        """A bar that converters hold: a way from each of them, the bar, everything on it."""
        into = [feed for feed in self.feeds_in if feed.end == bar]
        ways = tuple(replace(self._feed(feed, bar), start=feed.start, end="") for feed in into)
        return self._hang(bar, tuple(tag for feed in into for tag in feed.converters), ways, list(self._direct(bar)))

    def _hang(self, bar: str, converters: tuple[str, ...], into: tuple[TreeWay, ...], hung: list[TreeWay]) -> Root:
        """Put the ways of a bar on its studs: nearest to where current comes in what has the largest fuse."""
        own = sorted((one for one in hung if not one.start), key=lambda one: -one.fuse_a)
        studs = (*(one.tag for one in into), *(one.tag for one in own))
        nodes = {tag: f"{bar} {at + 1}" for at, tag in enumerate(studs)}
        above = into[0].tag if into else ""
        ways = [replace(one, end=nodes[one.tag]) for one in into]
        ways += [self._segment(bar, at) for at in range(1, max(1, len(studs)))]
        ways += [one if one.start else replace(one, start=nodes[one.tag], above=above) for one in hung]
        return Root(bar=bar, converters=converters, studs=studs, ways=tuple(ways))

    def _segment(self, bar: str, at: int) -> TreeWay:
        ohm = _segment_ohm(self.links.bar_mm2, self.links.bar_pitch_m)
        return TreeWay(
            tag=f"{bar} {at}–{at + 1}",
            kind="bar",
            start=f"{bar} {at}",
            end=f"{bar} {at + 1}",
            words="bar from stud to stud",
            bar=bar,
            above="",
            parts=tuple(Part("bar", f"bar {pole}", pole, ohm, ohm) for pole in _POLES),
            size="",
            count=1,
            length_m=self.links.bar_pitch_m,
            fuse_a=math.inf,
            fuse_kind="",
            known=True,
        )

    # ---- ways ----

    def _run(self, run: Run, bar: str, kind: WayKind, fuse: FuseKey) -> TreeWay:
        laid = _laid(run.chosen, run.length_m.value, run.fuse_a.value)
        return self._way(run.tag, kind, f"{run.start} to {run.end}", bar, laid, fuse)

    def _feed(self, feed: FeedRun, bar: str) -> TreeWay:
        length = feed.length_m.value if feed.length_m is not None else 0.0
        laid = _laid(feed.chosen, length, feed.fuse_a.value)
        return self._way(feed.tag, "feed", f"{feed.start} to {feed.end}", bar, laid, self.stated.branch_fuse)

    def _shared(self, feed: FeedRun, bar: str) -> Iterator[TreeWay]:
        """A shared cable, and the leads that leave it; a converter without one of its own stands at its end."""
        yield self._feed(feed, bar)
        for one in self.feeds_in:
            if one.start == feed.tag:
                yield replace(self._feed(one, bar), start=feed.tag, above=feed.tag)

    def _direct(self, bar: str) -> Iterator[TreeWay]:
        """Panels and circuits on a bar, each circuit of a panel behind its feeder."""
        fuse = self.stated.branch_fuse
        for panel in self.direct.panels:
            if panel.bar == bar:
                own = self.panels[panel.tag]
                laid = _Laid(own.size, 1, panel.length_m.value, self.fitted_a.get(own.tag, own.fuse_a))
                yield self._way(own.tag, "panel", f"{bar} to {own.name}", bar, laid, fuse)
        for circuit in self.direct.circuits:
            if circuit.bar == bar:
                stated = self.circuits[circuit.tag]
                laid = _Laid(stated.size, 1, circuit.length_m.value, self.fitted_a.get(stated.tag, stated.fuse_a))
                words = f"{circuit.panel or bar} to {stated.name}"
                way = self._way(stated.tag, "circuit", words, bar, laid, "blade_32" if circuit.panel else fuse)
                yield replace(way, start=circuit.panel, above=circuit.panel)

    def _way(self, tag: str, kind: WayKind, words: str, bar: str, laid: _Laid, fuse: FuseKey) -> TreeWay:
        return TreeWay(
            tag=tag,
            kind=kind,
            start="",
            end=tag,
            words=words,
            bar=bar,
            above="",
            parts=tuple(self._parts(tag, laid, fuse)),
            size=laid.size,
            count=laid.abreast,
            length_m=laid.length_m,
            fuse_a=laid.fuse_a,
            fuse_kind="breaker" if tag in self.breakers else fuse,
            known=laid.length_m > 0 and _metre_ohm(laid.size, self.stated.insulation_c)[0] > 0,
        )

    def _parts(self, tag: str, laid: _Laid, fuse: FuseKey) -> Iterator[Part]:
        """Fuse, switch, both conductors and their lugs."""
        words = "breaker" if tag in self.breakers else "fuse"
        yield Part("fuse", words, "+", contact_ohm("breaker" if words == "breaker" else fuse, laid.fuse_a), 0.0)
        if tag in self.switches:
            name, amps = self.switches[tag]
            yield Part("switch", name, "+", contact_ohm("switch", amps), 0.0)
        hot, cold = _metre_ohm(laid.size, self.stated.insulation_c)
        lugs = 2 * self.links.lug_ohm / laid.abreast
        cut = self.abreast.get(tag, ())
        for pole in _POLES:
            # Side by side and cut unalike: as their conductances add up.
            each = 1 / sum(1 / one for one in cut) if len(cut) == laid.abreast else laid.length_m / laid.abreast
            yield Part("cable", f"cable {pole}", pole, hot * each, cold * each)
            yield Part("lug", f"two lugs {pole}", pole, lugs, 0.0)


class _Laid(NamedTuple):
    """What a way is made of, and its fuse."""

    size: str
    abreast: int
    length_m: float
    fuse_a: float


def _laid(chosen: ConductorChoice | None, length_m: float, fuse_a: float) -> _Laid:
    return _Laid(*((chosen.size, chosen.count) if chosen is not None else ("none", 1)), length_m, fuse_a)


_POLES: tuple[Literal["+"], Literal["−"]] = ("+", "−")


def _on_board(board: Board) -> Iterator[Part]:
    """Main switch and shunt where they are chosen."""
    if board.main_switch_a is not None:
        yield Part("switch", "main switch", "+", contact_ohm("switch", board.main_switch_a), 0.0)
    if board.shunt_a is not None:
        ohm = contact_ohm("shunt", board.shunt_a)
        yield Part("shunt", "shunt", "−", ohm, ohm)


@functools.cache
def _segment_ohm(section_mm2: float, pitch_m: float) -> float:
    return at_temperature(COPPER_RESISTIVITY_20C * pitch_m / (section_mm2 * 1e-6), BAR_C)


@functools.cache
def _metre_ohm(size: str, celsius: int) -> tuple[float, float]:
    """A metre of one conductor hot, and cold of its full area [ohm]; 0 for a size in no table."""
    hot = ohm_per_m(size, celsius)
    return (0.0, 0.0) if math.isnan(hot) else (hot, least_ohm_per_km(size) / 1000)
