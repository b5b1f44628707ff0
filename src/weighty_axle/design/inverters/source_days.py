"""A day at a source: what it gives conductor by conductor, what the inverters must add to each line, and what is left
over.
"""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.design.brief.draws import DC_CHANNEL, FEEDS
from weighty_axle.design.brief.profiles import Profile


class FedConductor(NamedTuple):
    """Lines of the system that one conductor of a source feeds, and what it gives for hours [VA]; 0 for lines the
    source leaves to the inverters.
    """

    lines: tuple[str, ...]
    gives_va: float


class Lack(NamedTuple):
    """What the bank must add to every line [VA] and in all [W], and what the source has to spare [W]."""

    adds_va: dict[str, float]
    adds_w: float
    spare_w: float


class Minute(NamedTuple):
    """One step of a day at a source: beginning [min], complex power of every line [VA], and what is lacking."""

    start_min: int
    lines_va: dict[str, complex]
    lack: Lack

    @property
    def asked_w(self) -> float:
        """Active power of all lines."""
        return sum(va.real for va in self.lines_va.values())


class MeanStep(NamedTuple):
    """One step of the mean day: length [h], to spare, added by the bank, and DC loads [W]."""

    hours: float
    spare_w: float
    adds_w: float
    dc_w: float


class SourceDay(NamedTuple):
    """A kind of day at a source: the minute in which the bank adds most, the one for each line, and the mean day step
    by step.
    """

    profile: Profile
    worst: Minute
    each: dict[str, Minute]
    mean: tuple[MeanStep, ...]


class _Lacks(NamedTuple):
    """The same as Lack, step by step."""

    adds_va: dict[str, list[float]]
    adds_w: list[float]
    spare_w: list[float]

    def at(self, step: int) -> Lack:
        return Lack({line: adds[step] for line, adds in self.adds_va.items()}, self.adds_w[step], self.spare_w[step])


def lacking(conductors: tuple[FedConductor, ...], lines_va: dict[str, complex]) -> Lack:
    """What a source leaves to the bank and has to spare, conductor by conductor; loads keep their power factor.

    Source: textbook relation.
    """
    return _lacks(conductors, {line: [va] for line, va in lines_va.items()}, 1).at(0)


def _lacks(conductors: tuple[FedConductor, ...], lines_va: dict[str, list[complex]], steps: int) -> _Lacks:
    nothing, adds_va = [0j] * steps, dict[str, list[float]]()
    adds_w, spare_w = [0.0] * steps, [0.0] * steps
    for lines, gives_va in conductors:
        powers = [lines_va.get(line, nothing) for line in lines]
        sizes = [list(map(abs, one)) for one in powers]
        asked = list(map(sum, zip(*sizes, strict=True)))
        parts = [1 - gives_va / ask if ask > gives_va else 0.0 for ask in asked]
        adds_va |= {
            line: [size * part for size, part in zip(one, parts, strict=True)]
            for line, one in zip(lines, sizes, strict=True)
        }
        for power in powers:
            adds_w = [added + va.real * part for added, va, part in zip(adds_w, power, parts, strict=True)]
        spare_w = [spare + max(0.0, gives_va - one) for spare, one in zip(spare_w, asked, strict=True)]
    return _Lacks(adds_va, adds_w, spare_w)


def source_day(
    profile: Profile, conductors: tuple[FedConductor, ...], lines: tuple[str, ...], across: bool
) -> SourceDay:
    """A kind of day at a source, at full power for its worst minutes and in the mean; what hangs across lines counts
    where it gets a voltage.

    Source: sums; textbook relation.
    """
    running, times = profile.running_w.values, profile.running_w.times_min
    steps = len(times) - 1
    full = _by_line(
        [list(map(complex, w, var)) for w, var in zip(running, profile.running_var.values, strict=True)], lines, across
    )
    lacks = _lacks(conductors, full, steps)

    def minute(step: int) -> Minute:
        return Minute(times[step], {line: va[step] for line, va in full.items()}, lacks.at(step))

    asked_w = [sum(va.real for va in one) for one in zip(*full.values(), strict=True)]
    worst = minute(max(range(steps), key=lambda step: (lacks.adds_w[step], asked_w[step])))
    each = {
        line: minute(max(range(steps), key=lacks.adds_va[line].__getitem__)) if line in lacks.adds_va else worst
        for line in lines
    }
    # In the mean, loads keep the power factor of what runs.
    mean = [
        [complex(w, var * w / run if run else 0.0) for w, run, var in zip(*one, strict=True)]
        for one in zip(profile.mean_w.values, running, profile.running_var.values, strict=True)
    ]
    usual = _lacks(conductors, _by_line(mean, lines, across), steps)
    dc_w = profile.mean_w.values[DC_CHANNEL]
    return SourceDay(
        profile, worst, each, tuple(map(MeanStep, profile.mean_w.hours(), usual.spare_w, usual.adds_w, dc_w))
    )


def _by_line(powers: list[list[complex]], lines: tuple[str, ...], across: bool) -> dict[str, list[complex]]:
    """Power of every line, step by step."""
    shared = [feed for feed in ("L1+L2", "L1+L2+L3") if across]
    found = {}
    for line in lines:
        feeds = [line, *(["AC"] if line == "L1" else []), *shared]
        parts = [(powers[FEEDS.index(feed)], 1 / len(lines) if feed in shared else 1.0) for feed in feeds]
        parts = [one for one in parts if any(one[0])] or parts[:1]
        found[line] = [sum(va) for va in zip(*([one * part for one in of] for of, part in parts), strict=True)]
    return found
