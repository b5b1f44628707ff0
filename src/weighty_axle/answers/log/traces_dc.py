"""Direct current beside the model: resistance of ways, sharing of packs, draw by night, charge out by charge in."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from weighty_axle.answers.log.drifts import Trace, falls_only, traced
from weighty_axle.answers.log.expected import idle_w, pack_share, way_ohm
from weighty_axle.answers.log.rows import Floats, Rows, spread_by_day
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.physics.series.lines import lines_by_group

NIGHT_H = (23.5, 4.5)
"""Hours by the sun in which a vehicle sleeps. Source: judgement."""
LEAST_POINTS = 20
"""Rows of a day that a line through them needs. Source: judgement."""
LEAST_IDLE_W = 6.0
"""A draw that changes by less is not told: a meter's own zero does as much [W]. Source: judgement."""
FULL_SOC, FULL_APART_S = 99.5, 5 * 86_400
"""Full by the monitor [%]; so far apart two full banks have to be [s]. Source: judgement."""


def drops(rows: Rows) -> Iterator[Trace]:
    """Resistance between two voltages by the current between them, day by day."""
    bank_v, bar_v, bank_a = rows.get("bank_v"), rows.get("bar_v"), rows.get("bank_a")
    if rows.need("Drop of the main run", bank_v=bank_v, bar_v=bar_v, bank_a=bank_a):
        assert bank_v is not None and bar_v is not None and bank_a is not None
        yield from _resistance(rows, MAIN_RUN, -bank_a, bank_v - bar_v)
    amps = rows.of("unit_a")
    for tag, volts in rows.of("unit_v").items():
        if tag and tag in amps and bar_v is not None:
            yield from _resistance(rows, f"W-{tag}", amps[tag], bar_v - volts)


def _resistance(rows: Rows, way: str, amps: Floats, drop: Floats) -> Iterator[Trace]:
    there = np.isfinite(amps) & np.isfinite(drop)
    slope, _, n = lines_by_group(amps[there], drop[there], rows.at_day[there], rows.count)
    swing = spread_by_day(amps[there], rows.at_day[there], rows.count)
    slope[(swing < rows.least_swing_a) | (n < LEAST_POINTS)] = np.nan
    if not np.isfinite(slope).any():
        rows.unknown.append(f"Drop of {way}: currents never swing enough to tell its resistance.")
        return
    rated_a = rows.design.wiring.main.fuse_a.value

    def means(before: float, after: float) -> str:
        if after < before:
            return "a joint was made better, or a meter was moved"
        extra = after - before
        return f"{extra * 1000:.2f} mΩ more in a joint, {rated_a**2 * extra:.0f} W of heat at {rated_a:.0f} A"

    yield traced(
        rows.days,
        f"drop {way}",
        f"{way}: resistance of both poles",
        "ohm",
        slope,
        way_ohm(rows.design, way),
        about=(way,),
        hint="hot",
        means=means,
    )


def shares(rows: Rows) -> Iterator[Trace]:
    """Share of each pack of the current of all."""
    packs = rows.of("pack_a")
    if len(packs) < 2:
        rows.unknown.append("Sharing of the packs: there are no currents of two packs or more.")
        return
    whole = np.sum(list(packs.values()), axis=0)
    there = np.isfinite(whole)
    swing = spread_by_day(whole[there], rows.at_day[there], rows.count)
    found: dict[str, Trace] = {}
    for tag, amps in packs.items():
        slope, _, n = lines_by_group(whole[there], amps[there], rows.at_day[there], rows.count)
        slope[(swing < rows.least_swing_a) | (n < LEAST_POINTS)] = np.nan
        if np.isfinite(slope).any():
            found[tag] = traced(
                rows.days,
                f"share {tag}",
                f"{tag}: share of the bank's current",
                "%",
                slope * 100,
                pack_share(rows.design, tag),
                about=(tag,),
                hint="packs apart",
                times=100.0,
                least=0.04,
                means=lambda before, after: (
                    "a joint in its leads, a tired pack, or one that is off"
                    if after < before
                    else "it carries what others do not"
                ),
            )
    yield from falls_only(found)


def idle(rows: Rows) -> Iterator[Trace]:
    """What leaves the bank in the quietest part of each night."""
    amps, volts = rows.get("bank_a"), rows.get("bank_v")
    if not rows.need("Idle draw by night", bank_a=amps, bank_v=volts):
        return
    assert amps is not None and volts is not None
    watts = -amps * volts
    night = ((rows.solar_h >= NIGHT_H[0]) | (rows.solar_h < NIGHT_H[1])) & np.isfinite(watts)
    of_night = ((rows.solar_s + 43_200) // 86_400 - rows.day[0]).clip(0, rows.count - 1)
    order = np.argsort(of_night[night], kind="stable")
    nights, values = of_night[night][order], watts[night][order]
    draw = np.full(rows.count, np.nan)
    starts = np.flatnonzero(np.concatenate([[True], nights[1:] != nights[:-1]])) if len(nights) else np.array([], int)
    least_rows = 3600 / max(rows.recording.step_s, 1.0)
    for start, end in zip(starts, [*starts[1:], len(nights)], strict=True):
        quiet = float(np.percentile(values[start:end], 20)) if end - start >= least_rows else np.nan
        if quiet > 0:  # else it was plugged in
            draw[nights[start]] = quiet
    if not np.isfinite(draw).any():
        rows.unknown.append("Idle draw by night: no night was recorded in which the bank alone fed the vehicle.")
        return

    def means(before: float, after: float) -> str:
        if after < before:
            return "something was switched off"
        return f"{(after - before) * 24 / 1000:.1f} kWh a day: something stays on, or does not sleep"

    yield traced(
        rows.days,
        "idle",
        "Draw in the quiet of the night",
        "W",
        draw,
        idle_w(rows.design),
        hint="empty after standing",
        least=0.1,
        least_by=LEAST_IDLE_W,
        means=means,
    )


def charge(rows: Rows) -> Iterator[Trace]:
    """Ampere-hours out by ampere-hours in, from full to full."""
    amps, soc = rows.get("bank_a"), rows.get("soc")
    if not rows.need("Charge efficiency", bank_a=amps, soc=soc):
        return
    assert amps is not None and soc is not None
    full = np.flatnonzero((soc >= FULL_SOC) & np.isfinite(amps))
    if len(full) < 2:
        rows.unknown.append("Charge efficiency: the bank was never full twice.")
        return
    apart = np.minimum(np.diff(rows.t_s, prepend=rows.t_s[0]), 3 * rows.recording.step_s) / 3600
    flowing = np.where(np.isfinite(amps), amps, 0.0) * apart
    into, out = np.cumsum(np.maximum(flowing, 0)), np.cumsum(np.maximum(-flowing, 0))
    values = np.full(rows.count, np.nan)
    before = int(full[0])
    for at in full.tolist():
        if rows.t_s[at] - rows.t_s[before] < FULL_APART_S:
            continue
        put = into[at] - into[before]
        if put > 0:
            values[rows.at_day[at]] = (out[at] - out[before]) / put * 100
        before = at
    if np.isfinite(values).any():
        yield traced(
            rows.days,
            "charge",
            "Ampere-hours out by ampere-hours in, full to full",
            "%",
            values,
            None,
            hint="monitor",
            least=0.02,
            means=lambda _before, _after: "the shunt's zero has moved, or a load hangs beside it",
        )
