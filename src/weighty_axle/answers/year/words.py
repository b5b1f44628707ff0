"""The year in sentences a customer understands, honest about the spread."""

from __future__ import annotations

import numpy as np

from weighty_axle.answers.year.lived import Lived
from weighty_axle.answers.year.result import YearResult, course_of
from weighty_axle.answers.year.weathers import Weathers
from weighty_axle.design.brief.seasons import date_words
from weighty_axle.physics.year import columns as at

LEAST_SHARE = 0.0005
"""Share of what is asked under which nothing is said to be missing."""
COOLING = ("air conditioner", "air conditioning", "cooler", "cooling")


def nights_without_sun(year: Lived) -> int:
    """Nights in a row that the bank lasts on the kind of day that takes most, nothing coming in."""
    days = year.design.bank.days.value
    return int(days) if days < 365 else 365


def cooling_days(year: Lived) -> tuple[int, int] | None:
    """Days on which cooling is asked for, and those on which it gets nine tenths of it; None where nothing cools."""
    own = [one.tag for one in year.design.job.loads if any(word in one.name.lower() for word in COOLING)]
    if not own:
        return None
    per_day = year.inputs.sunny.per_day
    asked, missing = np.zeros(len(year.series)), np.zeros(len(year.series))
    for tag in own:
        asks, lacks = course_of(year, tag)
        asked, missing = asked + asks, missing + lacks
    by_day, lacking = asked.reshape(-1, per_day).sum(axis=1), missing.reshape(-1, per_day).sum(axis=1)
    wanted = by_day > 0
    return int(wanted.sum()), int((wanted & (lacking <= 0.1 * by_day)).sum())


def sentences(year: Lived, result: YearResult, many: Weathers | None) -> tuple[str, ...]:
    """What the customer may count on."""
    found = []
    nights = nights_without_sun(year)
    found.append(
        f"Without sun, hook-up or driving the batteries last {nights} night{'s' if nights != 1 else ''} of the kind of "
        "day that takes most."
        if nights
        else "Without sun, hook-up or driving the batteries do not last one whole day of the kind that takes most."
    )
    cooling = cooling_days(year)
    if cooling is not None and cooling[0]:
        found.append(f"Cooling is wanted on {cooling[0]} days of the year and runs as wanted on {cooling[1]} of them.")
    if year.inputs.generator:
        found.append(
            f"The generator runs {result.generator_h.value:.0f} h in the year and burns {result.fuel_l.value:.0f} l."
        )
    share = result.missing_share.value
    if share < LEAST_SHARE:
        found.append("Nothing that is planned has to wait in this year's weather.")
    else:
        worst = result.without[0]
        found.append(
            f"Of what is planned {_percent(share)} cannot be given; {worst.name} goes without most, "
            f"{worst.hours:.0f} h of the year."
        )
        must = {one.tag for one in year.design.job.loads if one.must_run}
        longest = max((one for one in result.without if one.tag in must), key=lambda one: one.hours, default=None)
        if longest is not None and longest.hours >= 1.0:
            found.append(f"Of what must run, {longest.name} goes without longest, {longest.hours:.0f} h.")
    found.append(
        f"The lowest charge is {result.lowest_share.value:.0%}, on {date_words(result.lowest_day)}; "
        f"{result.cut_wh.value / 1000:.0f} kWh of sun find the batteries full."
    )
    if many is not None:
        found.extend(_spread(year, many))
    return tuple(found)


def _percent(share: float) -> str:
    return f"{100 * share:.1f} %" if share < 0.1 else f"{100 * share:.0f} %"


def _spread(year: Lived, many: Weathers) -> list[str]:
    asked = sum(one for one in _asked(year))
    good, usual, bad = (one.value / asked if asked else 0.0 for one in many.percentiles("missing_wh"))
    count = len(many.sums)
    nothing = f"In {count} years of drawn weather nothing is missing in nine of ten."
    found = [
        nothing
        if bad < LEAST_SHARE
        else f"In {count} years of drawn weather {_percent(usual)} is missing in a usual year, {_percent(good)} in a "
        f"good one and {_percent(bad)} in a bad one: one year in ten is worse than that."
    ]
    if year.inputs.generator:
        _, often, most = (one.value for one in many.percentiles("generator_h"))
        found.append(f"The generator runs {often:.0f} h in a usual year and {most:.0f} h in a bad one.")
    return found


def _asked(year: Lived) -> list[float]:
    loads = year.arrays.loads[year.arrays.days[:, at.LOAD_ROW], 0]
    return [float((loads[..., at.DC_W] + loads[..., at.AC_W]).sum() * year.hours)]
