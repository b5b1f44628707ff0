"""Pre-charge as open data and as lines: the capacitors' voltage against time, and what closing then does."""

from __future__ import annotations

import math
from typing import Any

from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.precharge import PrechargeResult
from weighty_axle.units import show

_STEPS = 40
_ROWS = 13


def precharge_data(design: Design) -> dict[str, Any]:
    """Every bar with inverters, by tag: figures and the time course.

    Infinite times become null.
    """
    return {one.bar: _data(one) for one in _results(design)}


def precharge_lines(design: Design) -> list[str]:
    """The same as lines for a terminal."""
    lines: list[str] = []
    for one in _results(design):
        lines += [f"{one.bar}: {', '.join(one.units)}{'' if one.fitted else ' (no pre-charge fitted)'}"]
        for figure in _figures(one).values():
            value = show(figure.value, figure.unit) if math.isfinite(figure.value) else "never"
            lines.append(f"  {figure.name}: {value}")
        lines.append(f"  {'s':>8} {'V':>8} {'A':>8}")
        times = course_times(one)
        for at in times[:: max(1, len(times) // _ROWS)]:
            volts = one.course.voltage(at)
            lines.append(f"  {at:8.3f} {volts:8.2f} {(one.course.source_v - volts) / one.course.ohm:8.2f}")
    return lines or ["No inverters hang on any bar."]


def course_times(one: PrechargeResult) -> list[float]:
    """Times at which a course is told: over its use, or ten time constants where it never fills [s]."""
    tau = one.course.ohm * one.course.farad
    end = min(max(one.held_s.value, 3 * tau) if math.isfinite(one.held_s.value) else math.inf, 10 * tau)
    return [end * step / _STEPS for step in range(_STEPS + 1)]


def _results(design: Design) -> list[PrechargeResult]:
    own = (one for one in (design, *design.others) if not one.system.shares_bank)
    return [one.precharge for one in own if one.precharge is not None]


def _figures(one: PrechargeResult) -> dict[str, Figure]:
    """Its figures by name, in the order they are told."""
    fields = ((name, getattr(one, name)) for name in one.__struct_fields__)
    return {name: value for name, value in fields if isinstance(value, Figure)}


def _data(one: PrechargeResult) -> dict[str, Any]:
    times = course_times(one)
    volts = [one.course.voltage(at) for at in times]
    made: dict[str, Any] = {
        name: figure.value if math.isfinite(figure.value) else None for name, figure in _figures(one).items()
    }
    amps = [(one.course.source_v - value) / one.course.ohm for value in volts]
    return made | {
        "units": list(one.units),
        "fitted": one.fitted,
        "pinned": one.pinned,
        "ends_v": one.course.ends_v,
        "time_s": times,
        "voltage_v": volts,
        "current_a": amps,
    }
