"""A unit swapped for one of another type: what differs, which leads are too short from its new place, what else must
change; all of it as one edit.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.answers.wiring.schedule import Conductor, schedule
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.derive import derive
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import WHOLE, Edit, EditRefusedError, value_at, with_value
from weighty_axle.job.edits.inverters import open_dead_legs
from weighty_axle.job.models.document import Item, Job, items
from weighty_axle.job.models.log import LogEntry
from weighty_axle.job.sheets import sheet_of
from weighty_axle.job.stated import Place, Size, Stated
from weighty_axle.job.tags import stated_at
from weighty_axle.reference.own_types import Datasheet
from weighty_axle.rules.judge import judge
from weighty_axle.rules.registry import Finding
from weighty_axle.studies.changes import Moved, moved

SLACK_M = 0.005
"""A lead that is shorter by less still lands. Source: judgement."""


class Differs(NamedTuple):
    """A line of both datasheets that is not the same."""

    title: str
    before: str
    after: str


class Reach(NamedTuple):
    """A lead that lands on the unit: its words, what it was cut at, what its route takes now, and what lands it;
    `short_m` is 0 where it reaches.
    """

    tag: str
    words: str
    has_m: float
    needs_m: float
    lands: str
    cut: bool

    @property
    def short_m(self) -> float:
        """How much too short it is [m]."""
        gap = self.needs_m - self.has_m
        return gap if gap > SLACK_M else 0.0


class Swap(Struct, frozen=True, kw_only=True):
    """A swap, worked out: which units change together, differences of the datasheets, every lead, what must change in
    sentences, findings that come and go, figures that move, and the edit that does it.
    """

    tag: str
    together: tuple[str, ...]
    old: Datasheet
    new: Datasheet
    differs: tuple[Differs, ...]
    leads: tuple[Reach, ...]
    must: tuple[str, ...]
    came: tuple[Finding, ...]
    went: tuple[Finding, ...]
    moved: tuple[Moved, ...]
    after: Job
    edit: Edit


def spec_path(job: Job, tag: str) -> str:
    """Where the datasheet of a unit stands: its own, or that of all units it shares one with.

    Raises EditRefusedError for a thing that has none.
    """
    path = stated_at(job).get(tag, "")
    for ending, spec in ((".packs[", ".spec"), (".units[", ".spec")):
        if ending in path:
            return path.partition(ending)[0] + spec
    own = f"{path}.spec"
    if not path or not hasattr(value_at(job, path), "spec"):
        raise EditRefusedError(f"{tag} has no datasheet that could be swapped.")
    return own


def swapped(job: Job, tag: str, new: Datasheet, place: Place | None = None) -> Job:
    """The job with another datasheet for a unit, and it at another place where one is said."""
    path = spec_path(job, tag)
    old = value_at(job, path)
    if type(old) is not type(new):
        raise EditRefusedError(f"{new.name} is no {type(old).__name__.removesuffix('Spec').lower()}.")
    made = with_value(job, path, new)
    if place is not None:
        made = with_value(made, f"{stated_at(job)[tag]}.place", place)
    return open_dead_legs(made) if path == "inverters.spec" else made


def swap(design: Design, tag: str, new: Datasheet, *, place: Place | None = None, on: str = "", by: str = "") -> Swap:
    """Compare a unit with one of another type, in this vehicle.

    Source: both designs: their cut lists, schedules, sheets, findings and figures. Raises EditRefusedError.
    """
    job = design.whole
    path = spec_path(job, tag)
    old: Datasheet = value_at(job, path)
    words = f"Swap {tag}: {new.name} for {old.name}"
    after = swapped(job, tag, new, place)
    later = derive(after)
    was, now = ({one.id: one for one in judge(each)} for each in (design, later))
    together = tuple(one for one in stated_at(job) if _shares(job, one, path))
    leads = tuple(_leads(design, later, together))
    entry = LogEntry(kind="parts", on=on, by=by, words=words, about=together, value=len(together), unit="units")

    def apply(before: Job) -> Job:
        made = swapped(before, tag, new, place)
        return replace(made, log=replace(made.log, entries=(*made.log.entries, entry)))

    came = tuple(one for key, one in now.items() if key not in was)
    return Swap(
        tag=tag,
        together=together,
        old=old,
        new=new,
        differs=tuple(_differs(old, new)),
        leads=leads,
        must=tuple(_must(design, later, together, leads, came)),
        came=came,
        went=tuple(one for key, one in was.items() if key not in now),
        moved=moved(design, later),
        after=after,
        edit=Edit(words, apply, system=WHOLE),
    )


def _shares(job: Job, tag: str, path: str) -> bool:
    """Whether a unit has its datasheet at a path."""
    try:
        return spec_path(job, tag) == path
    except EditRefusedError:
        return False


def _differs(old: Stated, new: Stated) -> Iterator[Differs]:
    """Lines of two datasheets that are not the same, parts of a size one by one."""
    for field in sheet_of(type(old)):
        before, after = getattr(old, field.name), getattr(new, field.name)
        if before == after:
            continue
        if field.form == "part" and field.part is not None and before is not None and after is not None:
            for inner in _differs(before, after):
                yield Differs(f"{field.title}: {inner.title.lower()}", inner.before, inner.after)
        else:
            yield Differs(field.title, *(_said(one, field.unit) for one in (before, after)))


def _said(value: Any, unit: str) -> str:
    if value is None:
        return "not said"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int):
        return f"{value:g} {unit}".strip()
    if isinstance(value, str):
        return value
    return ", ".join(str(one) for one in msgspec.to_builtins(value)) or "none"


def _lands(cut: Cut, tags: tuple[str, ...]) -> bool:
    """Whether a conductor ends on one of some things."""
    return any(end.at.partition(" ")[0] in tags for end in (cut.start, cut.end)) or any(
        one in tags or one.removeprefix("W-") in tags for one in cut.about
    )


def _leads(design: Design, later: Design, tags: tuple[str, ...]) -> Iterator[Reach]:
    """Every lead that lands on the units: as it was cut, and as its route is now."""
    done = {one.conductor: one.length_m for one in design.whole.build.cuts}
    before = {one.tag: one for one in cuts(design)}
    for one in cuts(later):
        if not _lands(one, tags):
            continue
        old = before.get(one.tag)
        cut_m = done.get(one.tag)
        has = cut_m if cut_m is not None else old.cut_m.value if old is not None else 0.0
        end = next((x for x in (one.start, one.end) if x.at.partition(" ")[0] in tags), one.end)
        yield Reach(one.tag, one.words, has, one.cut_m.value, end.fitting, cut_m is not None)


def _must(
    design: Design, later: Design, tags: tuple[str, ...], leads: tuple[Reach, ...], came: tuple[Finding, ...]
) -> Iterator[str]:
    """What must change, in sentences: leads, conductors and guards, lugs, mass and size, settings, sense and data
    leads, and what the rules say of it.
    """
    for lead in leads:
        if lead.short_m:
            yield (
                f"{lead.tag} is {lead.short_m * 100:.0f} cm too short: it is {lead.has_m:.2f} m, its route takes "
                f"{lead.needs_m:.2f} m."
            )
    yield from _conductors(design, later)
    yield from _landings(design, later, tags)
    yield from _body(design.whole, later.whole, tags)
    yield from _settings(design, later, tags)
    signals = [one.tag for one in cuts(later) if one.carries == "signal" and _lands(one, tags)]
    if signals:
        yield f"Sense, sensor and data leads land on it: {', '.join(signals)}; their plugs, their ends, their length."
    for finding in came:
        yield f"{finding.rule.severity.upper()}: {finding.sentence()}"


def _conductors(design: Design, later: Design) -> Iterator[str]:
    before: dict[str, Conductor] = {one.tag: one for one in schedule(design)}
    for one in schedule(later):
        old = before.get(one.tag)
        if old is None:
            yield f"{one.tag} is new: {one.words}, {one.size}."
            continue
        if _copper_mm2(one) > _copper_mm2(old) * 1.001:
            yield f"{one.tag} must be {_times(one)}; it is {_times(old)}."
        if old.guard != one.guard:
            yield f"{one.tag} is guarded by {one.guard or 'nothing'}; it has {old.guard or 'nothing'}."
    now = {one.tag for one in schedule(later)}
    for tag in before:
        if tag not in now:
            yield f"{tag} is not needed any more."


def _copper_mm2(one: Conductor) -> float:
    try:
        return one.count * conductor_area_mm2(one.size)
    except ValueError:
        return 0.0


def _times(one: Conductor) -> str:
    return f"{one.count} × {one.size}" if one.count > 1 else one.size


def _landings(design: Design, later: Design, tags: tuple[str, ...]) -> Iterator[str]:
    before = {one.tag: one for one in cuts(design)}
    for one in cuts(later):
        old = before.get(one.tag)
        if old is None or not _lands(one, tags):
            continue
        for was, now in ((old.start, one.start), (old.end, one.end)):
            if was.fitting != now.fitting and now.at.partition(" ")[0] in tags:
                yield f"{one.tag} at {now.at}: {now.fitting}; it has {was.fitting}."


def _body(job: Job, after: Job, tags: tuple[str, ...]) -> Iterator[str]:
    """Mass and size; of axles, room and air the findings tell."""
    old: dict[str, Item] = {one.tag: one for one in items(job)}
    new: dict[str, Item] = {one.tag: one for one in items(after)}
    heavier = sum(new[tag].mass_kg - old[tag].mass_kg for tag in tags if tag in new and tag in old)
    if abs(heavier) > 0.05:
        yield f"{abs(heavier):.1f} kg {'heavier' if heavier > 0 else 'lighter'} all together: fixings and axles."
    sizes: dict[tuple[str, str], list[str]] = {}
    for tag in tags:
        if tag in new and tag in old and new[tag].size != old[tag].size:
            sizes.setdefault((_cm(old[tag].size), _cm(new[tag].size)), []).append(tag)
    for (was, now), same in sizes.items():
        yield f"{', '.join(same)}: {now} cm along, across, up; it was {was} cm: holes and fixings are new."


def _cm(size: Size) -> str:
    return " × ".join(f"{100 * side:.0f}" for side in (size.length_m, size.width_m, size.height_m))


def _settings(design: Design, later: Design, tags: tuple[str, ...]) -> Iterator[str]:
    before = {one.key: one.said for one in all_settings(design)}
    now = {one.key: one for one in all_settings(later)}
    fresh = [one for key, one in now.items() if key.partition(" ")[0] in tags]
    if fresh:
        yield f"Every setting of {', '.join(tags)} is entered anew: {len(fresh)} values (Settings, Sheets)."
    others: dict[tuple[str, str, str], list[str]] = {}
    for key, one in now.items():
        tag = key.partition(" ")[0]
        if key in before and before[key] != one.said and tag not in tags:
            others.setdefault((one.words, before[key], one.said), []).append(tag)
    for (words, was, said), same in others.items():
        yield f"{words} of {', '.join(same)}: {said}; it was {was}."


def swap_lines(found: Swap) -> Iterator[str]:
    """A swap as lines."""
    yield f"{', '.join(found.together)}: {found.new.name} for {found.old.name}"
    for title, some in (
        ("Datasheets differ in:", [f"{one.title}: {one.before} → {one.after}" for one in found.differs]),
        (
            "Leads that land on it:",
            [
                f"{one.tag} {one.has_m:.2f} m{'' if one.cut else ' (not said to be cut)'}, takes {one.needs_m:.2f} m"
                + (f": {one.short_m * 100:.0f} cm too short" if one.short_m else "")
                for one in found.leads
            ],
        ),
        ("Must change:", list(found.must)),
        ("Goes away:", [one.sentence() for one in found.went]),
    ):
        if some:
            yield title
            yield from (f"  {line}" for line in some)
