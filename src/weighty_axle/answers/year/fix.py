"""What would fix it: the smallest changes after which the year meets what is wanted, found by search."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.mixes import as_design, change_words
from weighty_axle.answers.year.result import year_result
from weighty_axle.answers.year.sweep import Point, Swept, begin, points, sweep, usual_axes
from weighty_axle.answers.year.weathers import Progress
from weighty_axle.design.derive import Deriver
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.document import Job
from weighty_axle.physics.year import columns as at

MOST_OFFERED = 4
MOST_PLUGS = 5
LESS_SHARE = 0.5
"""A habit: the load that waits and takes most runs half as much. Source: common practice, no source."""


class Fix(Struct, frozen=True, kw_only=True):
    """A change with what the year then says: energy missing of what is asked, generator hours, cost (None where prices
    are missing) and mass more. `counts` are how many of each a mix has; empty for a habit.
    """

    words: str
    edit: Edit
    missing_share: float
    generator_h: float
    cost: float | None
    mass_kg: float
    meets: bool
    counts: tuple[int, ...] = ()


class FixResult(Struct, frozen=True, kw_only=True):
    """What is wanted, how the year is now, and what would put it right, the smallest first; where nothing does, the
    nearest alone.
    """

    most_missing_share: float
    most_generator_h: float
    missing_share: float
    generator_h: float
    met: bool
    fixes: tuple[Fix, ...]
    words: str


def fixes(design: Design, progress: Progress | None = None) -> FixResult:
    """Search of every mix of modules, packs, inverters and alternator chargers, and of habits one by one.

    Source: physics.year.kernel; the sweep.
    """
    wanted = design.job.year
    now = year_result(live(design))
    share, hours = now.missing_share.value, now.generator_h.value
    asked = now.asked_wh.value
    met = share <= wanted.most_unmet_share and hours <= wanted.most_generator_h
    found: list[Fix] = []
    if not met:
        found = [*_habits(design, asked), *_parts(design, asked, progress)]
    good = sorted(_least([one for one in found if one.meets]), key=_size)
    near = sorted(found, key=lambda one: _gap(design, one))
    offered = good[:MOST_OFFERED] if good else near[:1]
    if not any(one.counts for one in offered):
        # How far parts alone would get is worth knowing beside habits.
        offered += [one for one in near if one.counts][:1]
    return FixResult(
        most_missing_share=wanted.most_unmet_share,
        most_generator_h=wanted.most_generator_h,
        missing_share=share,
        generator_h=hours,
        met=met,
        fixes=tuple(offered),
        words=_words(design, share, hours, met, bool(good)),
    )


def _least(found: list[Fix]) -> list[Fix]:
    """Changes of which no part is enough: a mix with as much of everything and more of something is left out."""
    return [
        one
        for one in found
        if not any(
            other.counts != one.counts and all(a <= b for a, b in zip(other.counts, one.counts, strict=True))
            for other in found
            if other.counts and one.counts
        )
    ]


def _words(design: Design, share: float, hours: float, met: bool, can: bool) -> str:
    wanted = design.job.year
    goal = f"at most {wanted.most_unmet_share:.1%} missing and {wanted.most_generator_h:g} generator hours"
    now = f"Now {share:.1%} is missing and the generator runs {hours:.0f} h"
    if met:
        return f"{now}: that meets {goal}."
    if can:
        return f"{now}; wanted is {goal}. The smallest changes that get there:"
    return f"{now}; wanted is {goal}. Nothing that was tried gets there; the nearest:"


def _gap(design: Design, one: Fix) -> float:
    """How far a change leaves what is wanted."""
    wanted = design.job.year
    return (
        max(0.0, one.missing_share - wanted.most_unmet_share)
        + max(0.0, one.generator_h - wanted.most_generator_h) / 8760
    )


def _size(one: Fix) -> tuple[float, float]:
    """By cost where it is known, then by mass; what has neither is the smallest."""
    return (one.cost if one.cost is not None else abs(one.mass_kg), abs(one.mass_kg))


def _meets(job: Job, share: float, hours: float) -> bool:
    return share <= job.year.most_unmet_share + 1e-12 and hours <= job.year.most_generator_h + 1e-12


def _habits(design: Design, asked: float) -> list[Fix]:
    """Changes that need no parts, each lived by itself."""
    job, deriver, found = design.job, Deriver(), []
    tries: list[tuple[str, Edit]] = []
    if not job.year.sleeps and job.inverters.spec.sleep_w is not None:
        tries.append(("let the inverters sleep while nothing runs", set_value("year.sleeps", True, "Inverters sleep")))
    waiting = [one for one in job.loads if not one.must_run]
    if waiting:
        most = max(waiting, key=lambda one: one.running_w * one.count * one.duty)
        words = f"run {most.name} half as much"
        tries.append((words, set_value(f"loads[{most.tag}].duty", most.duty * LESS_SHARE, words.capitalize())))
    for words, edit in tries:
        found.append(_habit(design, deriver, words, edit, asked))
    plugs: list[Edit] = []
    own = design
    for _ in range(MOST_PLUGS):
        more = _plug(own)
        if more is None:
            break
        plugs.append(more)
        one = _habit(design, deriver, _plugs_words(design, plugs), _all_of(tuple(plugs)), asked)
        found.append(one)
        if one.meets:
            break
        own = deriver.derive(one.edit.on(design.whole, design.system.key))
    return found


def _habit(design: Design, deriver: Deriver, words: str, edit: Edit, asked: float) -> Fix:
    changed = deriver.derive(edit.on(design.whole, design.system.key))
    year = year_result(live(changed))
    share, hours = year.missing_wh.value / asked if asked else 0.0, year.generator_h.value
    return Fix(
        words=words,
        edit=edit,
        missing_share=share,
        generator_h=hours,
        cost=0.0,
        mass_kg=0.0,
        meets=_meets(design.job, share, hours),
    )


def _all_of(edits: tuple[Edit, ...]) -> Edit:
    def apply(job: Job) -> Job:
        for one in edits:
            job = one.apply(job)
        return job

    return Edit("; ".join(one.label for one in edits)[:200], apply)


def _plugs_words(design: Design, plugs: list[Edit]) -> str:
    names = {f"stays[{one.tag}].source": one.place for one in design.job.stays}
    places = list(dict.fromkeys(names[one.path] for one in plugs))
    return f"plug in at {places[0]}" if len(places) == 1 else f"plug in at {', '.join(places[:-1])} and {places[-1]}"


def _plug(design: Design) -> Edit | None:
    """Plugging in at the stay without hook-up that lacks most or runs the generator most, at the weakest socket that
    the inverters take; None where there is no such stay or socket.
    """
    year = live(design)
    generator_w = year.series[:, at.GENERATOR_ON] * year.inputs.candidate[at.GENERATOR_W]
    lacking = year.series[:, at.UNMET_W] + year.series[:, at.SHED_W] + generator_w
    lacks = lacking.reshape(len(year.inputs.days), -1).sum(axis=1)
    by_stay: dict[str, float] = {}
    for day, lack in zip(year.inputs.days, lacks, strict=True):
        if day.stay is not None and not day.source:
            by_stay[day.stay.tag] = by_stay.get(day.stay.tag, 0.0) + float(lack)
    sockets = [one for one in design.sources if one.accepted and one.tag in _shore(design)]
    if not sockets or not any(by_stay.values()):
        return None
    weakest = min(sockets, key=lambda one: one.continuous_w.value)
    tag = max(by_stay, key=lambda one: by_stay[one])
    stay = next(one for one in design.job.stays if one.tag == tag)
    return set_value(f"stays[{tag}].source", weakest.tag, f"Plug in at {stay.place}, {weakest.tag}")


def _shore(design: Design) -> set[str]:
    return {one.tag for one in design.job.inverters.sources if one.kind == "shore"}


def _parts(design: Design, asked: float, progress: Progress | None) -> list[Fix]:
    swept = sweep(design, begin(usual_axes(design)), progress=progress)
    return [_fix(design, one, asked) for one in _grown(design, swept)]


def _grown(design: Design, swept: Swept) -> list[Point]:
    """Mixes with no less of anything than the design has, and of those only the ones that none smaller equals."""
    job = design.job
    chargers = sum(end.by_engine and end.gives_a.value > 0 for end in design.ends)
    has = (len(job.roof.modules), len(job.bank.packs), len(job.inverters.units), chargers)
    return [
        one
        for one in points(design, swept)
        if all(count >= own for count, own in zip(_counts(one), has, strict=True)) and _counts(one) != has
    ]


def _counts(one: Point) -> tuple[int, int, int, int]:
    return one.modules, one.packs, one.inverters, one.chargers


def _fix(design: Design, one: Point, asked: float) -> Fix:
    share = one.missing_wh / asked if asked else 0.0
    return Fix(
        words=change_words(design, one),
        edit=as_design(design, one),
        missing_share=share,
        generator_h=one.generator_h,
        cost=one.cost,
        mass_kg=one.mass_kg,
        meets=_meets(design.job, share, one.generator_h),
        counts=_counts(one),
    )
