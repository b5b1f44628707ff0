"""Whole first designs from brief, vehicle and stays, at three levels, each choice with its reason."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.answers.inverters.panel_proposals import circuits_for_loads
from weighty_axle.answers.place.where import What, where
from weighty_axle.answers.year.cost import Bill, bill
from weighty_axle.answers.year.lived import Lived, live
from weighty_axle.answers.year.mixes import as_design
from weighty_axle.answers.year.result import YearResult, year_result
from weighty_axle.answers.year.sweep import Point
from weighty_axle.answers.year.weathers import Progress
from weighty_axle.design.table import Design
from weighty_axle.job.edits.bank import set_pack, set_pack_count
from weighty_axle.job.edits.edit import Edit, EditRefusedError
from weighty_axle.job.edits.variants import add_variant, names
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.document import items as item_list
from weighty_axle.reference.tables import packs
from weighty_axle.rules.judge import judge
from weighty_axle.rules.registry import Finding
from weighty_axle.studies.beginning import Choice, Skeleton, mixes

MOST_REPAIRS, ROUNDS = 30, 3
WORSE = 0.01
WHATS: tuple[What, ...] = ("bank", "inverters")
LINK_RULES = ("bank.link-under-fuse", "bank.link-ampacity")
SURVEY = ("brief", "vehicle")
"""Steps whose findings are of what was found on board: no design puts them right."""


class Level(NamedTuple):
    """How much is asked of a proposal: share of what is asked that may be missing, and generator hours; where no mix
    gets there, how much over the least there is.
    """

    name: str
    most_missing_share: float
    most_generator_h: float
    over_share: float
    over_h: float
    one_out: bool


LEVELS = (
    Level("Enough", 0.05, 100.0, 0.10, 100.0, False),
    Level("Comfortable", 0.01, 30.0, 0.03, 30.0, False),
    Level("Carefree", 0.002, 0.0, 0.005, 5.0, True),
)
"""Source: common practice, no source."""


class Proposal(Struct, frozen=True, kw_only=True):
    """A whole design: the job with it, its year, every choice with its reason, what limits it, findings at Stop that
    are left (none in one that is offered), what it costs and what it adds in mass beside its modules.
    """

    level: Level
    job: Job
    design: Design
    year: Lived
    result: YearResult
    choices: tuple[Choice, ...]
    limits: str
    stops: tuple[Finding, ...]
    bill: Bill
    mass_kg: float

    @property
    def edit(self) -> Edit:
        """Put it beside the design that is worked on, as a variant."""
        return add_variant(
            self.job, self.level.name, "; ".join(f"{one.what}: {one.why}" for one in self.choices)[:1900]
        )


def propose(whole: Job, progress: Progress | None = None) -> Iterator[Proposal]:
    """A proposal for each level, the plainest first, each as soon as it is there.

    Raises EditRefusedError with a sentence where nothing is to run.
    """
    if not whole.loads:
        raise EditRefusedError("Nothing is to run yet: state loads first.")
    shared = Skeleton(whole)
    for at, level in enumerate(LEVELS):
        if progress is not None:
            progress(at / len(LEVELS), level.name)
        yield _Proposing(shared, level).made()


class _Proposing:
    """One proposal while it is made."""

    def __init__(self, shared: Skeleton, level: Level) -> None:
        self.shared, self.level = shared, level
        self.work = shared.work.beside()
        self.limits = ""

    def made(self) -> Proposal:
        """The whole of it."""
        design, found = self._inverters()
        best = self._counts(found)
        self.work.apply(as_design(design, best))
        if best.modules != len(design.job.roof.modules):
            self.work.string()
        self.work.stand_apart()
        self.work.apply(circuits_for_loads(self.work.design()))
        self._settle()
        if self._links_burn(self.work.design()) and not self._cooler_place() and self._other_packs():
            self._settle()
        design = self.work.design()
        year = live(design)
        result = year_result(year)
        stops = tuple(one for one in judge(design) if one.rule.severity == "stop" and one.rule.step not in SURVEY)
        return Proposal(
            level=self.level,
            job=self.work.job,
            design=design,
            year=year,
            result=result,
            choices=tuple(self.work.choices),
            limits=self._limits(result, best),
            stops=stops,
            bill=bill(design),
            mass_kg=sum(one.mass_kg for one in design.items if not one.was_there),
        )

    def _settle(self) -> None:
        """Places and remedies in turn: what is put right may take room, and then all is placed once more."""
        for _ in range(ROUNDS):
            before = self.work.job
            for what in WHATS:
                self._place(what)
            self.work.stand_apart()
            self._repair()
            if {one.tag for one in item_list(self.work.job)} == {one.tag for one in item_list(before)}:
                break

    def _limits(self, result: YearResult, mix: Point) -> str:
        """What limits it, as it stands in the end: what had to give way after its mix was chosen may have cost some."""
        share = result.missing_share.value
        if share <= mix.missing_wh / self.shared.asked_wh + WORSE:
            return self.limits
        return f"As it stands {share:.1%} is missing, more than by its mix. {self.limits}"

    @staticmethod
    def _links_burn(design: Design) -> bool:
        return any(one.rule.id in LINK_RULES for one in judge(design))

    def _cooler_place(self) -> bool:
        """The bank in the best of the other places where its links stand the fuses of its packs, and all the rest put
        right around it.
        """
        for one in where(self.work.design(), "bank", lambda _share, _words: None)[1:]:
            before, choices = self.work.job, list(self.work.choices)
            if self.work.apply(one.edit):
                self.work.choices = [two for two in choices if not two.what.startswith("Bank in ")]
                self.work.chosen(f"Bank in {one.words}", "its links stand the fuses of its packs there")
                self._place("inverters")
                self.work.stand_apart()
                self._repair()
                if not self._links_burn(self.work.design()):
                    return True
            self.work.job, self.work.choices = before, choices
        return False

    def _other_packs(self) -> bool:
        """Packs of another type whose own fuse their links stand where they are, as much energy of them as may be."""
        job = self.work.job
        cells, whole_ah = job.bank.spec.cells_in_series, len(job.bank.packs) * job.bank.spec.capacity_ah
        alike = [one for one in packs().rows if one.cells_in_series == cells and one.chemistry == "lfp"]
        counts = {
            one.name: min(one.parallel_limit, max(1, math.ceil(whole_ah / one.capacity_ah - 1e-9))) for one in alike
        }
        lacks = {one.name: max(0.0, whole_ah - counts[one.name] * one.capacity_ah) for one in alike}
        for spec in sorted(alike, key=lambda one: (lacks[one.name], one.fuse_a or 0.0, not one.heated)):
            count = counts[spec.name]
            work = self.work.beside(set_pack_count(count).apply(set_pack(spec, 1).apply(job)))
            if not any(one.rule.id in LINK_RULES for one in judge(work.design())):
                self.work.job = work.job
                less = f"; {count * spec.capacity_ah:g} Ah instead of {whole_ah:g} Ah" if lacks[spec.name] else ""
                self.work.chosen(
                    f"{count} × {spec.name}", f"their own fuse is one that their links stand where they lie{less}"
                )
                return True
        return False

    def _inverters(self) -> tuple[Design, tuple[Point, ...]]:
        """Where a unit may fail, others that carry on alone; their mixes are lived anew."""
        spare = [one for one in self.shared.arrangements if one.runs_all_with_one_out] if self.level.one_out else []
        before, choices = self.work.job, list(self.work.choices)
        if not spare or spare[0] is self.shared.arrangements[0] or not self.work.apply(spare[0].edit):
            return self.shared.design, self.shared.points
        one = spare[0]
        design = self.work.design()
        found = mixes(design)
        if (
            min(p.missing_wh for p in found)
            > min(p.missing_wh for p in self.shared.points) + WORSE * self.shared.asked_wh
        ):
            self.work.job, self.work.choices = before, choices
            self.work.chosen(
                "No spare unit", f"{one.count} × {one.spec.name} would carry on alone but leave more missing"
            )
            return self.shared.design, self.shared.points
        self.work.choices = [two for two in choices if " × Inv" not in two.what and " × Int" not in two.what]
        why = f"the lightest that runs everything with one unit out, at {one.worst_share.value:.0%} of its rating"
        self.work.chosen(f"{one.count} × {one.spec.name}", why)
        return design, found

    def _counts(self, found: tuple[Point, ...]) -> Point:
        """Packs, modules and chargers by the year: the lightest mix that does; the cheapest where prices are known."""
        asked, level = self.shared.asked_wh, self.level
        fair = [one for one in found if one.carries_peak] or list(found)
        least = min(one.missing_wh for one in fair) / asked
        near = [one for one in fair if one.missing_wh / asked <= least + level.over_share]
        shortest = min(one.generator_h for one in near)
        share = _allowed(level, least, [(one.most_missing_share, one.over_share) for one in LEVELS])
        hours = _allowed(level, shortest, [(one.most_generator_h, one.over_h) for one in LEVELS])
        good = [one for one in fair if one.missing_wh <= share * asked + 1e-6 and one.generator_h <= hours + 1e-6]
        best = min(good or near, key=_size)
        gets_there = least <= level.most_missing_share and shortest <= level.most_generator_h
        counts = ((best.modules, "module"), (best.packs, "pack"), (best.chargers, "alternator charger"))
        words = ", ".join(f"{count} {what}{'s' * (count != 1)}" for count, what in counts)
        left = f"{best.missing_wh / asked:.1%} missing and {best.generator_h:.0f} generator hours"
        self.work.chosen(
            words, f"the smallest mix that leaves {left}" + ("" if gets_there else ": no mix gets to the goal")
        )
        if gets_there:
            self.limits = f"More {best.binds} would help most." if best.binds else "More of nothing would help."
        else:
            self.limits = (
                f"Roof, packs and engine at their most still leave {least:.1%} missing and {shortest:.0f} generator "
                "hours: plug in at a stay, or run less."
            )
        return best

    def _place(self, what: What) -> None:
        found = where(self.work.design(), what, lambda _share, _words: None)
        if found and self.work.apply(found[0].edit):
            self.work.choices = [
                one for one in self.work.choices if not one.what.startswith(f"{what.capitalize()} in ")
            ]
            self.work.chosen(f"{what.capitalize()} in {found[0].words}", found[0].reason)

    def _repair(self) -> None:
        """What a finding at Stop has a remedy for is put right."""
        tried: set[str] = set()
        for _ in range(MOST_REPAIRS):
            stops = [one for one in judge(self.work.design()) if one.rule.severity == "stop"]
            todo = next(
                (
                    (one, edit)
                    for one in stops
                    for edit in one.remedies
                    if f"{one.rule.id} {edit.label}" not in tried and one.rule.step not in SURVEY
                ),
                None,
            )
            if todo is None:
                return
            finding, edit = todo
            tried.add(f"{finding.rule.id} {edit.label}")
            if self.work.apply(edit):
                self.work.chosen(edit.label, finding.sentence())


def _allowed(level: Level, least: float, levels: list[tuple[float, float]]) -> float:
    """What a level allows: its goal, or a little over the least there is where no mix gets there; never more than a
    plainer level does.
    """
    allowed = math.inf
    for goal, over_least in levels[: LEVELS.index(level) + 1]:
        allowed = goal if least <= goal else min(least + over_least, allowed)
    return allowed


def _size(one: Point) -> tuple[float, float]:
    return (one.cost if one.cost is not None else one.mass_kg, one.mass_kg)


def free_name(job: Job, name: str) -> str:
    """A name that no design of the job has."""
    known = names(job)
    return name if name not in known else next(f"{name} {at}" for at in range(2, 99) if f"{name} {at}" not in known)
