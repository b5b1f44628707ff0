"""Cables of the house: from panels and items to where they come out of a wall, and feeders between panels."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.figures import Figure
from weighty_axle.design.lengths import SLACK_M, along, measured, taken
from weighty_axle.design.ways import Path, Ways
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.inverters import FROM_INVERTERS, AcSide, Group, Inverters, Panel, panel_lines
from weighty_axle.job.models.place import Outlet
from weighty_axle.job.models.vehicle import CableKind, WireWay
from weighty_axle.job.models.wiring import Board, DcPanel, DcSide
from weighty_axle.job.stated import Place

CIRCUIT_M, AC_FEEDER_M, DC_FEEDER_M = 5.0, 2.0, 3.0
"""Lengths taken until they are measured or drawn. Source: common practice, no source."""


def cores(lines: int) -> int:
    """Conductors in an AC cable: its lines, neutral and earth. Source: common practice, no source."""
    return lines + 2


def feeder_cores(ac: AcSide, inverters: Inverters) -> dict[str, int]:
    """Conductors in the cable of each panel's feeder, by the lines that can come to it."""
    return {tag: cores(max(1, len(lines))) for tag, lines in panel_lines(ac, inverters).items()}


class Cable(Struct, frozen=True, kw_only=True):
    """A cable with both its ends in their places. `path` is None where no way leads there. `count` cables of
    `outer_mm` lie side by side.
    """

    tag: str
    kind: CableKind
    start: str
    end: str
    words: str
    length_m: Figure
    path: Path | None
    count: int
    outer_mm: float


class HouseCables(Struct, frozen=True, kw_only=True):
    """Cables of outlets and of feeders between placed panels; by tag, how long circuits and feeders are and through
    which ways they go.
    """

    cables: tuple[Cable, ...]
    lengths_m: dict[str, Figure]
    ways: dict[str, tuple[WireWay, ...]]

    def length_m(self, tag: str, until_then_m: float) -> Figure:
        """Length of a circuit or feeder; what is taken for one that nobody states."""
        return self.lengths_m.get(tag) or taken(tag, until_then_m)


def house_cables(
    items: tuple[Item, ...],
    ways: Ways,
    outlets: tuple[Outlet, ...],
    ac: AcSide,
    groups: tuple[Group, ...],
    inverters: Inverters,
    dc: DcSide,
    board: Board,
) -> HouseCables:
    """Every cable to an outlet, every feeder between things that have a place, and lengths by circuit and panel: as
    measured, else drawn, else taken.

    Source: shortest path, physics.search.paths.
    """
    made = _Cables(items, ways, outlets, (ac, *(group.ac for group in groups)), dc)
    stacks = {id(ac): inverters} | {id(group.ac): group.inverters for group in groups}
    cables = list(made.of_outlets())
    lengths: dict[str, Figure] = {}
    for side in (ac, *(group.ac for group in groups)):
        within = feeder_cores(side, stacks[id(side)])
        for panel in side.panels:
            starts = _starts(panel, stacks[id(side)])
            around = outer_mm(panel.size, within[panel.tag])
            lengths[panel.tag] = made.feeder(cables, panel, starts, _Feeder("ac", 1, around, AC_FEEDER_M))
        for circuit in side.circuits:
            lengths[circuit.tag] = made.circuit(circuit.tag, circuit.length_m)
    for board_panel in dc.panels:
        start = board_panel.bar or board.tag
        around = outer_mm(board_panel.size, 1)
        lengths[board_panel.tag] = made.feeder(cables, board_panel, (start,), _Feeder("dc", 2, around, DC_FEEDER_M))
    for way in dc.circuits:
        lengths[way.tag] = made.circuit(way.tag, way.length_m)
    return HouseCables(cables=tuple(cables), lengths_m=lengths, ways=made.ways_of)


def _starts(panel: Panel, inverters: Inverters) -> tuple[str, ...]:
    """What may feed a panel, by tag: any of the inverters where all of them do."""
    if panel.fed_from == FROM_INVERTERS:
        return tuple(unit.tag for unit in inverters.units)
    return (panel.fed_from,)


class _Feeder(NamedTuple):
    """What feeders are of: so many cables side by side, and how long one is until it is measured or drawn."""

    kind: CableKind
    abreast: int
    outer_mm: float
    until_m: float


class _Cables:
    """Cables while they are worked out."""

    def __init__(
        self, items: tuple[Item, ...], ways: Ways, outlets: tuple[Outlet, ...], sides: Iterable[AcSide], dc: DcSide
    ) -> None:
        self.ways, self.outlets = ways, {one.tag: one for one in outlets}
        self.places: dict[str, Place] = {item.tag: item.place for item in items}
        panels: list[Panel | DcPanel] = [*(panel for side in sides for panel in side.panels), *dc.panels]
        self.places |= {panel.tag: panel.place for panel in panels if panel.place is not None}
        self.places |= {one.tag: one.place for one in outlets}
        self.length: dict[str, Figure] = {}
        self.ways_of: dict[str, tuple[WireWay, ...]] = {}

    def of_outlets(self) -> Iterator[Cable]:
        """A cable for every outlet whose start has a place."""
        for one in self.outlets.values():
            start = self.places.get(one.start)
            if start is None:
                if one.measured_m is not None:
                    self.length[one.tag] = measured(one.tag, one.measured_m)
                continue
            path = self.ways.path(start, one.place, one.cable)
            figure = (
                measured(one.tag, one.measured_m)
                if one.measured_m is not None
                else along(one.tag, start, one.place, path, one.tail_m)
            )
            self.length[one.tag] = figure
            if path is not None and path.ways:
                for served in one.serves:
                    self.ways_of[served] = (*self.ways_of.get(served, ()), *path.ways)
            yield Cable(
                tag=one.tag,
                kind=one.cable,
                start=one.start,
                end=one.tag,
                words=one.name,
                length_m=figure,
                path=path,
                count=1,
                outer_mm=one.outer_mm,
            )

    def circuit(self, tag: str, stated_m: float | None) -> Figure:
        """Length of a circuit as far as its farthest outlet."""
        if stated_m is not None:
            return measured(tag, stated_m)
        ends = [self._chain(one) for one in self.outlets.values() if tag in one.serves]
        drawn = [chain for chain in ends if chain]
        if not drawn:
            return taken(tag, CIRCUIT_M)
        farthest = max(drawn, key=lambda chain: sum(one.value for one in chain))
        return Figure.total(
            name=f"{tag} length",
            unit="m",
            formula="Σ cables as far as its farthest outlet",
            inputs=farthest,
            source=farthest[-1].source,
            limit=farthest[-1].limit,
        )

    def _chain(self, one: Outlet) -> tuple[Figure, ...]:
        """Lengths of an outlet's cable and of those it is carried on from."""
        found: list[Figure] = []
        at: Outlet | None = one
        while at is not None and at.tag in self.length and len(found) <= len(self.outlets):
            found.append(self.length[at.tag])
            at = self.outlets.get(at.start)
        return tuple(reversed(found))

    def feeder(self, cables: list[Cable], panel: Panel | DcPanel, starts: tuple[str, ...], of: _Feeder) -> Figure:
        """Length of a panel's feeder: from the farthest of what may feed it."""
        placed = [tag for tag in starts if tag in self.places] if panel.place is not None else []
        if not placed or panel.place is None:
            return measured(panel.tag, panel.length_m) if panel.length_m is not None else taken(panel.tag, of.until_m)
        made = []
        for tag in placed:
            path = self.ways.path(self.places[tag], panel.place, of.kind)
            if path is not None:
                self.ways_of[panel.tag] = (*self.ways_of.get(panel.tag, ()), *path.ways)
            figure = (
                measured(panel.tag, panel.length_m)
                if panel.length_m is not None
                else along(panel.tag, self.places[tag], panel.place, path, SLACK_M)
            )
            made.append(
                Cable(
                    tag=f"{tag} to {panel.tag}",
                    kind=of.kind,
                    start=tag,
                    end=panel.tag,
                    words=f"feeder of {panel.name}",
                    length_m=figure,
                    path=path,
                    count=of.abreast,
                    outer_mm=of.outer_mm,
                )
            )
        cables += made
        return max((one.length_m for one in made), key=lambda one: one.value)
