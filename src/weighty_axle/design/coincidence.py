"""Honest peaks: what loads that cycle add up to, over drawn days. Made on demand: it needs numpy, and the first screen does not."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from weighty_axle.design.brief import DC_CHANNEL, Row
from weighty_axle.design.derive import Design
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.model import Load, Season
from weighty_axle.physics.cycling import DRAWN_DAYS, STEP_MIN, STEPS_A_DAY, DrawnDays, Stretch, Switching, drawn_days, drawn_powers, rank95

if TYPE_CHECKING:
    from weighty_axle.physics.cycling import Floats


class Coincidence(Struct, frozen=True):
    """One kind of day: powers per 5-minute step over the drawn days [W], all feeds together, and the honest AC peak."""

    profile: str
    all_feeds: DrawnDays
    peak_ac_p95_w: Figure


def coincidence(design: Design, kind: str, season: Season | None = None) -> Coincidence:
    """Drawn days of a kind of day.

    Source: physics.cycling; the draw is named in the job.
    """
    profile, draw = design.brief.profile(kind, season), design.job.draw
    loads = {load.tag: load for load in design.job.loads}
    ac_w = _powers(draw, loads, tuple(row for row in profile.rows if row.channel < DC_CHANNEL))
    dc_w = _powers(draw, loads, tuple(row for row in profile.rows if row.channel == DC_CHANNEL))
    worst = design.brief.days[kind].peak_ac_w
    highest = sorted(ac_w.max(axis=0).tolist())
    peak = Figure(
        f"AC power on 19 of 20 days, {design.brief.days[kind].name}", highest[rank95(len(highest))], "W", "highest of each drawn day, 95th percentile by nearest rank",
        (Given("Drawn days", DRAWN_DAYS, "count"), Given("Steps of each", STEP_MIN, "min"), worst), TEXTBOOK,
        f"draw “{draw}”; on and off times from duty and cycle; everything at once stays the ceiling",
    )  # fmt: skip
    return Coincidence(profile.key, drawn_days(ac_w + dc_w), peak)


def _powers(draw: str, loads: dict[str, Load], rows: tuple[Row, ...]) -> Floats:
    steady: list[Stretch] = []
    cycling = []
    for row in rows:
        load, runs = loads[row.tag], _runs(row)
        if row.mean_share >= 1:
            steady += [(first, last, row.full_w * level) for first, last, level in runs]
        else:
            cycling.append(Switching(row.tag, row.full_w / load.count, load.count, row.mean_share, load.cycle_min, runs))
        if row.standby_w:
            gaps = zip([0, *(last for _, last, _ in runs)], [*(first for first, _, _ in runs), STEPS_A_DAY], strict=True)
            steady += [(start, end, row.standby_w) for start, end in gaps if end > start]
    return drawn_powers(draw, steady, cycling)


def _runs(row: Row) -> tuple[Stretch, ...]:
    """Painted stretches in whole 5-minute steps, so that a shorter one is not missed; where two share a step the higher level holds."""
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
