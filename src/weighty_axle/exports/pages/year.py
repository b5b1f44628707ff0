"""The customer's year in print: what may be counted on, in sentences, by month, by load; designs compared."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.year.events import events
from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import YearResult, year_result
from weighty_axle.answers.year.weathers import weathers
from weighty_axle.answers.year.words import sentences
from weighty_axle.exports.data.compare import ROWS, compare
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import show

YEARS = 40
"""Weathers drawn for the spread of a print. Source: common practice, no source."""
MOST_EVENTS, MOST_LOADS, MOST_BESIDE = 24, 12, 4


def pages(on: PackPages) -> list[Any]:
    """Sentences, months, loads that go without, events; nothing where nothing is planned and nothing runs."""
    design = on.design
    if not design.job.loads:
        return []
    year = live(design)
    result = year_result(year)
    many = weathers(design, years=YEARS, step_min=60)
    said = [*result.notes, *sentences(year, result, many)]
    flow: list[Any] = [on.text("A year on the road", on.head), *(on.text(one) for one in said)]
    flow.append(
        on.text(
            f"Weather “{result.seed}”, steps of {result.step_min} min; the spread of {YEARS} years by whole hours. "
            "Drawn weather is no forecast; who drives, parks and switches decides as much."
        )
    )
    flow += [*_months(on, result), *_without(on, result)]
    told = [one for one in events(year) if one.grave] or list(events(year))
    if told:
        flow.append(on.text("What happens", on.head))
        flow += [on.text(one.words) for one in told[:MOST_EVENTS]]
        if len(told) > MOST_EVENTS:
            flow.append(on.text(f"And {len(told) - MOST_EVENTS} more days."))
    return flow + _compared(on)


def _months(on: PackPages, result: YearResult) -> list[Any]:
    rows = [["Month", "Asked", "Missing", "Sun used", "Sun unused", "Engine", "Hook-up", "Generator", "Lowest charge"]]
    rows += [
        [
            one.month,
            show(one.asked_wh, "Wh"),
            show(one.missing_wh, "Wh"),
            show(one.sun_wh, "Wh"),
            show(one.cut_wh, "Wh"),
            show(one.engine_wh, "Wh"),
            show(one.hookup_wh, "Wh"),
            show(one.generator_h, "h"),
            show(one.lowest_share, "1"),
        ]
        for one in result.months
    ]
    return [on.table(rows, (0.09, 0.115, 0.115, 0.115, 0.125, 0.11, 0.115, 0.115, 0.1))]


def _without(on: PackPages, result: YearResult) -> list[Any]:
    own = [one for one in result.without if one.missing_wh > 1.0]
    if not own:
        return []
    rows = [["Goes without", "", "Asked", "Missing", "Hours"]]
    rows += [
        [one.tag, one.name, show(one.asked_wh, "Wh"), show(one.missing_wh, "Wh"), f"{one.hours:.0f}"]
        for one in own[:MOST_LOADS]
    ]
    return [on.table(rows, (0.12, 0.43, 0.15, 0.15, 0.15))]


def _compared(on: PackPages) -> list[Any]:
    """The designs of the job side by side, for the customer; once, with the house."""
    job = on.design.whole
    if not job.variants or on.design.system.key:
        return []
    found = compare(job)
    flow: list[Any] = [on.text("Designs side by side", on.head)]
    for first in range(1, len(found), MOST_BESIDE):
        own = (found[0], *found[first : first + MOST_BESIDE])
        rows = [["", *(one.name for one in own)]]
        for row in ROWS:
            cells = [one.figures.get(row.key) for one in own]
            if any(cells):
                rows.append([row.words, *(show(one.value, one.unit) if one is not None else "–" for one in cells)])
        rows += [
            [severity.title(), *(str(one.findings.get(severity, "–")) for one in own)]
            for severity in ("stop", "check", "note")
        ]
        flow.append(on.table(rows, (0.28, *(0.72 / len(own) for _ in own))))
    flow += [on.text(f"{one.name}: {one.refused or one.why}") for one in found if one.refused or one.why]
    return flow
