"""Signal and sense leads: those that follow from the parts, and those that are stated."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.bank.data_links import data_chain
from weighty_axle.design.cables import Cable
from weighty_axle.design.figures import Figure
from weighty_axle.design.lengths import along, measured, taken
from weighty_axle.design.ways import Path, Ways
from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.place import Outlet
from weighty_axle.job.models.roof import Controller
from weighty_axle.job.models.wiring import Board, Signal, SignalKind
from weighty_axle.job.stated import Place
from weighty_axle.job.systems import System
from weighty_axle.reference.hardware import SignalLead, signal_leads

REMOTE_M = 6.0
"""Taken for the lead of a remote switch until it is drawn. Source: common practice, no source."""


AT_HAND = "at hand"
"""Where a remote switch is that nobody has placed."""


class LaidSignal(Struct, frozen=True, kw_only=True):
    """A signal lead: its kind, ends, length, fuse at its source (None: it takes none), and whether it was stated."""

    tag: str
    name: str
    lead: SignalLead
    start: str
    end: str
    length_m: Figure
    path: Path | None
    fuse_a: float | None
    fused: bool
    own_supply: bool
    stated: bool


def signals(
    system: System,
    stated: tuple[Signal, ...],
    outlets: tuple[Outlet, ...],
    items: tuple[Item, ...],
    ways: Ways,
    bank: Bank,
    inverters: Inverters,
    controllers: tuple[Controller, ...],
    board: Board,
) -> tuple[LaidSignal, ...]:
    """Signal leads of a system, of a group that shares a bank those between its inverters; those that are stated are
    the house's, but in the place of what follows from parts of any system.

    Source: reference/signal_leads.json; which leads parts ask for is common practice, no source.
    """
    made = _Signals(items, outlets, ways)
    known = {(one.kind, one.start, one.end) for one in stated}
    derived = [*made.of_inverters(inverters)]
    if not system.shares_bank:
        derived = [*made.of_bank(bank, inverters, controllers, board), *derived]
    found = [one for one in derived if (one.lead.kind, one.start, one.end) not in known]
    return (*found, *(made.stated(stated) if not system.key else ()))


def signal_cables(leads: tuple[LaidSignal, ...]) -> tuple[Cable, ...]:
    """The same as cables that lie in ways; those with an end that has no place are not among them."""
    return tuple(
        Cable(
            tag=one.tag,
            kind="data",
            start=one.start,
            end=one.end,
            words=one.name,
            length_m=one.length_m,
            path=one.path,
            count=1,
            outer_mm=one.lead.outer_mm,
        )
        for one in leads
        if one.end != AT_HAND
    )


class _Signals:
    """The leads while they are found."""

    def __init__(self, items: tuple[Item, ...], outlets: tuple[Outlet, ...], ways: Ways) -> None:
        self.ways = ways
        self.places: dict[str, Place] = {item.tag: item.place for item in items}
        self.places |= {one.tag: one.place for one in outlets}

    def of_bank(
        self, bank: Bank, inverters: Inverters, inputs: tuple[Controller, ...], board: Board
    ) -> Iterator[LaidSignal]:
        """What the packs and what charges them ask for."""
        packs = [pack for pack in bank.packs if not pack.out]
        units, controllers = inverters.units, [one for one in inputs if not one.unit]
        if not packs:
            return
        first = packs[0].tag
        managed = bank.spec.managed
        charging = units[0].tag if units else controllers[0].tag if controllers else ""
        if charging and not managed:
            yield self._made("temperature", f"BT-{charging}", first, charging)
        for controller in controllers:
            yield self._made("sense", f"VS-{controller.tag}", board.tag, controller.tag)
        if board.shunt_a is not None:
            yield self._made("shunt_supply", f"SH-{board.tag}", first, board.tag)
        if managed:
            chain = data_chain(bank.packs)
            for link, after in itertools.pairwise(chain):
                yield self._made("pack_data", f"PD-{link.tag}", link.tag, after.tag)
            if units:
                yield self._made("bank_data", f"BD-{units[0].tag}", first, units[0].tag)

    def of_inverters(self, inverters: Inverters) -> Iterator[LaidSignal]:
        """What inverters ask for among themselves and at hand."""
        units = inverters.units
        if inverters.stacking not in ("independent", "single"):
            for one, other in itertools.pairwise(units):
                yield self._made("stacking", f"SD-{other.tag}", one.tag, other.tag)
        if inverters.remote_switch and units:
            yield self._made("remote", f"RS-{units[0].tag}", units[0].tag, AT_HAND)

    def stated(self, those: tuple[Signal, ...]) -> Iterator[LaidSignal]:
        """What is stated beside."""
        for one in those:
            yield self._made(
                one.kind,
                one.tag,
                one.start,
                one.end,
                name=one.name,
                measured_m=one.measured_m,
                fuse_a=one.fuse_a,
                fused=one.fused,
                own_supply=one.own_supply,
                stated=True,
            )

    def _made(
        self,
        kind: SignalKind,
        tag: str,
        start: str,
        end: str,
        *,
        name: str = "",
        measured_m: float | None = None,
        fuse_a: float | None = None,
        fused: bool = True,
        own_supply: bool = False,
        stated: bool = False,
    ) -> LaidSignal:
        lead = signal_leads()[kind]
        one, other = self.places.get(start), self.places.get(end)
        path = self.ways.path(one, other, "data") if one is not None and other is not None else None
        length = taken(tag, REMOTE_M)
        if one is not None and other is not None:
            length = along(tag, one, other, path)
        if measured_m is not None:
            length = measured(tag, measured_m)
        return LaidSignal(
            tag=tag,
            name=name or f"{lead.name}, {start} to {end}",
            lead=lead,
            start=start,
            end=end,
            length_m=length,
            path=path,
            fuse_a=fuse_a if fuse_a is not None else lead.fuse_a,
            fused=fused,
            own_supply=own_supply,
            stated=stated,
        )
