"""Converters at a bar: what each can carry into it and takes out of it, in amperes at that bar's voltage."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.draws import voltage_class
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.bank import PackSpec
from weighty_axle.job.models.charging import VEHICLE, Charging, Converter, ConverterSpec
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import bar_of, bar_tag

BAR_V = {12: (12.0, 14.4), 24: (24.0, 28.8), 48: (48.0, 57.6)}
"""Lowest and charging voltage of a bar by its class. Source: common practice, no source."""


class ConverterEnd(Struct, frozen=True, kw_only=True):
    """One converter as seen from a bar.

    `gives_a` is the most it carries into the bar, `takes_a` the most it draws from it; 0 where it does not that way.
    `other` is the bar at its other end; `starts_here` says whether it starts at this one.
    """

    converter: Converter
    other: str
    starts_here: bool
    gives_a: Figure
    takes_a: Figure

    @property
    def by_engine(self) -> bool:
        """Whether it works only while the engine runs."""
        return self.converter.works == "engine"


def output_a(spec: ConverterSpec, low_v: float) -> float:
    """Most current into a bar [A]: its rating in amperes, or in watts at the lowest working voltage; the less of
    both.
    """
    return min(
        math.inf if spec.output_a is None else spec.output_a,
        math.inf if spec.output_w is None else spec.output_w / (spec.output_v or low_v),
    )


def output_w(spec: ConverterSpec, high_v: float) -> float:
    """Most power out [W]: its rating in watts, or in amperes at the highest voltage; the less of both."""
    return min(
        math.inf if spec.output_a is None else spec.output_a * (spec.output_v or high_v),
        math.inf if spec.output_w is None else spec.output_w,
    )


def ends_at(whole: Job, bar: str, bank: BankRatings) -> tuple[ConverterEnd, ...]:
    """Every converter with an end at a bar.

    Source: converter datasheet; textbook relations.
    """
    found = []
    for one in whole.converters:
        start, end = bar_tag(whole, one.start), bar_tag(whole, one.end)
        if bar not in (start, end):
            continue
        into, out = end == bar or one.both_ways, start == bar or one.both_ways
        other = start if end == bar else end
        found.append(
            ConverterEnd(
                converter=one,
                other=other,
                starts_here=start == bar,
                gives_a=_gives(one, bank) if into else _none(one, "gives"),
                takes_a=_takes(one, bank, volts_of(whole, other)[1]) if out else _none(one, "takes"),
            )
        )
    return tuple(found)


def volts_of(whole: Job, bar: str) -> tuple[float, float]:
    """Lowest and charging voltage of a bar [V], by its class; of the vehicle's own, the alternator's."""
    stated = bar_of(whole, bar)
    if stated is not None:
        return BAR_V[stated.volts]
    held = [one for one in whole.charging.alternators if one.bar == bar]
    if bar == VEHICLE and held:
        high = max(one.volts for one in held)
        return min(high * 12 / 14.4, *(one.low_v or high for one in held)), high
    return BAR_V[24] if bar == VEHICLE else BAR_V[house_class(whole)]


def house_class(whole: Job) -> int:
    """12, 24 or 48: the class of the house bar, by its bank."""
    spec = whole.bank.spec
    return voltage_class(spec.cells_in_series * whole.bank.series * spec.cell_nominal_v)


def _none(one: Converter, way: str) -> Figure:
    return Figure(
        name=f"{one.tag} {way}", value=0.0, unit="A", formula="it does not carry that way", inputs=(), source=PRACTICE
    )


def _gives(one: Converter, bank: BankRatings) -> Figure:
    spec = one.spec
    return Figure(
        name=f"{one.tag} gives",
        value=output_a(spec, bank.lowest_working_v.value),
        unit="A",
        formula="rated output; what is rated in watts ÷ lowest working voltage, or the voltage it holds",
        inputs=(*rated(spec), bank.lowest_working_v),
        source="converter datasheet",
    )


def rated(spec: ConverterSpec) -> tuple[Given, ...]:
    """What the datasheet rates its output at."""
    ratings = ((spec.output_w, "W"), (spec.output_a, "A"))
    return tuple(Given("Output", rating, unit) for rating, unit in ratings if rating is not None)


def _takes(one: Converter, bank: BankRatings, other_v: float) -> Figure:
    spec, low = one.spec, bank.lowest_working_v
    watts = Given("Output at the other end", output_w(spec, other_v), "W")
    taken = watts.value / spec.efficiency / low.value
    return Figure(
        name=f"{one.tag} takes",
        value=min(taken, spec.input_a or math.inf),
        unit="A",
        formula="output ÷ efficiency ÷ lowest working voltage, at most its input limit",
        inputs=(
            watts,
            Given("Efficiency", spec.efficiency, "1"),
            low,
            *([Given("Input, most", spec.input_a, "A")] if spec.input_a is not None else []),
        ),
        source="converter datasheet",
    )


def direct_alternators(stated: Charging, bar: str, pack: PackSpec) -> Figure | None:
    """What alternators straight on this bar give at their most; None where there is none, or where the bank takes by
    its voltage what it needs, as lead-acid does: beside other sources an alternator gives it that much less.
    """
    own = tuple(one for one in stated.alternators if one.bar == bar)
    if not own or pack.chemistry in ("flooded", "agm"):
        return None
    return Figure.total(
        name="Alternator, straight",
        unit="A",
        formula="Σ nameplate − vehicle loads",
        inputs=(
            *(Given(f"Nameplate of {one.tag}", one.rated_a, "A") for one in own),
            *(Given(f"Vehicle's own loads, {one.tag}", -one.vehicle_a, "A") for one in own),
        ),
        source=TEXTBOOK,
        limit="cold; nothing but the bank's own voltage holds it back",
    )


def takes_from(whole: Job, bar: str) -> tuple[tuple[Converter, str], ...]:
    """Converters that can take from a bar while the engine runs, each with the bar it carries to."""
    found = []
    for one in whole.converters:
        start, end = bar_tag(whole, one.start), bar_tag(whole, one.end)
        if start == bar:
            found.append((one, end))
        elif end == bar and one.both_ways:
            found.append((one, start))
    return tuple(found)


def input_w(whole: Job, one: Converter, to: str) -> float:
    """What a converter takes at full output [W]."""
    return output_w(one.spec, volts_of(whole, to)[1]) / one.spec.efficiency
