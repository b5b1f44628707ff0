"""The year as open data and as lines of text."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from weighty_axle.answers.year.events import events
from weighty_axle.answers.year.lived import Lived
from weighty_axle.answers.year.result import YearResult, year_result
from weighty_axle.answers.year.weathers import PERCENTILES, QUANTITIES, Weathers
from weighty_axle.answers.year.words import sentences
from weighty_axle.design.figures import Figure
from weighty_axle.exports.data.figures import figure_data
from weighty_axle.units import show


def result_figures(result: YearResult) -> Iterator[tuple[str, Figure]]:
    """Figures of a year by name, in their order."""
    for name in result.__struct_fields__:
        value = getattr(result, name)
        if isinstance(value, Figure):
            yield name, value


def year_data(year: Lived, many: Weathers | None) -> dict[str, Any]:
    """Totals, months, what each load went without, events, percentiles; energies in Wh, shares of 1."""
    result = year_result(year)
    return {
        "seed": result.seed,
        "step_min": result.step_min,
        "notes": list(result.notes),
        "totals": {name: figure_data(figure) for name, figure in result_figures(result)},
        "closes_wh": result.closes_wh,
        "months": [{name: getattr(one, name) for name in one.__struct_fields__} for one in result.months],
        "loads": [{name: getattr(one, name) for name in one.__struct_fields__} for one in result.without],
        "events": [{"day": one.day, "words": one.words} for one in events(year)],
        "sentences": list(sentences(year, result, many)),
        "weathers": weathers_data(many) if many is not None else None,
    }


def weathers_data(many: Weathers) -> dict[str, Any]:
    """Percentiles over many years, and the year that decides."""
    return {
        "years": len(many.sums),
        "step_min": many.step_min,
        "deciding_year": many.deciding,
        "percentiles": {
            key: {f"p{percent}": one.value for percent, one in zip(PERCENTILES, many.percentiles(key), strict=True)}
            for key in QUANTITIES
        },
    }


def year_lines(year: Lived, many: Weathers | None) -> Iterator[str]:
    """The year as text: sentences, totals, months, events."""
    result = year_result(year)
    yield from result.notes
    yield from sentences(year, result, many)
    yield ""
    for _, figure in result_figures(result):
        yield f"{figure.name:48} {show(figure.value, figure.unit):>14}"
    yield ""
    heads = "".join(f"{one:>9}" for one in ("asked", "missing", "sun", "unused", "engine", "hook-up"))
    yield f"{'':5}{heads}  kWh{'generator h':>13}{'lowest':>8}"
    for one in result.months:
        energies = (one.asked_wh, one.missing_wh, one.sun_wh, one.cut_wh, one.engine_wh, one.hookup_wh)
        cells = "".join(f"{value / 1000:9.1f}" for value in energies)
        yield f"{one.month:5}{cells}     {one.generator_h:13.1f}{one.lowest_share:8.0%}"
    yield ""
    yield from (one.words for one in events(year))
