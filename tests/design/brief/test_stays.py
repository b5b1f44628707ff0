from __future__ import annotations

import itertools
import random

import pytest
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.job.edits.brief import add_stay
from weighty_axle.job.models.brief import Stay


def test_the_longest_run_goes_over_the_turn_of_the_year(clinic):
    def stay(tag, first, days, source=""):
        return Stay(
            tag=tag,
            place=tag,
            latitude_deg=50.0,
            longitude_deg=0.0,
            height_m=0.0,
            first_day=first,
            days=days,
            day_kind="CLINIC",
            source=source,
        )

    job = clinic
    for one in (stay("SA", 1, 20), stay("SB", 100, 30), stay("SC", 350, 16)):
        job = add_stay(one).apply(job)
    assert derive(job).itinerary.longest_off_grid_days.value == 36
    assert derive(add_stay(stay("SD", 60, 10, "P50")).apply(job)).itinerary.longest_off_grid_days.value == 36
    whole = add_stay(stay("SE", 1, 365)).apply(clinic)
    assert derive(whole).itinerary.longest_off_grid_days.value == 365, (
        "a year without hook-up has no more days than a year"
    )


@pytest.mark.parametrize("seed", range(12))
def test_the_year_against_a_calendar(library_bus, seed):
    """Every day of the year written down: what kind it is, whether a plug is there, how far one drives."""
    dice = random.Random(seed)
    kinds, plugs = (
        [kind.tag for kind in library_bus.day_kinds],
        [source.tag for source in library_bus.inverters.sources],
    )
    stays, day = [], 1 + dice.randrange(20)
    while day < 340 and len(stays) < 14:
        days = dice.randint(1, 40)
        if day + days > 366:
            break
        stays.append(
            Stay(
                tag=f"ST{len(stays) + 1}",
                place=f"Place {len(stays)}",
                latitude_deg=45.0,
                longitude_deg=0.0,
                height_m=10.0,
                first_day=day,
                days=days,
                day_kind=dice.choice(kinds),
                source=dice.choice(["", "", *plugs]),
                driven_h=dice.choice([0.0, 0.5, 3.0]),
            )
        )
        day += days + dice.choice([0, 0, 3])
    dice.shuffle(stays)
    year = derive(replace(library_bus, stays=tuple(stays))).itinerary
    calendar = {day: stay for stay in stays for day in range(stay.first_day, stay.first_day + stay.days)}
    uses = {kind.tag: kind.use for kind in library_bus.day_kinds}
    assert year.days_of_kind == {kind: sum(stay.day_kind == kind for stay in calendar.values()) for kind in kinds}
    without = [
        day in calendar and not calendar[day].source and uses[calendar[day].day_kind] != "stored"
        for day in range(1, 366)
    ]
    assert year.off_grid_days.value == sum(without) and year.planned_days.value == len(calendar)
    assert year.longest_off_grid_days.value == max(
        (len(list(run)) for alone, run in itertools.groupby(without) if alone), default=0
    )
    assert year.driven_h.value == pytest.approx(sum(stay.driven_h for stay in calendar.values()))
