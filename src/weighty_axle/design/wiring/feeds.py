"""Feeds of converters where no bank's runs reach: from the vehicle's own bar, shared or each by itself, and from
converters to bars they feed.
"""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.charging.converters import output_a, output_w, rated, volts_of
from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.choices import ConductorChoice, choice_name, conductor_choices
from weighty_axle.design.wiring.lengths import length, measured
from weighty_axle.design.wiring.runs import LOAD_FACTOR
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import Job, Practice
from weighty_axle.job.models.wiring import Wiring
from weighty_axle.job.stated import Place
from weighty_axle.job.systems import HOUSE, System, bar_of, bar_tag, fed_by
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference import tables
from weighty_axle.units import conductor_words


class FeedRun(Struct, frozen=True, kw_only=True):
    """A two-wire feed with its fuse; `length_m` is None where nothing says how long it is: then nothing is chosen."""

    tag: str
    start: str
    end: str
    converters: tuple[str, ...]
    current_a: Figure
    fuse_a: Figure
    length_m: Figure | None
    chosen: ConductorChoice | None
    drop_share: Figure | None


def feeds(whole: Job, wiring: Wiring, system: System) -> tuple[FeedRun, ...]:
    """Feeds of a system: those from the vehicle's own bar belong to the house, those to a fed bar to what feeds it.

    Source: converter datasheets; ampacity tables of reference/.
    """
    if system.shares_bank:
        return ()
    found = []
    if system.key == HOUSE:
        shared: dict[str, list[Converter]] = {}
        for one in whole.converters:
            if one.start == VEHICLE:
                shared.setdefault(one.feed or f"{one.tag} feed", []).append(one)
        found += [_from_vehicle(whole, wiring, name, tuple(several)) for name, several in shared.items()]
    for one in whole.converters:
        end = bar_tag(whole, one.end)
        stated = bar_of(whole, end)
        if stated is not None and stated.bank is None and fed_by(whole, end) == system.bar:
            found.append(_to_bar(whole, wiring, one, end, stated.place))
    return tuple(found)


def _from_vehicle(whole: Job, wiring: Wiring, name: str, several: tuple[Converter, ...]) -> FeedRun:
    low, _ = volts_of(whole, VEHICLE)
    takes = tuple(
        Given(
            one.tag,
            min(
                output_w(one.spec, volts_of(whole, bar_tag(whole, one.end))[1]) / one.spec.efficiency / low,
                one.spec.input_a or math.inf,
            ),
            "A",
        )
        for one in several
    )
    current = Figure.total(
        name=f"{name} current",
        unit="A",
        formula="Σ of what the converters on it take at the lowest voltage",
        inputs=takes,
        source="converter datasheet",
        limit=f"{low:.1f} V at the vehicle's bar",
    )
    lengths = [one.feed_m for one in several if one.feed_m is not None]
    found = measured(name, max(lengths)) if lengths else None
    return _feed(
        whole.practice, wiring, name, VEHICLE, " ".join(one.tag for one in several), several, current, found, low
    )


def _to_bar(whole: Job, wiring: Wiring, one: Converter, end: str, place: Place) -> FeedRun:
    low, _ = volts_of(whole, end)
    held = one.spec.output_v or low
    current = Figure(
        name=f"{one.tag} output current",
        value=output_a(one.spec, held),
        unit="A",
        formula="rated output; what is rated in watts ÷ the voltage it holds",
        inputs=(*rated(one.spec), Given("Voltage it holds", held, "V")),
        source="converter datasheet",
    )
    one_way = length(f"{one.tag} to {end}", one.lead_m, one.place, place)
    return _feed(whole.practice, wiring, f"{one.tag} to {end}", one.tag, end, (one,), current, one_way, held)


def _feed(
    practice: Practice,
    stated: Wiring,
    tag: str,
    start: str,
    end: str,
    several: tuple[Converter, ...],
    current: Figure,
    one_way: Figure | None,
    volts: float,
) -> FeedRun:
    ratings = tables.fuse_ratings(practice)
    needed = current.value * LOAD_FACTOR
    fuse = Figure(
        name=f"{tag} fuse",
        value=next_rating_a(needed, ratings.amps) if needed <= max(ratings.amps) else needed,
        unit="A",
        formula="current × factor, next standard rating",
        inputs=(current, Given("Factor", LOAD_FACTOR, "ratio")),
        source=f"{ratings.source} (recalled; check against your copy)",
    )
    chosen = drop = None
    if one_way is not None:
        table = tables.ampacity_tables()[stated.ampacity_table]
        choices = conductor_choices(stated, table, one_way.value, current.value, fuse.value, volts)
        chosen = next((one for one in choices if not one.against), None)
        if chosen is not None:
            celsius = stated.insulation_c
            metre = Given(f"Resistance per metre at {celsius} °C", ohm_per_m(chosen.size, celsius), "ohm")
            drop = Figure(
                name=f"{tag} drop",
                value=2 * one_way.value * metre.value * current.value / chosen.count / volts,
                unit="1",
                formula="2 × length × resistance per metre × current ÷ conductors ÷ voltage",
                inputs=(
                    one_way,
                    metre,
                    current,
                    Given("Conductors in parallel", chosen.count, "count"),
                    Given("Voltage", volts, "V"),
                ),
                source=TEXTBOOK,
                limit=f"copper only; with {conductor_words(choice_name(chosen))}",
            )
    return FeedRun(
        tag=tag,
        start=start,
        end=end,
        converters=tuple(one.tag for one in several),
        current_a=current,
        fuse_a=fuse,
        length_m=one_way,
        chosen=chosen,
        drop_share=drop,
    )
