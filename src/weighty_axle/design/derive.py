"""derive(job) -> Design: every answer of the table, each worked out again only when what it reads has changed."""

from __future__ import annotations

from collections.abc import Callable
from operator import attrgetter
from typing import Any

from msgspec.structs import replace

from weighty_axle.design.alike import alike
from weighty_axle.design.beside import Beside
from weighty_axle.design.figures import Figure
from weighty_axle.design.sharing import beside, in_order, of_house, plant_of
from weighty_axle.design.table import TABLE, Answer, Design, Each
from weighty_axle.job.models.document import Job
from weighty_axle.job.stated import Stated
from weighty_axle.job.systems import HOUSE, System, part_of, systems


def _getter(path: str) -> tuple[str, Callable[[Any], Any] | None]:
    """What a path begins with, and how to walk the rest of it."""
    head, _, rest = path.partition(".")
    return head, attrgetter(rest) if rest else None


_GETTERS = {row.name: tuple(map(_getter, row.reads)) for row in TABLE if isinstance(row, Answer)}


def _same(old: Any, new: Any) -> bool:
    """Whether a part is unchanged: the very object, or what was stated or taken out of an answer and says the same."""
    return old is new or (isinstance(new, Figure | Stated | tuple | dict | str | float | int) and alike(old, new))


class Deriver:
    """Keeps the last result of each answer with the very objects it was made from; nothing else is cached."""

    def __init__(self) -> None:
        self._kept: dict[Any, tuple[tuple[Any, ...], Any]] = {}
        self._of: dict[str, Deriver] = {}
        self._last: Design | None = None
        self._plant: Job | None = None

    def _once(self, key: Any, function: Callable[..., Any], parts: tuple[Any, ...]) -> Any:
        kept = self._kept.get(key)
        if kept is not None and all(_same(old, new) for old, new in zip(kept[0], parts, strict=True)):
            return kept[1]
        result = function(*parts)
        if kept is not None and alike(kept[1], result):
            result = kept[1]  # what reads it stays as it is
        self._kept[key] = (parts, result)
        return result

    def _each(self, row: Each, pieces: dict[Any, tuple[Any, ...]]) -> dict[Any, Any]:
        made = {key: self._once((row.name, key), row.function, parts) for key, parts in pieces.items()}
        # The very dict while no piece has changed, so that what reads it stays as it is.
        old: dict[Any, Any] = self._kept.get(row.name, ((), {}))[1]
        if list(old) == list(made) and all(old[key] is piece for key, piece in made.items()):
            made = old
        self._kept[row.name] = ((), made)
        return made

    def _one(self, system: System, whole: Job, part: Job, beside: tuple[Beside, ...], shared: Deriver) -> Design:
        """Design of one system; `part` is it as a job of its own. Answers about everything in the vehicle are worked
        out once for all systems, by the one that is `shared`.
        """
        if self._plant is None or any(
            one is not now for one, now in zip(plant_of(self._plant), plant_of(whole), strict=True)
        ):
            self._plant = whole
        found: dict[str, Any] = {"job": part, "whole": whole, "plant": self._plant, "beside": beside, "system": system}
        for row in TABLE:
            if isinstance(row, Each):
                found[row.name] = self._each(row, found[row.pieces])
            else:
                parts = tuple(found[head] if walk is None else walk(found[head]) for head, walk in _GETTERS[row.name])
                keeper = shared if row.name in OF_THE_WHOLE else self
                found[row.name] = keeper._once(row.name, row.function, parts)
        self._last = Design(**{name: found[name] for name in Design.__struct_fields__ if name != "others"})
        return self._last

    def _as_before(self, system: System, whole: Job, part: Job, others: tuple[Beside, ...]) -> Design | None:
        """The last design of a system beside the house, where nothing that it can read has changed; what is of the
        whole job (weights) is put in afterwards.
        """
        kept = self._last
        if kept is None or system.key == HOUSE or kept.system != system or kept.beside != others:
            return None
        return kept if part == kept.job and of_house(whole) == of_house(kept.whole) else None

    def derive(self, job: Job) -> Design:
        """Design of a job: of its house system, with those of the others beside it.

        Raises: ValueError only for a job that job.checks would refuse.
        """
        made: dict[str, Design] = {}
        for system in in_order(job):
            keeper = self._of.setdefault(system.key, Deriver()) if system.key != HOUSE else self
            others, part = beside(job, system, made), part_of(job, system.key)
            made[system.key] = keeper._as_before(system, job, part, others) or keeper._one(
                system, job, part, others, self
            )
        there = systems(job)
        for system in there:
            if system.shares_bank:
                bar = next(one for one in there if one.bar == system.bar and not one.shares_bank)
                made[system.key] = _on_shared_bank(made[system.key], made[bar.key])
        house = made.pop(HOUSE)
        whole = {name: getattr(house, name) for name in OF_THE_WHOLE}
        made = {key: replace(one, whole=job, **whole) for key, one in made.items()}
        return replace(house, others=tuple(made[one.key] for one in there[1:])) if made else house


OF_THE_WHOLE = ("items", "ways", "house", "room", "clear", "holds", "place")
"""Answers about everything in the vehicle: a system that is as before has them as they are now."""
_OF_A_GROUP = ("brief", "inverters", "sources", "ac", "circuits", "panels", "states", "ripple", "loops", "signals")
"""Answers of a group that shares a bank which are its own; all others are of the bank with everything on it."""


def _on_shared_bank(group: Design, owner: Design) -> Design:
    """A group's design with bank, charging and wiring as they are with all that hangs on the bank."""
    job = replace(owner.job, inverters=group.job.inverters, ac=group.job.ac, loads=group.job.loads)
    own = {name: getattr(group, name) for name in _OF_A_GROUP}
    return replace(owner, system=group.system, job=job, **own)


def derive(job: Job) -> Design:
    """Design of a job, computed afresh."""
    return Deriver().derive(job)
