"""Honest peaks: what loads that cycle add up to, over drawn days.

Made on demand: it needs numpy, and the first screen does not.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec import Struct

from weighty_axle.design.brief.draws import DC_CHANNEL, LoadRow
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.brief import Load, Season
from weighty_axle.physics.loads.cycling import (
    DRAWN_DAYS,
    STEP_MIN,
    STEPS_A_DAY,
    DrawnDays,
    Stretch,
    Switching,
    drawn_days,
    drawn_powers,
    highest_powers,
    rank95,
)
from weighty_axle.physics.loads.daytime import DAY_MIN

if TYPE_CHECKING:
    from weighty_axle.physics.loads.cycling import Floats


Progress = Callable[[float, str], None]


def no_progress(_share: float, _words: str) -> None:
    """Progress that nobody follows."""


class Coincidence(Struct, frozen=True):
    """One kind of day: powers at 5-minute instants over the drawn days [W], all feeds together."""

    profile: str
    all_feeds: DrawnDays


def coincidence(design: Design, kind: str, season: Season | None = None) -> Coincidence:
    """Drawn days of a kind of day.

    Source: physics.cycling; the draw is named in the job.
    """
    profile = design.brief.profile(kind, season)
    loads = {load.tag: load for load in design.job.loads}
    return Coincidence(profile.key, drawn_days(_powers(design.job.draw, loads, profile.rows)))


def honest_peak(design: Design, kind: str, season: Season | None = None, progress: Progress = no_progress) -> Figure:
    """AC power that the highest of a day stays under on 19 of 20 drawn days, at the exact times at which anything
    switches on. Takes a moment.

    Source: physics.cycling.
    """
    profile, draw = design.brief.profile(kind, season), design.job.draw
    loads = {load.tag: load for load in design.job.loads}
    steady: list[Stretch] = []
    cycling = []
    for row in (row for row in profile.rows if row.channel < DC_CHANNEL):
        load = loads[row.tag]
        spans = tuple((span.start_min, span.end_min, span.level) for span in row.spans)
        if row.mean_share >= 1:
            steady += [(first, last, row.full_w * level) for first, last, level in spans]
        else:
            cycling.append(
                Switching(row.tag, row.full_w / load.count, load.count, row.mean_share, load.cycle_min, spans)
            )
        if row.standby_w:
            gaps = zip([0, *(last for _, last, _ in spans)], [*(first for first, _, _ in spans), DAY_MIN], strict=True)
            steady += [(start, end, row.standby_w) for start, end in gaps if end > start]
    progress(0.1, "Drawing days")
    highest = sorted(highest_powers(draw, steady, cycling).tolist())
    worst = design.brief.days[kind].peak_ac_w
    return Figure(
        name=f"AC power on 19 of 20 days, {design.brief.days[kind].name}",
        value=highest[rank95(len(highest))],
        unit="W",
        formula="highest of each drawn day, 95th percentile by nearest rank",
        inputs=(Given("Drawn days", DRAWN_DAYS, "count"), worst),
        source=TEXTBOOK,
        limit=f"draw “{draw}”; exact on and off times from duty and cycle; everything at once stays the ceiling",
    )


def _powers(draw: str, loads: dict[str, Load], rows: tuple[LoadRow, ...]) -> Floats:
    steady: list[Stretch] = []
    cycling = []
    for row in rows:
        load, runs = loads[row.tag], _runs(row)
        if row.mean_share >= 1:
            steady += [(first, last, row.full_w * level) for first, last, level in runs]
        else:
            cycling.append(
                Switching(row.tag, row.full_w / load.count, load.count, row.mean_share, load.cycle_min, runs)
            )
        if row.standby_w:
            gaps = zip(
                [0, *(last for _, last, _ in runs)], [*(first for first, _, _ in runs), STEPS_A_DAY], strict=True
            )
            steady += [(start, end, row.standby_w) for start, end in gaps if end > start]
    return drawn_powers(draw, steady, cycling)


def _runs(row: LoadRow) -> tuple[Stretch, ...]:
    """Painted stretches in whole 5-minute steps, so that a shorter one is not missed; where two share a step the higher
    level holds.
    """
    runs: list[Stretch] = []
    for span in row.spans:
        first, last = span.start_min // STEP_MIN, -(-span.end_min // STEP_MIN)
        if runs and first < runs[-1][1]:
            before = runs.pop()
            if span.level <= before[2]:
                runs.append(before)
                first = before[1]
            elif before[0] < first:
                runs.append((before[0], first, before[2]))
        if first < last:
            runs.append((first, last, span.level))
    return tuple(runs)
