"""Own types in the window: what the lists offer, and keeping one for later jobs."""

from __future__ import annotations

from weighty_axle.desk.text import tr
from weighty_axle.desk.work.preferences import own_types_file
from weighty_axle.job.stated import Stated
from weighty_axle.reference.own_types import LISTS, Datasheet, keep, read_own, typical


def lists_of(kind: type[Stated]) -> tuple[Datasheet, ...]:
    """Own types of a kind, then the typical ones; none of a class that is no datasheet."""
    if kind not in LISTS:
        return ()
    try:
        own = read_own(own_types_file()).of(kind)
    except ValueError:  # told where it is kept or taken in; the typical ones are there all the same
        own = ()
    return (*own, *typical(kind))


def keep_type(one: Datasheet) -> str:
    """Keep a datasheet for later jobs; returns the sentence of why it was not, or ''."""
    try:
        keep(own_types_file(), (one,))
    except (OSError, ValueError) as error:
        return tr("Not kept: {why}").format(why=error)
    return ""
