"""What hangs on a bank beside its own inverters and loads: other groups of inverters, converters to other bars."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.figures import Figure
from weighty_axle.job.models.brief import Season


class BesideDay(Struct, frozen=True, kw_only=True):
    """Power taken from the bank on a kind of day in some seasons: from each time on [min] so many watts."""

    kind: str
    seasons: tuple[Season, ...]
    times_min: tuple[int, ...]
    watts: tuple[float, ...]


class Beside(Struct, frozen=True, kw_only=True):
    """One such thing: what it takes at its most, its surge, and its days.

    `shore_a` is what a group of inverter-chargers puts into the bank hooked up.
    """

    tag: str
    name: str
    full_w: Figure
    surge_w: Figure
    days: tuple[BesideDay, ...]
    shore_a: Figure | None = None

    def day(self, kind: str, season: Season) -> BesideDay | None:
        """Its day of a kind in a season; the nearest season where that is not lived."""
        of_kind = [one for one in self.days if one.kind == kind]
        return next((one for one in of_kind if season in one.seasons), of_kind[0] if of_kind else None)
