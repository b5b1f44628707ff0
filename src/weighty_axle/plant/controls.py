"""The vehicle's own switches, in the order they sit in it, and what else somebody can do: plug in, start the engine."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.design.table import Design

ENGINE = ("off", "idle", "slow", "cruise")
TEST = "test"
"""The button of a residual-current device: it must trip, and holds when it is closed again."""


class Control(NamedTuple):
    """A switch: its key, the tag it stands at, its words, its positions with the one at rest first, and its group."""

    key: str
    tag: str
    words: str
    positions: tuple[str, ...]
    group: str

    @property
    def up(self) -> str:
        """Its position when everything runs."""
        return next(one for one in reversed(self.positions) if one != TEST)


def controls(design: Design) -> tuple[Control, ...]:
    """Every switch of the house's system from the packs to the last breaker; all at rest is dead.

    Source: the design.
    """
    job, board = design.job, design.job.wiring.board
    found = [Control(pack.tag, pack.tag, "pack", ("off", "on"), "Bank") for pack in job.bank.packs]
    if design.precharge is not None and design.precharge.fitted:
        found.append(Control("pre-charge", board.tag, "pre-charge, held", ("off", "on"), "Board"))
    found.append(Control("main", board.tag, "main switch", ("off", "on"), "Board"))
    found += [
        Control(unit.tag, unit.tag, "inverter", ("off", "charger only", "on"), "Inverters")
        for unit in job.inverters.units
    ]
    for one in job.roof.controllers:
        found.append(Control(one.tag, one.tag, "battery side", ("off", "on"), "Solar"))
        found += [
            Control(string.tag, string.tag, f"isolator at {one.tag}", ("off", "on"), "Solar")
            for string in design.roof.strings
            if string.controller == one.tag and string.modules
        ]
    found += [
        Control(end.converter.tag, end.converter.tag, "converter", ("off", "on"), "Converters") for end in design.ends
    ]
    if job.inverters.units:
        found += [
            Control(panel.tag, panel.tag, "panel's breaker", _switched(panel.rcd_ma), "AC")
            for panel in design.ac.panels
        ]
        found += [Control(one.tag, one.tag, one.name, _switched(one.circuit.rcd_ma), "AC") for one in design.circuits]
    if job.inverters.sources:
        places = ("nothing", *(source.tag for source in job.inverters.sources))
        found.append(Control("plug", "", "plugged into", places, "Outside"))
    found += [
        Control(one.tag, one.tag, one.name, tuple(position.name for position in one.positions), "Outside")
        for one in job.ac.selectors
    ]
    if any(end.by_engine for end in design.ends):
        found.append(Control("engine", "", "engine", ENGINE, "Outside"))
    return tuple(found)


def _switched(rcd_ma: float) -> tuple[str, ...]:
    """Positions of a breaker; one with a residual-current device can be tested."""
    return ("off", "on", TEST) if rcd_ma else ("off", "on")
