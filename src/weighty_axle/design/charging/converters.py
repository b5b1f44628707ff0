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
    `other` is the bar at its other end.
    """

    converter: Converter
    other: str
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
    if bar == VEHICLE and whole.charging.alternator is not None:
        high = whole.charging.alternator.volts
        return high * 12 / 14.4, high
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


def alternator_demand(whole: Job, stated: Charging) -> Figure | None:
    """What converters take from the alternator's bar while the engine runs; None without an alternator.

    Source: converter datasheets; textbook relation.
    """
    alternator = stated.alternator
    if alternator is None:
        return None
    takes = [
        Given(
            f"{one.tag} takes",
            min(
                output_w(one.spec, volts_of(whole, bar_tag(whole, one.end))[1]) / one.spec.efficiency,
                (one.spec.input_a or math.inf) * alternator.volts,
            ),
            "W",
        )
        for one in whole.converters
        if one.start == stated.alternator_bar
    ]
    return Figure(
        name="Alternator chargers take",
        value=sum(one.value for one in takes) / alternator.volts,
        unit="A",
        formula="Σ output ÷ efficiency ÷ alternator voltage, each at most its input limit",
        inputs=(*takes, Given("Alternator voltage", alternator.volts, "V")),
        source="converter datasheet; " + TEXTBOOK,
    )


def direct_alternator(stated: Charging, bar: str, pack: PackSpec) -> Figure | None:
    """What an alternator straight on this bar gives at its most; None where it is on another, or where the bank takes
    by its voltage what it needs, as lead-acid does.
    """
    alternator = stated.alternator
    if alternator is None or stated.alternator_bar != bar or pack.chemistry in ("flooded", "agm"):
        return None
    return Figure.difference(
        name="Alternator, straight",
        unit="A",
        formula="nameplate − vehicle loads",
        inputs=(Given("Nameplate", alternator.rated_a, "A"), Given("Vehicle's own loads", alternator.vehicle_a, "A")),
        source=TEXTBOOK,
        limit="cold; nothing but the bank's own voltage holds it back",
    )
