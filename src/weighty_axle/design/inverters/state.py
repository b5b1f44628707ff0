"""A state of the AC side: what is plugged in, how inverters and selectors stand, what is live, and what is wrong."""

from __future__ import annotations

import cmath
import math
from typing import Literal

from msgspec import Struct

from weighty_axle.job.models.inverters import Stacking

Mode = Literal["off", "charger_only", "on"]


MODE_WORDS: dict[Mode, str] = {"off": "inverters off", "charger_only": "inverters charging only", "on": "inverters on"}


Danger = Literal[
    "two_bonds",
    "no_bond",
    "paralleled",
    "legs_joined",
    "energy_loop",
    "charger_loop",
    "pins_live",
    "across_dead",
    "across_weak",
    "shared_neutral",
    "disagree",
]


PHASES: dict[Stacking, dict[str, int]] = {
    "single": {"L1": 0},
    "parallel": {"L1": 0},
    "split_phase": {"L1": 0, "L2": 180},
    "one_two_legs": {"L1": 0, "L2": 180},
    "legs_in_phase": {"L1": 0, "L2": 0},
    "independent": {"L1": 0, "L2": 0},
    "three_phase": {"L1": 0, "L2": 240, "L3": 120},
}
"""Angle of each line of a stacking [deg]."""


STACKING_SHORT: dict[Stacking, str] = {
    "single": "single",
    "parallel": "in parallel",
    "split_phase": "180° apart",
    "one_two_legs": "180° apart",
    "legs_in_phase": "in phase",
    "independent": "independent",
    "three_phase": "120° apart",
}


class Hazard(Struct, frozen=True, kw_only=True):
    """One thing wrong in a state: its kind, the tags concerned, and what exactly."""

    danger: Danger
    tags: tuple[str, ...]
    words: str


class Phase(Struct, frozen=True, array_like=True):
    """How a live line stands: its angle [deg] and the supply it is in step with."""

    angle_deg: int
    supply: str

    @property
    def turn(self) -> complex:
        """A unit phasor at its angle."""
        return cmath.exp(1j * math.radians(self.angle_deg))


class Joined(Struct, frozen=True, kw_only=True):
    """Units whose inputs or outputs are joined on a line, each once for every line of its own, and the things and lines
    of theirs it is joined to.
    """

    units: tuple[str, ...]
    things: tuple[str, ...]
    lines: tuple[str, ...]


class PanelState(Struct, frozen=True, kw_only=True):
    """A panel in a state: its live lines with their phases, the way its current comes (from its feeder up to a unit
    that inverts or an inlet), what feeds it, where its neutral is bonded, and the residual-current devices on the
    way to it.
    """

    tag: str
    lines: tuple[str, ...]
    phases: tuple[Phase, ...]
    way: tuple[str, ...]
    fed_by: tuple[str, ...]
    bonds: tuple[str, ...]
    rcds: tuple[str, ...]
    rcds_ma: tuple[float, ...]


class State(Struct, frozen=True, kw_only=True):
    """One combination.

    `plugged` holds source tags; `stacking` is what the inverters are set to; `positions` are (selector, position).

    `input_way` is the way from the inverters' input up to what feeds it; `outputs` are the units side by side on each
    line and the lines of panels they feed, `inputs` those fed by a line of an inlet. `short` is what figures say.
    """

    plugged: tuple[str, ...]
    mode: Mode
    stacking: Stacking
    positions: tuple[tuple[str, str], ...]
    passing: tuple[str, ...]
    inverting: tuple[str, ...]
    input_way: tuple[str, ...]
    inputs: tuple[Joined, ...]
    outputs: tuple[Joined, ...]
    panels: tuple[PanelState, ...]
    hazards: tuple[Hazard, ...]
    words: str
    short: str


class StatesResult(Struct, frozen=True):
    """All states that can be reached; `shut_out` counts those an interlock makes impossible."""

    states: tuple[State, ...]
    shut_out: int

    def with_danger(self, danger: Danger) -> tuple[State, ...]:
        """States in which something of a kind is wrong."""
        return tuple(state for state in self.states if any(hazard.danger == danger for hazard in state.hazards))


class Energiser(Struct, frozen=True, kw_only=True):
    """What makes a node live: its name, the supply it is in step with, its angle [deg] and voltage [V]."""

    name: str
    supply: str
    phase_deg: int
    volts: float
    inverter: bool
