"""The low-voltage side: converters against what hangs on them, and what stays alive when a bank drops out."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.charging.converters import output_a
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.direct import DirectResult
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.charging import VEHICLE, ConverterSpec
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import System, bar_of, bar_tag, load_bar
from weighty_axle.physics.electric.cells import interpolated


class FedBar(Struct, frozen=True, kw_only=True):
    """A bar that only converters feed: what they give for hours and for a moment against what hangs on it."""

    tag: str
    name: str
    converters: tuple[str, ...]
    demand_a: Figure
    given_a: Figure
    start_a: Figure
    peak_a: Figure
    efficiency_share: Figure


class DropOut(Struct, frozen=True, kw_only=True):
    """What happens once the bank of this system switches off: loads that go dark and those that stay alive, by tag."""

    bar: str
    dark: tuple[str, ...]
    alive: tuple[str, ...]
    bars_alive: tuple[str, ...]


class LowSide(Struct, frozen=True, kw_only=True):
    """Fed bars of a system, and what its bank's drop-out does to the whole vehicle."""

    bars: tuple[FedBar, ...]
    drop_out: DropOut
    own_w: Figure


def efficiency_at(spec: ConverterSpec, load_share: float) -> float:
    """Efficiency at a share of the output, along the curve where there is one."""
    if not spec.curve:
        return spec.efficiency
    if len(spec.curve) == 1:
        return spec.curve[0].efficiency
    shares = [point.load_share for point in spec.curve]
    at = min(max(load_share, shares[0]), shares[-1])
    return interpolated(at, shares, [point.efficiency for point in spec.curve])


def low_side(whole: Job, direct: DirectResult, loads: tuple[Load, ...], system: System) -> LowSide:
    """Fed bars and drop-out of one system; `loads` are those of the whole job.

    Source: converter datasheets; sums.
    """
    fed = tuple(_fed(whole, bar.tag, bar.name, direct) for bar in direct.bars if bar.given_a is not None)
    own = Figure.total(
        name="Converters draw for themselves",
        unit="W",
        formula="Σ own draw of those that are always on",
        inputs=tuple(
            Given(one.tag, one.spec.own_w, "W")
            for one in whole.converters
            if bar_tag(whole, one.start) == system.bar and one.works != "engine"
        ),
        source="converter datasheet",
    )
    return LowSide(bars=fed, drop_out=drop_out(whole, loads, system.bar), own_w=own)


def _fed(whole: Job, tag: str, name: str, direct: DirectResult) -> FedBar:
    bar = next(one for one in direct.bars if one.tag == tag)
    feeding = tuple(one for one in whole.converters if bar_tag(whole, one.end) == tag)
    given = bar.given_a
    assert given is not None
    starts = [one for one in direct.circuits if one.bar == tag]
    hardest = max(starts, key=lambda one: one.start_a.value - one.current_a.value, default=None)
    more = hardest.start_a.value - hardest.current_a.value if hardest is not None else 0.0
    start = Figure(
        name=f"{tag} while the hardest load starts",
        value=bar.demand_a.value + more,
        unit="A",
        formula="loads together + largest start above running",
        inputs=(bar.demand_a, Given(f"Start on {hardest.name}" if hardest is not None else "Start", more, "A")),
        source=TEXTBOOK,
        limit=bar.demand_a.limit,
    )
    low = start.value and bar.volts
    peak = Figure.total(
        name=f"{tag} given for a moment",
        unit="A",
        formula="Σ peak of the converters; their output where the datasheet says none",
        inputs=tuple(Given(one.tag, one.spec.peak_a or output_a(one.spec, low or 1.0), "A") for one in feeding),
        source="converter datasheet",
    )
    share = bar.demand_a.value / given.value if given.value and math.isfinite(given.value) else 0.0
    least = min(feeding, key=lambda one: efficiency_at(one.spec, share), default=None)
    return FedBar(
        tag=tag,
        name=name,
        converters=tuple(one.tag for one in feeding),
        demand_a=bar.demand_a,
        given_a=given,
        start_a=start,
        peak_a=peak,
        efficiency_share=Figure(
            name=f"Efficiency of {least.tag}" if least is not None else "Efficiency",
            value=efficiency_at(least.spec, share) if least is not None else 1.0,
            unit="1",
            formula="curve at the share of the output, or as the datasheet says",
            inputs=(bar.demand_a, given),
            source="converter datasheet",
        ),
    )


def drop_out(whole: Job, loads: tuple[Load, ...], bar: str) -> DropOut:
    """Loads dark and alive once the bank of a bar has switched off and nothing is plugged in.

    A bar stays alive by a bank of its own, or by a converter from one that does; the vehicle's own by its battery.
    """
    banks = {one.tag for one in whole.bars if one.bank is not None} | {whole.wiring.board.tag, VEHICLE}
    alive = banks - {bar}
    for _ in range(len(whole.bars) + 1):
        for one in whole.converters:
            start, end = bar_tag(whole, one.start), bar_tag(whole, one.end)
            if one.works == "engine":
                continue
            if start in alive and end != bar:
                alive.add(end)
            if one.both_ways and end in alive and start != bar:
                alive.add(start)
    dark, left = list[str](), list[str]()
    for load in loads:
        if load.supply.startswith("DC"):
            on = load_bar(whole, load)
            own = whole.wiring.board.tag if bar_of(whole, on) is None else on
            (left if own in alive else dark).append(load.tag)
        else:
            group = next(
                (
                    one
                    for one in whole.groups
                    if load.on == one.tag or load.circuit in {circuit.tag for circuit in one.ac.circuits}
                ),
                None,
            )
            on = bar_tag(whole, group.bar) if group is not None else whole.wiring.board.tag
            (left if on in alive else dark).append(load.tag)
    shown = tuple(tag for tag in (whole.wiring.board.tag, *(one.tag for one in whole.bars)) if tag in alive)
    return DropOut(bar=bar, dark=tuple(dark), alive=tuple(left), bars_alive=shown)
