"""Named changes to a job. Each is an Edit: words for the undo list and a pure function Job -> Job.

Views, rules' remedies and tests all change a job this way; nothing else does.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable
from typing import Any, TypeVar

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.job.models.document import Job
from weighty_axle.job.stated import Place, Stated
from weighty_axle.job.systems import HOUSE, part_of, put_back
from weighty_axle.job.tags import new_tags, path_of, tagged, used_tags

WHOLE = "*"
"""What an edit changes that takes the job as it is stated."""


class EditRefusedError(Exception):
    """A change that cannot be made to this job; its text is the sentence for the user."""


class Edit(Struct, frozen=True):
    """A change in the user's words.

    Edits in a row with the same non-empty `merge` key are one undo step. `path` is the one place it changes, where it
    is one. `system` is the key of the system whose view of the job it takes, WHOLE for the job as it is stated; empty
    of meaning (None) it is the one on show.
    """

    label: str
    apply: Callable[[Job], Job]
    merge: str = ""
    path: str = ""
    system: str | None = None

    def on(self, whole: Job, shown: str = HOUSE) -> Job:
        """The whole job with this edit made."""
        key = shown if self.system is None else self.system
        if key == WHOLE:
            return self.apply(whole)
        part = part_of(whole, key)
        return put_back(whole, key, with_free_tags(whole, part, self.apply(part)))


def with_free_tags(whole: Job, part: Job, changed: Job) -> Job:
    """A changed part of a job whose new things have tags that nothing else in the whole has.

    Who adds a thing to one system does not see the tags of the others.
    """
    if part is whole or part is changed:
        return changed
    new = new_tags(part, changed)
    if not new:
        return changed
    others = {thing.tag for _, thing in tagged(whole)} - {thing.tag for _, thing in tagged(part)}
    clashing = {tag: kind for tag, kind in new.items() if tag in others}
    for tag, kind in clashing.items():
        taken = others | used_tags(changed)
        free = next(name for at in itertools.count(1) if (name := f"{kind.stem}{at}") not in taken)
        changed = _renamed(changed, tag, free)
    return changed


def _renamed(value: Any, tag: str, new: str) -> Any:
    """A stated value with a tag replaced wherever it stands by itself; what has it nowhere stays the very object."""
    if isinstance(value, Struct):
        own = {name: getattr(value, name) for name in value.__struct_fields__}
        changed = {name: after for name, one in own.items() if (after := _renamed(one, tag, new)) is not one}
        return replace(value, **changed) if changed else value
    if isinstance(value, tuple):
        several = tuple(_renamed(one, tag, new) for one in value)
        return several if any(after is not one for after, one in zip(several, value, strict=True)) else value
    if isinstance(value, dict):
        return {(new if key == tag else key): _renamed(one, tag, new) for key, one in value.items()}
    return new if value == tag else value


Owner = TypeVar("Owner", bound=Stated)


_STEP = re.compile(r"([a-z_0-9]+)(?:\[([^\]]+)\])?(?:\.|$)")
"""One step of a path and the point after it; within brackets a point is part of the name."""


def value_at(job: Any, path: str) -> Any:
    """Value at a path such as `bank.usable_share` or `loads[LD3].running_w`.

    Raises EditRefusedError when there is none.
    """
    found: Any = job
    at = 0
    while at < len(path):
        match = _STEP.match(path, at)
        if match is None:
            raise _absent(path[at:])
        found = _step(found, match)
        at = match.end()
    return found


def _absent(part: str) -> EditRefusedError:
    """What a path leads to is not there: it may have gone with another step."""
    return EditRefusedError(f"This job has no {part.replace('[', ' ').rstrip('].')} any more.")


def _step(owner: Any, match: re.Match[str]) -> Any:
    if not hasattr(owner, match[1]):
        raise _absent(match[0])
    inner = getattr(owner, match[1])
    if match[2] is None:
        return inner
    if isinstance(inner, dict):
        return inner.get(match[2])
    for at, one in enumerate(inner):
        if _key(one, at) == match[2]:
            return one
    raise _absent(match[0])


def _key(one: Any, at: int) -> str:
    """What an entry is called by in a path: its tag, or its place in the row where it has none."""
    return str(getattr(one, "tag", at))


def with_value(owner: Owner, path: str, value: Any) -> Owner:
    """The same document with one value replaced; everything not on the path is shared, not copied."""
    match = _STEP.match(path)
    if not match or not hasattr(owner, match[1]):
        raise _absent(path)
    rest = path[match.end() :]
    name, tag = match[1], match[2]
    inner = getattr(owner, name)
    if tag is None:
        return replace(owner, **{name: with_value(inner, rest, value) if rest else value})
    if isinstance(inner, dict):
        changed = {k: v for k, v in inner.items() if k != tag or value is not None}
        if value is not None:
            changed[tag] = value
        return replace(owner, **{name: changed})
    if not any(_key(one, at) == tag for at, one in enumerate(inner)):
        raise _absent(match[0])
    if value is None and not rest:
        kept = tuple(one for at, one in enumerate(inner) if _key(one, at) != tag)
        return replace(owner, **{name: kept})
    changed_one = tuple(
        (with_value(one, rest, value) if rest else value) if _key(one, at) == tag else one
        for at, one in enumerate(inner)
    )
    return replace(owner, **{name: changed_one})


def set_value(path: str, value: Any, label: str, merge: str = "") -> Edit:
    """Replace the value at `path`; None takes a tagged thing or a dict entry away."""
    return Edit(label, lambda job: with_value(job, path, value), merge, path)


def value_words(value: Any) -> str:
    """A value as the undo list says it."""
    return "not stated" if value is None else str(value)


def of_whole(edit: Edit) -> Edit:
    """The same change, made to the job as it is stated, whatever system is on show."""
    return replace(edit, system=WHOLE)


# ---- places --------------------------------------------------------------------------------------------------


def place_path(job: Job, tag: str) -> str:
    """Path of a placed item. Raises EditRefusedError for an unknown tag."""
    path = path_of(job, tag)
    if path is None:
        raise _absent(tag)
    return path


def move(tags: tuple[str, ...], dx_m: float = 0.0, dy_m: float = 0.0, dz_m: float = 0.0, merge: str = "") -> Edit:
    """Shift items by a distance along, across and up."""

    def apply(job: Job) -> Job:
        for tag in tags:
            path = f"{place_path(job, tag)}.place"
            old: Place = value_at(job, path)
            new = Place(x_m=round(old.x_m + dx_m, 4), y_m=round(old.y_m + dy_m, 4), z_m=round(old.z_m + dz_m, 4))
            job = with_value(job, path, new)
        return job

    words = f"Move {tags[0] if len(tags) == 1 else f'{tags[0]} and {len(tags) - 1} more'}"
    return Edit(words, apply, merge, system=WHOLE)


def turn(tags: tuple[str, ...]) -> Edit:
    """A quarter turn against the clock, seen from above; several turn as one about the middle of their places."""

    def apply(job: Job) -> Job:
        paths = [place_path(job, tag) for tag in tags]
        places: list[Place] = [value_at(job, f"{path}.place") for path in paths]
        x_m = (min(one.x_m for one in places) + max(one.x_m for one in places)) / 2
        y_m = (min(one.y_m for one in places) + max(one.y_m for one in places)) / 2
        for path, old in zip(paths, places, strict=True):
            # Along counts to the rear and across to the right: what was in front comes to the left.
            new = Place(x_m=round(x_m - (old.y_m - y_m), 4), y_m=round(y_m + (old.x_m - x_m), 4), z_m=old.z_m)
            job = with_value(job, f"{path}.place", new)
            job = with_value(job, f"{path}.turn_deg", (value_at(job, f"{path}.turn_deg") + 90) % 360)
        return job

    words = f"Turn {tags[0] if len(tags) == 1 else f'{tags[0]} and {len(tags) - 1} more'}"
    return Edit(words, apply, system=WHOLE)


def remove(path: str, words: str) -> Edit:
    """Take a tagged thing out of the job."""
    return set_value(path, None, f"Remove {words}")
