"""What inverter-chargers take from a source: their chargers on the AC side, and each unit's part of a limit."""

from __future__ import annotations

from weighty_axle.job.models.inverters import Inverters, InverterSpec, line_v

CHARGING_CELL_V = 3.6
"""Charging voltage of an LFP cell. Source: common practice, no source."""


def charging_v(spec: InverterSpec) -> float:
    """Charging voltage of the class a unit belongs to, by the highest voltage it stands: 4, 8 or 16 cells [V].

    Source: common practice, no source.
    """
    cells = 4 if spec.dc_max_v < 20 else 8 if spec.dc_max_v < 40 else 16
    return CHARGING_CELL_V * cells


def chargers_ac_a(inverters: Inverters, units: int) -> float:
    """What the chargers of some units take from each line at full current [A]; a unit of two legs takes half from
    each.
    """
    spec = inverters.spec
    return spec.charge_a * units * charging_v(spec) / spec.charge_share / line_v(inverters) / spec.lines
