"""Changes to what was said in the brief: loads and their days, kinds of day, stays, equipment on board."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit, value_at, with_value
from weighty_axle.job.models.brief import YEAR_DAYS, DayKind, Existing, Load, Pattern, Span, Stay
from weighty_axle.job.models.document import Job
from weighty_axle.job.tags import next_tag


def painted(spans: tuple[Span, ...], start_min: int, end_min: int, level: float) -> tuple[Span, ...]:
    """Spans with `start_min..end_min` set to `level` (0 wipes), cut and joined so that they stay in order."""
    kept: list[Span] = []
    for span in spans:
        if span.start_min < start_min:
            kept.append(Span(span.start_min, min(span.end_min, start_min), span.level))
        if span.end_min > end_min:
            kept.append(Span(max(span.start_min, end_min), span.end_min, span.level))
    if level > 0 and end_min > start_min:
        kept.append(Span(start_min, end_min, level))
    joined: list[Span] = []
    for span in sorted(kept, key=lambda one: one.start_min):
        if joined and joined[-1].end_min == span.start_min and joined[-1].level == span.level:
            joined[-1] = Span(joined[-1].start_min, span.end_min, span.level)
        else:
            joined.append(span)
    return tuple(joined)


def paint(load: Load, day_kind: str, start_min: int, end_min: int, level: float, merge: str = "") -> Edit:
    """Paint a stretch of a load's day."""

    tag = load.tag

    def apply(job: Job) -> Job:
        now: Load = value_at(job, f"loads[{tag}]")
        patterns = {**now.patterns, day_kind: painted(now.patterns.get(day_kind, ()), start_min, end_min, level)}
        return with_value(job, f"loads[{tag}].patterns", patterns)

    return Edit(f"{'Paint' if level else 'Wipe'} {load.name}", apply, merge)


def add_load(load: Load) -> Edit:
    """Put a load at the end of the list."""
    return Edit(f"Add {load.name}", lambda job: replace(job, loads=(*job.loads, load)))


def set_pattern(load: Load, day_kind: str, pattern: Pattern, label: str) -> Edit:
    """Another whole day for a load."""
    tag = load.tag

    def apply(job: Job) -> Job:
        now: Load = value_at(job, f"loads[{tag}]")
        return with_value(job, f"loads[{tag}].patterns", {**now.patterns, day_kind: pattern})

    return Edit(label, apply)


def mirrored(pattern: Pattern) -> Pattern:
    """The day turned round about noon: what ran from 7 to 9 runs from 15 to 17."""
    return tuple(Span(1440 - span.end_min, 1440 - span.start_min, span.level) for span in reversed(pattern))


def copy_day(from_kind: DayKind, to_kind: DayKind, tags: tuple[str, ...] = ()) -> Edit:
    """Give a kind of day the ribbons of another: of some loads, or of all when none is named."""

    def apply(job: Job) -> Job:
        def copied(load: Load) -> Load:
            if tags and load.tag not in tags:
                return load
            return replace(load, patterns={**load.patterns, to_kind.tag: load.patterns.get(from_kind.tag, ())})

        return replace(job, loads=tuple(copied(load) for load in job.loads))

    what = f"{tags[0]} of {from_kind.name}" if len(tags) == 1 else from_kind.name
    return Edit(f"Copy {what} to {to_kind.name}", apply)


def move_load(tag: str, places: int) -> Edit:
    """Shift a load up (negative) or down the list."""

    def apply(job: Job) -> Job:
        loads = list(job.loads)
        at = next(index for index, load in enumerate(loads) if load.tag == tag)
        loads.insert(max(0, min(len(loads) - 1, at + places)), loads.pop(at))
        return replace(job, loads=tuple(loads))

    return Edit(f"Move {tag} {'up' if places < 0 else 'down'}", apply)


def take_loads(loads: tuple[Load, ...], words: str) -> Edit:
    """Loads from a table: one whose tag the job has replaces it where it stands, the others come at the end."""

    def apply(job: Job) -> Job:
        read = {load.tag: load for load in loads}
        kept = tuple(read.pop(load.tag, load) for load in job.loads)
        return replace(job, loads=(*kept, *read.values()))

    return Edit(f"Take in {len(loads)} loads from {words}", apply, system=WHOLE)


def add_day_kind(name: str) -> Edit:
    """One more kind of day, without any ribbons."""

    def apply(job: Job) -> Job:
        return replace(job, day_kinds=(*job.day_kinds, DayKind(tag=next_tag(job, "kind of day"), name=name)))

    return Edit(f"Add the kind of day {name}", apply)


def remove_day_kind(kind: DayKind) -> Edit:
    """Take a kind of day away with its ribbons; stays that had it get the first kind left."""

    def apply(job: Job) -> Job:
        kinds = tuple(one for one in job.day_kinds if one.tag != kind.tag)
        loads = tuple(
            replace(load, patterns={tag: spans for tag, spans in load.patterns.items() if tag != kind.tag})
            if kind.tag in load.patterns
            else load
            for load in job.loads
        )
        stays = tuple(
            replace(stay, day_kind=kinds[0].tag) if kinds and stay.day_kind == kind.tag else stay for stay in job.stays
        )
        return replace(job, day_kinds=kinds, loads=loads, stays=stays)

    return Edit(f"Remove the kind of day {kind.name}", apply)


# ---- stays ---------------------------------------------------------------------------------------------------


def free_stretch(stays: tuple[Stay, ...], wanted: int) -> tuple[int, int] | None:
    """First day and length of the first free stretch of the year, at most `wanted` days; None when the year is full."""
    at = 1
    for stay in sorted(stays, key=lambda one: one.first_day):
        if stay.first_day > at:
            return at, min(wanted, stay.first_day - at)
        at = stay.first_day + stay.days
    return (at, min(wanted, YEAR_DAYS + 1 - at)) if at <= YEAR_DAYS else None


def add_stay(stay: Stay) -> Edit:
    """Put a stay into the year."""
    return Edit(f"Add a stay at {stay.place}", lambda job: replace(job, stays=(*job.stays, stay)))


def place_stay(tag: str, first_day: int, days: int, merge: str = "") -> Edit:
    """Move or stretch a stay as far as the year and its neighbours leave room."""

    def apply(job: Job) -> Job:
        stay: Stay = value_at(job, f"stays[{tag}]")
        others = [one for one in job.stays if one.tag != tag]
        lowest = max((one.first_day + one.days for one in others if one.first_day < stay.first_day), default=1)
        highest = min((one.first_day for one in others if one.first_day > stay.first_day), default=YEAR_DAYS + 1)
        length = max(1, min(days, highest - lowest))
        first = max(lowest, min(first_day, highest - length))
        return with_value(job, f"stays[{tag}]", replace(stay, first_day=first, days=length))

    return Edit(f"Place the stay {tag}", apply, merge)


# ---- equipment and survey ------------------------------------------------------------------------------------


def add_existing(one: Existing) -> Edit:
    """Put a piece of equipment found on board on the list."""
    return Edit(f"Add {one.name} to what is on board", lambda job: replace(job, existing=(*job.existing, one)))
