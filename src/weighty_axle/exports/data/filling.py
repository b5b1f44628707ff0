"""Filling as open data and as lines: current, voltage and state of charge against time."""

from __future__ import annotations

import math
from typing import Any

from weighty_axle.answers.charging.filling import FillResult, filling, state_named
from weighty_axle.design.charging.states import SourceState
from weighty_axle.design.table import Design
from weighty_axle.units import FRACTION, QuantityError, parse, show

SHOWN_ROWS = 24


def fill_data(design: Design, start: str, end: str, mix: str | None, loads: bool) -> dict[str, Any]:
    """One state of the sources with its curve, or the times of all.

    Raises: RuntimeError with a sentence for a share or a state that is none.
    """
    first, last = _share(start), _share(end)
    return {
        "from_share": first,
        "to_share": last,
        "loads": loads,
        "states": [_data(filling(design, state, first, last, with_loads=loads), mix) for state in _states(design, mix)],
    }


def fill_lines(design: Design, start: str, end: str, mix: str | None, loads: bool) -> list[str]:
    """The same as lines for a terminal. Raises: RuntimeError with a sentence."""
    first, last = _share(start), _share(end)
    found = [filling(design, state, first, last, with_loads=loads) for state in _states(design, mix)]
    if mix is None:
        return [f"{one.state.name:34} {_time(one):>10}  {show(one.source_a.value, 'A'):>8}" for one in found]
    one = found[0]
    lines = [f"{one.state.name}: {_time(one)}, {one.hours_h.limit}", f"{'h':>8} {'charge':>8} {'A':>8} {'V':>8}"]
    curve = one.curve
    step = max(1, len(curve.hours) // SHOWN_ROWS)
    rows = [*range(0, len(curve.hours) - 1, step), len(curve.hours) - 1]
    columns = zip(curve.hours, curve.soc, curve.amps, curve.volts, strict=True)
    table = [f"{hour:8.2f} {100 * soc:7.1f}% {amps:8.1f} {volts:8.2f}" for hour, soc, amps, volts in columns]
    return lines + [table[at] for at in rows]


def _states(design: Design, mix: str | None) -> tuple[SourceState, ...]:
    states = tuple(one for one in design.source_states.states if one.parts)
    if mix is None:
        return states
    found = state_named(design, mix)
    if found is None:
        names = "; ".join(one.name for one in states)
        raise RuntimeError(f"There is no state of the sources {mix!r}. There are: {names}.")
    return (found,)


def _share(text: str) -> float:
    try:
        value = parse(text, FRACTION)
    except QuantityError as error:
        raise RuntimeError(str(error)) from None
    if not 0 <= value <= 1:
        raise RuntimeError(f"{text} is not between 0 and 100 %.")
    return value


def _time(one: FillResult) -> str:
    return "never" if math.isinf(one.hours_h.value) else f"{one.hours_h.value:.2f} h"


def _data(one: FillResult, mix: str | None) -> dict[str, Any]:
    curve = one.curve
    made: dict[str, Any] = {
        "mix": one.state.name,
        "ended": curve.ended,
        "hours_h": one.hours_h.value if math.isfinite(one.hours_h.value) else None,
        "held_from_h": curve.held_from_h if math.isfinite(curve.held_from_h) else None,
        "source_a": one.source_a.value,
        "drawn_w": one.drawn_w.value,
        "charge_ah": one.charge_ah.value,
        "energy_wh": one.energy_wh.value,
    }
    if mix is not None:
        made |= {"time_h": curve.hours, "soc": curve.soc, "current_a": curve.amps, "voltage_v": curve.volts}
    return made
