"""Honest peaks: what loads that cycle add up to, over drawn days. Made on demand: it needs numpy, and the first screen does not."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.brief import Row
from weighty_axle.design.derive import Design
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.model import Load, Season
from weighty_axle.physics.cycling import DRAWN_DAYS, STEP_MIN, STEPS_A_DAY, DrawnDays, Switching, drawn_days
from weighty_axle.physics.daytime import DAY_MIN


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
    ac = _drawn(draw, loads, tuple(row for row in profile.rows if row.channel < 4))
    worst = design.brief.days[kind].peak_ac_w
    peak = Figure(
        f"AC power on 19 of 20 days, {design.brief.days[kind].name}", ac.p95_highest_w, "W", "highest of each drawn day, 95th percentile by nearest rank",
        (Given("Drawn days", DRAWN_DAYS, "count"), Given("Steps of each", STEP_MIN, "min"), worst), TEXTBOOK,
        f"draw “{draw}”; on and off times from duty and cycle; everything at once stays the ceiling",
    )  # fmt: skip
    return Coincidence(profile.key, _drawn(draw, loads, profile.rows), peak)


def _drawn(draw: str, loads: dict[str, Load], rows: tuple[Row, ...]) -> DrawnDays:
    steady, cycling = [0.0] * STEPS_A_DAY, []
    for row in rows:
        load = loads[row.tag]
        levels = _levels(row)
        if row.mean_share >= 1:
            steady = [base + row.full_w * level for base, level in zip(steady, levels, strict=True)]
        else:
            cycling.append(Switching(row.tag, row.full_w / load.count, load.count, row.mean_share, load.cycle_min, tuple(levels)))
        if row.standby_w:
            steady = [base if level else base + row.standby_w for base, level in zip(steady, levels, strict=True)]
    return drawn_days(draw, steady, cycling)


def _levels(row: Row) -> list[float]:
    """Highest level painted in each 5-minute step, so that a shorter stretch is not missed."""
    levels = [0.0] * STEPS_A_DAY
    for span in row.spans:
        for step in range(span.start_min // STEP_MIN, -(-min(span.end_min, DAY_MIN) // STEP_MIN)):
            levels[step] = max(levels[step], span.level)
    return levels
