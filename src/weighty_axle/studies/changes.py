"""Two states of a job side by side: what was stated differently, which figures moved, which findings came and went."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any, NamedTuple, TypeVar

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.derive import Deriver
from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.job.models.document import Job
from weighty_axle.rules.judge import Judged, judge
from weighty_axle.rules.registry import Finding
from weighty_axle.units import show

NAMES = ("tag", "check", "setting", "part", "conductor", "task", "end", "type", "name", "key")
"""Fields by which an entry of a list is known again; without one it is known by its place."""

LEAST_SHARE = 0.005
"""Figures that moved by less are not told: half a percent. Source: judgement."""


class Stated(NamedTuple):
    """Something that was stated differently: its path, what stood there before and after (empty: nothing)."""

    path: str
    before: str
    after: str


class Moved(NamedTuple):
    """A figure that moved: its path, and itself before and after (None: there was none, or is none now)."""

    path: str
    before: Figure | None
    after: Figure | None

    @property
    def share(self) -> float:
        """By how much of the larger of both; infinite where one is missing."""
        if self.before is None or self.after is None:
            return math.inf
        size = max(abs(self.before.value), abs(self.after.value))
        return abs(self.after.value - self.before.value) / size if size else 0.0


class Difference(NamedTuple):
    """Everything in which two states differ."""

    stated: tuple[Stated, ...]
    moved: tuple[Moved, ...]
    came: tuple[Finding, ...]
    went: tuple[Finding, ...]

    @property
    def nothing(self) -> bool:
        """Whether they are the same."""
        return not (self.stated or self.moved or self.came or self.went)


def difference(before: Job, after: Job) -> Difference:
    """What was stated differently, and what follows from it: figures from the most moved down, findings by their name.

    Source: both designs and their findings.
    """
    return Comparing().difference(before, after)


class Comparing:
    """Two states side by side, one pair after the other: what both have alike is worked out once, whichever comes
    next.
    """

    def __init__(self) -> None:
        self._deriver = Deriver()
        self._judged = (Judged(), Judged())
        self._after: tuple[Job, Design, dict[str, Finding]] | None = None

    def difference(self, before: Job, after: Job) -> Difference:
        """The difference of two states, as `difference` tells it."""
        stated = tuple(stated_differently(before, after))
        if not stated:
            return Difference((), (), (), ())
        if self._after is None or self._after[0] is not after:
            design = self._deriver.derive(after)
            self._after = (after, design, {one.id: one for one in judge(design, self._judged[1])})
        _, new, now = self._after
        old = self._deriver.derive(_alike(before, after))
        was = {one.id: one for one in judge(old, self._judged[0])}
        return Difference(
            stated,
            moved(old, new),
            tuple(one for key, one in now.items() if key not in was),
            tuple(one for key, one in was.items() if key not in now),
        )


Value = TypeVar("Value")


def _alike(value: Value, like: Value) -> Value:
    """A value in which every part that is equal to its counterpart is that very object: what it is made from is known
    by identity.
    """
    if value is like or type(value) is not type(like):
        return value
    if isinstance(value, Struct):
        own = {name: getattr(value, name) for name in value.__struct_fields__}
        made = {name: _alike(one, getattr(like, name)) for name, one in own.items()}
        if all(one is getattr(like, name) for name, one in made.items()):
            return like
        return replace(value, **made) if any(made[name] is not one for name, one in own.items()) else value
    if isinstance(value, tuple) and isinstance(like, tuple):
        several = tuple(_alike(one, like[at]) if at < len(like) else one for at, one in enumerate(value))
        same = len(several) == len(like) and all(one is other for one, other in zip(several, like, strict=True))
        return like if same else several  # type: ignore[return-value]
    return like if value == like else value


def stated_differently(before: Job, after: Job) -> Iterator[Stated]:
    """Every path at which two jobs state something else; entries of lists by their tag or name.

    Source: both jobs.
    """
    yield from _walk("", *(msgspec.json.decode(msgspec.json.encode(job)) for job in (before, after)))


def moved(before: Design, after: Design) -> tuple[Moved, ...]:
    """Figures of all systems that moved by half a percent or more, the most moved first.

    Source: both designs.
    """
    old, new = _figures(before, after), _figures(after, before)
    found = [
        Moved(path, old.get(path), new.get(path))
        for path in dict.fromkeys([*old, *new])
        if _differ(old.get(path), new.get(path))
    ]
    return tuple(sorted((one for one in found if one.share >= LEAST_SHARE), key=lambda one: (-one.share, one.path)))


def _figures(design: Design, beside: Design) -> dict[str, Figure]:
    """Figures of all systems by path, but for answers that are the very same in the other design."""
    found: dict[str, Figure] = {}
    there = {own.system.key: own for own in (beside, *beside.others)}
    for own in (design, *design.others):
        start = f"{own.system.key}: " if own.system.key else ""
        found |= {f"{start}{path}": figure for path, figure in own.figures(there.get(own.system.key))}
    return found


def _differ(old: Figure | None, new: Figure | None) -> bool:
    if old is None or new is None:
        return True
    return old.value != new.value and not (math.isnan(old.value) and math.isnan(new.value))


def _walk(path: str, old: Any, new: Any) -> Iterator[Stated]:
    if old == new:
        return
    if isinstance(old, dict) and isinstance(new, dict):
        for key in dict.fromkeys([*old, *new]):
            yield from _walk(f"{path}.{key}" if path else str(key), old.get(key), new.get(key))
    elif isinstance(old, list) and isinstance(new, list) and _named(old) is not None and _named(new) is not None:
        was, now = _named(old) or {}, _named(new) or {}
        for name in dict.fromkeys([*was, *now]):
            yield from _walk(f"{path}[{name}]", was.get(name), now.get(name))
        if list(was) != list(now) and sorted(was) == sorted(now):
            yield Stated(path, ", ".join(was), ", ".join(now))
    else:
        yield Stated(path, _words(old), _words(new))


def _named(entries: list[Any]) -> dict[str, Any] | None:
    """Entries by their name; None where they have none, or two have the same."""
    found: dict[str, Any] = {}
    for one in entries:
        name = next((str(one[key]) for key in NAMES if isinstance(one, dict) and key in one), None)
        if name is None or name in found:
            return None
        found[name] = one
    return found


def _words(value: Any) -> str:
    """A stated value in short: numbers and words as they are, of an entry its name and what it says."""
    if value is None:
        return ""
    if isinstance(value, dict):
        return ", ".join(f"{key} {_words(one)}" for key, one in value.items() if one not in (None, "", [], {}))[:200]
    if isinstance(value, list):
        return f"{len(value)} entries" if any(isinstance(one, dict) for one in value) else str(value)[1:-1][:200]
    return f"{value:g}" if isinstance(value, float) else str(value)[:200]


def difference_lines(found: Difference) -> Iterator[str]:
    """The difference as lines."""
    if found.nothing:
        yield "Both state the same."
        return
    yield f"{len(found.stated)} stated differently:"
    for one in found.stated:
        yield f"  {one.path}: {one.before or 'nothing'} → {one.after or 'nothing'}"
    yield f"{len(found.moved)} figures moved:"
    for figure in found.moved[:MOST_LINES]:
        before, after = (_shown(each) for each in (figure.before, figure.after))
        name = (figure.after or figure.before or _NONE).name
        yield f"  {name}: {before} → {after}"
    if len(found.moved) > MOST_LINES:
        yield f"  and {len(found.moved) - MOST_LINES} more, each moved by less"
    for words, some in (("came", found.came), ("went", found.went)):
        yield f"{len(some)} findings {words}:"
        for finding in some:
            yield f"  {finding.rule.severity.upper()} {finding.sentence()}"


MOST_LINES = 60
_NONE = Figure(name="", value=0.0, unit="", formula="", inputs=(), source="")


def _shown(figure: Figure | None) -> str:
    return show(figure.value, figure.unit) if figure is not None else "none"


def difference_data(found: Difference) -> dict[str, Any]:
    """The difference as open data."""
    return {
        "stated": [{"path": one.path, "before": one.before, "after": one.after} for one in found.stated],
        "figures": [
            {
                "path": one.path,
                "name": (one.after or one.before or _NONE).name,
                "unit": (one.after or one.before or _NONE).unit,
                "before": _finite(one.before),
                "after": _finite(one.after),
            }
            for one in found.moved
        ],
        "came": [{"id": one.id, "severity": one.rule.severity, "sentence": one.sentence()} for one in found.came],
        "went": [{"id": one.id, "severity": one.rule.severity, "sentence": one.sentence()} for one in found.went],
    }


def _finite(figure: Figure | None) -> float | None:
    return figure.value if figure is not None and math.isfinite(figure.value) else None
