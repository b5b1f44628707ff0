"""Tasks of the build, from the design: what is done, how long it takes, what must be done before, what it waits for."""

from __future__ import annotations

import math
from collections.abc import Generator, Iterable, Iterator
from typing import NamedTuple

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.answers.parts.needed import needs
from weighty_axle.answers.plan.task import LIFT_KG, Phase, Task
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.build import Skill
from weighty_axle.job.models.document import Item

KITS = ("lug", "ferrule", "shrink", "boot", "gland", "fixing", "clip", "label", "conductor")
"""Kinds of part the bench needs before it makes up conductors."""


Made = Generator[Task, None, list[str]]
"""Tasks of a part of the work; their keys are what it returns."""


class _Amount(NamedTuple):
    """So many things at so many minutes each."""

    words: str
    many: float
    each_min: float


def tasks(design: Design) -> tuple[Task, ...]:
    """Every task in the order of the work: bench, first fix, walls, units, roof, proving; the shop's own at the end.

    Source: common practice, no source; durations by the shop's rates.
    """
    made = _Tasks(design)
    return tuple(made.all())


def skills_needed(design: Design) -> dict[Skill, str]:
    """Skills the build asks for, each with what asks for it; without making every task.

    Source: as the tasks are made.
    """
    found: dict[Skill, str] = {"electric": "wiring to do", "mechanic": "drilling and fixing to do"}
    if design.whole.roof.modules:
        found["roof"] = f"a roof with {len(design.whole.roof.modules)} modules"
    heavy = [item for item in design.items if not item.was_there and item.kind != "fitting" and item.mass_kg > LIFT_KG]
    if heavy:
        found["lifting"] = f"{heavy[0].tag} of {heavy[0].mass_kg:.0f} kg"
    return found


class _Tasks:
    """The tasks while they are made."""

    def __init__(self, design: Design) -> None:
        self.design, self.build = design, design.whole.build
        self.rates = self.build.rates
        self.by_way: dict[str, list[Cut]] = {}
        for cut in cuts(design):
            self.by_way.setdefault(_group(cut), []).append(cut)
        self.parts: dict[str, set[str]] = {}
        self.kinds: dict[str, str] = {}
        for need in needs(design):
            self.parts.setdefault(need.of, set()).add(need.part)
            self.kinds[need.part] = need.kind
        self.boards = {tag: one.tag for one in design.whole.assemblies for tag in one.items}

    def all(self) -> Iterator[Task]:
        """All of them."""
        items = [item for own in (self.design,) for item in own.items if not item.was_there and item.kind != "fitting"]
        yield self._task(
            "prepare",
            "Prepare the vehicle",
            "vehicle",
            "mechanic",
            (),
            _Amount("Vehicle", 1, self.rates.survey_min),
            how="Clear, cover, disconnect its batteries, mark where everything goes.",
        )
        bench = yield from self._bench()
        pulled = yield from self._first_fix()
        yield self._task(
            "walls",
            "Close the walls",
            "vehicle",
            "mechanic",
            tuple(pulled),
            _Amount("Walls and covers", max(1, len(self.design.whole.outlets)), self.rates.hole_min * 3),
            how="Only once every cable of the first fix is in, labelled and photographed.",
        )
        placed = yield from self._placing(items, bench)
        landed = yield from self._landing(pulled, bench, placed)
        roof = yield from self._roof(landed)
        yield from self._proving((*landed, "walls", *placed), roof)
        for own in self.build.own:
            yield Task(
                key=own.tag,
                words=own.name,
                phase="vehicle",
                skill=own.skill,
                hours_h=Figure(
                    name=f"{own.tag} takes",
                    value=own.hours_h,
                    unit="h",
                    formula="as stated",
                    inputs=(Given("Stated", own.hours_h, "h"),),
                    source="the job",
                ),
                after=own.after,
                parts=(own.part,) if own.part else (),
                about=(own.tag,),
            )

    def _task(
        self,
        key: str,
        words: str,
        phase: Phase,
        skill: Skill,
        after: tuple[str, ...],
        *amounts: _Amount,
        parts: tuple[str, ...] = (),
        about: tuple[str, ...] = (),
        how: str = "",
    ) -> Task:
        said = next((one.hours_h for one in self.build.said if one.task == key), None)
        computed = sum(one.many * one.each_min for one in amounts) / 60
        return Task(
            key=key,
            words=words,
            phase=phase,
            skill=skill,
            hours_h=Figure(
                name=f"{words}: takes",
                value=said if said is not None else max(0.25, round(computed * 4) / 4),
                unit="h",
                formula="Σ count × minutes each ÷ 60, in quarter hours" if said is None else "as the shop says",
                inputs=tuple(Given(f"{one.words} ({one.many:.4g})", one.each_min, "min") for one in amounts),
                source="the shop's rates" if said is None else "the job",
            ),
            after=after,
            parts=tuple(sorted(parts)),
            about=about,
            how=how,
        )

    def _of(self, tags: Iterable[str], only: tuple[str, ...] = ()) -> tuple[str, ...]:
        """Parts that some things need, of some kinds; else all but what the bench makes conductors up from."""
        found = {part for tag in tags for part in self.parts.get(tag, ())}
        return tuple(
            sorted(part for part in found if (self.kinds[part] in only if only else self.kinds[part] not in KITS))
        )

    # ---- bench ----

    def _bench(self) -> Made:
        """Conductors made up way by way, boards built and wired. Returns the keys of what is made."""
        made: list[str] = []
        for way, some in self.by_way.items():
            lugs = sum(1 for cut in some for end in (cut.start, cut.end) if end.by == "lug")
            if not lugs:
                continue
            key = f"make {way}"
            made.append(key)
            yield self._task(
                key,
                f"Cut and crimp {way}",
                "bench",
                "electric",
                (),
                _Amount("Lugs", lugs, self.rates.crimp_min),
                _Amount("Labels", 2 * len(some), self.rates.label_min),
                _Amount("Cuts", len(some), 2.0),
                parts=self._of((cut.tag for cut in some), KITS),
                about=(way,),
                how="Pull every crimp; shrink and label both ends; look at the turn of the lugs.",
            )
        for board in self.design.whole.assemblies:
            on = [
                tag
                for tag in board.items
                if any(item.tag == tag and item.kind != "fitting" for item in self.design.items)
            ]
            holes = 4 * len(on)
            build, wire = f"build {board.tag}", f"wire {board.tag}"
            yield self._task(
                build,
                f"Drill {board.name} and fix its units",
                "bench",
                "mechanic",
                (),
                _Amount("Holes", holes, self.rates.hole_min),
                _Amount("Units", len(on), self.rates.item_min),
                parts=self._of((*on, *board.items)),
                about=board.items,
                how="By the drilling plan; deburr; check that every unit's air can pass.",
            )
            inside = tuple(
                f"make {way}"
                for way in self.by_way
                if f"make {way}" in made and way.startswith("W-") and way.removeprefix("W-") in board.items
            )
            joints = sum(
                1
                for key in inside
                for cut in self.by_way[key.removeprefix("make ")]
                for end in (cut.start, cut.end)
                if end.by == "lug"
            )
            yield self._task(
                wire,
                f"Wire {board.name} and tighten",
                "bench",
                "electric",
                (build, *inside),
                _Amount("Joints", max(1, joints), self.rates.joint_min),
                about=board.items,
                how="Torque each joint, mark it, write it down with who and when.",
            )
            made += [wire]
        return made

    # ---- vehicle ----

    def _first_fix(self) -> Made:
        """Cables pulled before walls are closed. Returns their keys."""
        keys: list[str] = []
        for group, some in self.by_way.items():
            first = some[0]
            if first.carries == "PV" or first.tag.startswith("CORD-") or group == LINKS:
                continue
            lugs = any(end.by == "lug" for cut in some for end in (cut.start, cut.end))
            made = f"make {group}"
            key = f"pull {group}"
            keys.append(key)
            yield self._task(
                key,
                f"Pull {group}",
                "vehicle",
                "electric",
                ("prepare", *((made,) if lugs else ())),
                _Amount("Metres", sum(cut.cut_m.value for cut in some), self.rates.metre_min),
                _Amount("Labels", 0 if lugs else 2 * len(some), self.rates.label_min),
                parts=self._of((cut.tag for cut in some), ("conduit",) if lugs else ("conductor", "conduit")),
                about=tuple(dict.fromkeys(cut.way for cut in some)),
                how="Both ends capped and taped back: no loose end may touch anything.",
            )
        return keys

    def _placing(self, items: list[Item], bench: list[str]) -> Made:
        """Boards and units put in their places. Returns the keys."""
        keys: list[str] = []
        on_boards = set(self.boards)
        masses: dict[str, float] = {}
        for item in self.design.items:
            masses[item.tag] = item.mass_kg
        for board in self.design.whole.assemblies:
            key = f"place {board.tag}"
            keys.append(key)
            weight = sum(masses.get(tag, 0.0) for tag in board.items)
            yield self._task(
                key,
                f"Lift in and fix {board.name}, {weight:.0f} kg",
                "vehicle",
                _lifting(weight),
                ("prepare", f"wire {board.tag}") if f"wire {board.tag}" in bench else ("prepare",),
                _Amount("Lifts", _lifts(weight), self.rates.item_min),
                parts=self._holds(board.items),
                about=board.items,
                how=f"{weight:.0f} kg: {'lifting gear or enough people' if weight > LIFT_KG else 'one'}.",
            )
        for item in items:
            if item.tag in on_boards:
                continue
            key = f"place {item.tag}"
            keys.append(key)
            yield self._task(
                key,
                f"Place and fix {item.tag}, {item.name}",
                "vehicle",
                _lifting(item.mass_kg),
                ("prepare",),
                _Amount("Lifts", _lifts(item.mass_kg), self.rates.item_min),
                parts=tuple({*self._of((item.tag,)), *self._holds((item.tag,))}),
                about=(item.tag,),
            )
        return keys

    def _holds(self, tags: tuple[str, ...]) -> tuple[str, ...]:
        holds = tuple(hold.tag for hold in self.design.whole.holds if set(hold.items) & set(tags))
        return self._of(holds)

    def _landing(self, pulled: list[str], bench: list[str], placed: list[str]) -> Made:
        """Conductors landed way by way once both ends stand. Returns the keys."""
        keys: list[str] = []
        for group, some in self.by_way.items():
            first = some[0]
            if first.carries == "PV" or first.tag.startswith("CORD-"):
                continue
            ends = [end for one in some for end in (one.start, one.end)]
            lugs = sum(1 for end in ends if end.by == "lug")
            others = sum(end.pieces for end in ends if end.by != "lug")
            own = [key for key in (f"pull {group}", f"make {group}") if key in pulled or key in bench]
            touched = {tag for one in some for tag in _touched(one, self.boards)}
            if "bank" in touched:
                touched |= {pack.tag for pack in self.design.job.bank.packs}
            stands = [key for key in placed if key.removeprefix("place ") in touched]
            key = f"land {group}"
            keys.append(key)
            words = f": {first.words}" if len({one.way for one in some}) == 1 else ""
            yield self._task(
                key,
                f"Land {group}{words}",
                "vehicle",
                "electric",
                (*own, *stands) or ("prepare",),
                _Amount("Joints", lugs, self.rates.joint_min),
                _Amount("Other ends", others, self.rates.ferrule_min),
                parts=self._of((*(one.way for one in some), *(one.tag for one in some))),
                about=tuple(dict.fromkeys(one.way for one in some)),
                how="Main switch open, fuses out. Torque, mark, write down." if lugs else "",
            )
        return keys

    def _roof(self, landed: list[str]) -> Made:
        """Roof cable, glands, modules; modules last. Returns the keys."""
        roof = self.design.whole.roof
        strings = {way: some for way, some in self.by_way.items() if some[0].carries == "PV"}
        keys: list[str] = []
        if strings:
            metres = sum(cut.cut_m.value for some in strings.values() for cut in some)
            tags = tuple(cut.tag for some in strings.values() for cut in some)
            keys.append("roof cable")
            yield self._task(
                "roof cable",
                "Roof glands and string cables, to the isolators",
                "roof",
                "roof",
                ("prepare",),
                _Amount("Metres", metres, self.rates.metre_min),
                _Amount("Glands", 2 * len(strings), self.rates.hole_min * 2),
                _Amount("Plugs", 2 * len(strings), self.rates.crimp_min),
                parts=self._of((*tags, *strings), (*KITS, "plug", "switch")),
                about=tuple(strings),
                how="Isolators open; plugs capped until the last test of the string.",
            )
        kinds: dict[str, list[str]] = {}
        for module in roof.modules:
            kinds.setdefault(module.string or "not strung", []).append(module.tag)
        for string, tags_of in kinds.items():
            key = f"modules {string}"
            keys.append(key)
            yield self._task(
                key,
                f"Mount {len(tags_of)} modules of {string}",
                "roof",
                "roof",
                (*(["roof cable"] if strings else []), *landed),
                _Amount("Modules", len(tags_of), self.rates.module_min),
                parts=self._of(tuple(tags_of)),
                about=tuple(tags_of),
                how="Live as soon as the sun is on them: covered, or plugs open. Modules come last.",
            )
        return keys

    def _proving(self, before: tuple[str, ...], roof: list[str]) -> Iterator[Task]:
        ways = len(self.by_way)
        yield self._task(
            "inspect",
            "No loose ends: every joint, torque, polarity, isolation",
            "proving",
            "electric",
            tuple(dict.fromkeys((*before, *(["roof cable"] if "roof cable" in roof else [])))),
            _Amount("Ways", ways, self.rates.test_min / 2),
            how="Nothing is energised while anything here is open.",
        )
        yield self._task(
            "first power",
            "First power, by the card",
            "proving",
            "electric",
            ("inspect",),
            _Amount("Units", max(1, len(self.design.items)), self.rates.test_min),
        )
        yield self._task(
            "settings",
            "Enter the settings, read them back",
            "proving",
            "electric",
            ("first power",),
            _Amount("Settings", len(all_settings(self.design)), 0.5),
        )
        modules = tuple(key for key in roof if key.startswith("modules "))
        yield self._task(
            "acceptance",
            "Acceptance tests",
            "proving",
            "electric",
            ("settings", *modules),
            _Amount("Ways", ways, self.rates.test_min),
        )
        yield self._task(
            "handover", "Handover and lesson", "proving", "electric", ("acceptance",), _Amount("Owner", 1, 120.0)
        )


def _lifting(kg: float) -> Skill:
    return "lifting" if kg > LIFT_KG else "mechanic"


def _lifts(kg: float) -> float:
    return max(1.0, math.ceil(kg / LIFT_KG))


LINKS = "the bank's links"


def _group(cut: Cut) -> str:
    """What a conductor is made up, pulled and landed together with."""
    if cut.carries == "DC":
        return (
            LINKS
            if cut.tag.startswith("BL") or cut.words == "link in series"
            else cut.tag.split(" +")[0].split(" −")[0]
        )
    if cut.carries == "AC" and not cut.tag.startswith("CORD-"):
        return f"AC cables of {cut.start.at}"
    if cut.carries == "signal":
        return f"signal leads of {cut.start.at}"
    return "earth conductors" if cut.carries == "earth" else cut.way


def _touched(cut: Cut, boards: dict[str, str]) -> set[str]:
    """Things a conductor lands on, and the boards these are built on."""
    words = {word for end in (cut.start, cut.end) for word in end.at.replace(",", " ").split()}
    return words | {boards[word] for word in words if word in boards}
