"""Feeds of converters where no bank's runs reach: from the vehicle's own bar, shared or each by itself, and from
converters to bars they feed.
"""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.charging.converters import output_a, output_w, rated, volts_of
from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.choices import ConductorChoice, choice_name, conductor_choices
from weighty_axle.design.wiring.runs import LOAD_FACTOR, SLACK_M
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import Job
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


def feeds(whole: Job, system: System) -> tuple[FeedRun, ...]:
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
        found += [_from_vehicle(whole, name, tuple(several)) for name, several in shared.items()]
    for one in whole.converters:
        end = bar_tag(whole, one.end)
        stated = bar_of(whole, end)
        if stated is not None and stated.bank is None and fed_by(whole, end) == system.bar:
            found.append(_to_bar(whole, one, end, stated.place))
    return tuple(found)


def _from_vehicle(whole: Job, name: str, several: tuple[Converter, ...]) -> FeedRun:
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
    measured = [one.feed_m for one in several if one.feed_m is not None]
    length = _measured(name, max(measured)) if measured else None
    return _feed(whole, name, VEHICLE, " ".join(one.tag for one in several), several, current, length, low)


def _to_bar(whole: Job, one: Converter, end: str, place: Place) -> FeedRun:
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
    length = _measured(f"{one.tag} to {end}", one.lead_m) if one.lead_m is not None else _by_place(one, end, place)
    return _feed(whole, f"{one.tag} to {end}", one.tag, end, (one,), current, length, held)


def _measured(name: str, length_m: float) -> Figure:
    return Figure(
        name=f"{name} length",
        value=length_m,
        unit="m",
        formula="measured",
        inputs=(Given("Measured, one way", length_m, "m"),),
        source="measured at the survey",
    )


def _by_place(one: Converter, end: str, place: Place) -> Figure:
    along, across, up = (abs(getattr(one.place, axis) - getattr(place, axis)) for axis in ("x_m", "y_m", "z_m"))
    return Figure(
        name=f"{one.tag} to {end} length",
        value=along + across + up + 2 * SLACK_M,
        unit="m",
        formula="along + across + up + slack at both ends",
        inputs=(
            Given("Along", along, "m"),
            Given("Across", across, "m"),
            Given("Up", up, "m"),
            Given("Slack at each end", SLACK_M, "m"),
        ),
        source=PRACTICE,
        limit="taken from the drawing; measure before cutting",
    )


def _feed(
    whole: Job,
    tag: str,
    start: str,
    end: str,
    several: tuple[Converter, ...],
    current: Figure,
    length: Figure | None,
    volts: float,
) -> FeedRun:
    ratings = tables.fuse_ratings(whole.practice)
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
    if length is not None:
        table = tables.ampacity_tables()[whole.wiring.ampacity_table]
        choices = conductor_choices(whole.wiring, table, length.value, current.value, fuse.value, volts)
        chosen = next((one for one in choices if not one.against), None)
        if chosen is not None:
            celsius = whole.wiring.insulation_c
            metre = Given(f"Resistance per metre at {celsius} °C", ohm_per_m(chosen.size, celsius), "ohm")
            drop = Figure(
                name=f"{tag} drop",
                value=2 * length.value * metre.value * current.value / chosen.count / volts,
                unit="1",
                formula="2 × length × resistance per metre × current ÷ conductors ÷ voltage",
                inputs=(
                    length,
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
        length_m=length,
        chosen=chosen,
        drop_share=drop,
    )
