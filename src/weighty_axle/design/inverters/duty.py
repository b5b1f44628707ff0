"""Worst, where and when: what every conductor of the AC side carries at its own worst minute in its own worst state."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Sequence
from operator import mul
from typing import Generic, NamedTuple, TypeVar

from msgspec import Struct

from weighty_axle.design.brief.day import BriefResult, when
from weighty_axle.design.brief.draws import LoadRow
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.figures import TEXTBOOK, Figure, over
from weighty_axle.design.inverters.ac_wiring import AcWiring
from weighty_axle.design.inverters.duty_cases import Case, DutyCases, Group
from weighty_axle.design.inverters.state import Phase
from weighty_axle.job.models.brief import Load
from weighty_axle.physics.electric.phasors import complex_power
from weighty_axle.physics.loads.daytime import DAY_MIN, summed

# ---- sums of one kind of day ---------------------------------------------------------------------------------


class Reached(NamedTuple):
    """Largest size of a quantity on one kind of day [VA, or 1 for a share], the minute, and powers then: of each line
    by itself, and shared by all [VA].
    """

    size: float
    minute: int
    own_va: tuple[complex, ...]
    shared_va: complex

    @property
    def totals_va(self) -> tuple[complex, ...]:
        """Power of every line with its part of what hangs across all of them [VA]."""
        return tuple(own + self.shared_va / len(self.own_va) for own in self.own_va)


NOTHING = Reached(0.0, 0, (), 0j)


class Start(NamedTuple):
    """The worst start on a line: running load and one motor's extra [VA], the motor and the minute."""

    running_va: float
    extra_va: float
    motor: str
    minute: int

    @property
    def size(self) -> float:
        """Both together [VA]: magnitudes are added, which is on the safe side."""
        return self.running_va + self.extra_va


NO_START = Start(0.0, 0.0, "", 0)


class GroupWorst(Struct, frozen=True, kw_only=True):
    """Worst of one group on one kind of day.

    `together` is all lines as one; `starts` is by line, and of all as one under ''. `uneven` is the line most above the
    mean; `swing` the power at twice the mains frequency; `effective` √(P² + swing² ÷ 2).

    `apart` and `alike` are the neutral of two lines 180° apart and in phase, whatever they are.
    """

    lines: dict[str, Reached]
    together: Reached
    starts: dict[str, Start]
    neutral: Reached
    pair: Reached
    swing: Reached
    effective: Reached
    active: Reached
    uneven: Reached
    apart: Reached
    alike: Reached

    def load_on(self, lines: tuple[str, ...]) -> Reached:
        """Highest load of one line, or of all as one."""
        return self.lines.get(lines[0], NOTHING) if len(lines) == 1 else self.together

    def start_on(self, lines: tuple[str, ...]) -> Start:
        """Worst start on one line, or on all as one."""
        return self.starts.get(lines[0] if len(lines) == 1 else "", NO_START)

    @property
    def largest(self) -> Reached:
        """Highest load of any line."""
        return max(self.lines.values(), key=lambda line: line.size, default=NOTHING)


def motors_of(loads: tuple[Load, ...]) -> tuple[tuple[str, float], ...]:
    """What one unit of every load with a start takes above its running power while it starts [VA]."""
    return tuple((load.tag, start_extra_va(load)) for load in loads if load.start_multiple > 1)


def start_extra_va(load: Load) -> float:
    """What one unit takes above its running power while it starts [VA]."""
    return abs(complex_power(load.running_w, load.power_factor)) * (load.start_multiple - 1)


def duty_sums(
    profile: Profile, groups: tuple[Group, ...], motors: tuple[tuple[str, float], ...], lines: int
) -> tuple[GroupWorst, ...]:
    """Every group's own worst minutes on one kind of day, in a system of so many lines."""
    rows = {row.tag: row for row in profile.rows}
    extra = dict(motors)
    return tuple(_worst(rows, group, extra, lines) for group in groups)


def phases_of(group: Group) -> dict[str, Phase]:
    """Lines of a group, with their phases, in order."""
    return dict(sorted({line: phase for _, on in group for line, phase in on}.items()))


def _worst(rows: dict[str, LoadRow], group: Group, motors: dict[str, float], count: int) -> GroupWorst:
    phases = phases_of(group)
    place, shared = {line: at for at, line in enumerate(phases)}, len(phases)
    stretches: list[tuple[int, int, int, float]] = []
    reactive = shared + 1
    for tag, on in group:
        row = rows.get(tag)
        if row is None:
            continue
        at = place[on[0][0]] if len(on) == 1 else shared
        if row.standby_w:  # standby all day, and while it runs what it draws more than that
            stretches.append((at, 0, DAY_MIN, row.standby_w))
        for span in row.spans:
            stretches.append((at, span.start_min, span.end_min, row.full_w * span.level - row.standby_w))
            if row.full_var:
                stretches.append((at + reactive, span.start_min, span.end_min, row.full_var * span.level))
    if not stretches:
        return GroupWorst(
            lines={},
            together=NOTHING,
            starts={},
            neutral=NOTHING,
            pair=NOTHING,
            swing=NOTHING,
            effective=NOTHING,
            active=NOTHING,
            uneven=NOTHING,
            apart=NOTHING,
            alike=NOTHING,
        )
    steps = summed(2 * reactive, stretches)
    watts, vars_ = steps.values[:reactive], steps.values[reactive:]
    powers = [list(map(complex, w, var)) for w, var in zip(watts, vars_, strict=True)]
    own, across = powers[:shared], powers[shared]
    lines = [[a + b / shared for a, b in zip(one, across, strict=True)] for one in own] if any(across) else own

    def reached(sizes: list[float]) -> Reached:
        step = max(range(len(sizes)), key=sizes.__getitem__)
        return Reached(sizes[step], steps.times_min[step], tuple(one[step] for one in own), across[step])

    turns = [phase.turn for phase in phases.values()]
    columns = list(zip(*([va.conjugate() for va in one] for one in lines), strict=True))

    def added(weights: Sequence[complex]) -> list[float]:
        return [abs(sum(map(mul, column, weights))) for column in columns]

    # Lines in step with one another: −Σ I (Kirchhoff's current law). Of supplies not in step the sizes add, on the safe
    # side.
    supplies = dict.fromkeys(phase.supply for phase in phases.values())
    neutral = [
        added([turn if phase.supply == supply else 0j for turn, phase in zip(turns, phases.values(), strict=True)])
        for supply in supplies
    ]
    sizes = [list(map(abs, one)) for one in lines]
    whole = added([1.0] * shared)
    active = [sum(va.real for va in column) for column in columns]
    swing = added([turn**2 for turn in turns])
    signs = [(-1.0) ** at for at in range(shared)]
    return GroupWorst(
        lines={line: reached(one) for line, one in zip(phases, sizes, strict=True)},
        together=reached(whole),
        starts=_starts(rows, group, steps.times_min, {**dict(zip(phases, sizes, strict=True)), "": whole}, motors),
        neutral=reached(neutral[0] if len(neutral) == 1 else list(map(sum, zip(*neutral, strict=True)))),
        pair=reached([abs(va) / shared for va in across]),
        swing=reached(swing),
        effective=reached([math.hypot(watts, va / math.sqrt(2)) for watts, va in zip(active, swing, strict=True)]),
        active=reached(active),
        uneven=reached(
            [max(one) - sum(one) / count for one in zip(*sizes, strict=True)]
        ),  # a line with nothing on it counts too
        apart=reached([abs(sum(map(mul, one, signs))) for one in zip(*own, strict=True)]),
        alike=reached([abs(sum(one)) for one in zip(*own, strict=True)]),
    )


def _starts(
    rows: dict[str, LoadRow],
    group: Group,
    times: tuple[int, ...],
    sizes: dict[str, list[float]],
    motors: dict[str, float],
) -> dict[str, Start]:
    """Worst start of every line."""
    best = dict.fromkeys(sizes, NO_START)
    for tag, on in group:
        extra, row = motors.get(tag, 0.0), rows.get(tag)
        for span in row.spans if extra and row is not None else ():
            first, last = bisect_left(times, span.start_min), bisect_left(times, span.end_min)
            for line, part in (*((line, 1 / len(on)) for line, _ in on), ("", 1.0)):
                step = max(range(first, last), key=sizes[line].__getitem__)
                found = Start(sizes[line][step], extra * part, tag, times[step])
                if found.size > best[line].size:
                    best[line] = found
    return best


# ---- worst of all --------------------------------------------------------------------------------------------

Sums = tuple[tuple[Profile, tuple[GroupWorst, ...]], ...]
"""Kinds of day, each with the worst of every group on it."""


Quantity = TypeVar("Quantity", Reached, Start)


class Duty(NamedTuple):
    """A quantity at its own worst minute in its own worst state; `cases` holds the worst of every set of states and how
    many states that is.

    Beside it the result names the figure itself with its unit.
    """

    worst: Figure
    cases: tuple[tuple[float, int], ...] = ()

    def more(self, limit: float) -> str:
        """In how many more states a limit is passed, as words."""
        others = sum(count for value, count in self.cases if over(value, limit)) - 1
        return f" (and in {others} more state{'s' if others > 1 else ''})" if others > 0 else ""


class Asked(NamedTuple, Generic[Quantity]):
    """What a group reaches in a case, and the minute in words."""

    case: Case
    reached: Quantity
    minute: str

    @property
    def words(self) -> str:
        """State and minute."""
        return f"{self.case.state.short}: {self.minute}" if self.reached.size else self.minute


DutyPiece = tuple[Profile, tuple[Group, ...], tuple[tuple[str, float], ...], int]


def duty_pieces(
    profiles: dict[str, Profile], cases: DutyCases, motors: tuple[tuple[str, float], ...], wiring: AcWiring
) -> dict[str, DutyPiece]:
    """What the worst of every group is summed from, kind of day by kind of day."""
    return {key: (profile, cases.groups, motors, len(wiring.lines)) for key, profile in profiles.items()}


def painted(
    cases: DutyCases, profiles: dict[str, Profile], duty: dict[str, tuple[GroupWorst, ...]], brief: BriefResult
) -> Painted:
    """What is carried in every case on every kind of day."""
    return Painted(cases, tuple((profile, duty[key]) for key, profile in profiles.items()), brief)


class Painted(NamedTuple):
    """What is carried in every case on every kind of day: the cases, the sums, and the brief whose words tell the
    minute.
    """

    found: DutyCases
    sums: Sums
    brief: BriefResult

    def asked(self, cases: tuple[Case, ...], pick: Callable[[GroupWorst], Quantity]) -> list[Asked[Quantity]]:
        """The worst of a quantity in every case, the plainest state first.

        A day hooked up needs something plugged in.
        """
        unplugged = tuple(pair for pair in self.sums if pair[0].use != "hooked_up") or self.sums
        made = []
        for case in cases:
            days = self.sums if case.state.plugged else unplugged
            profile, reached = max(
                ((profile, pick(groups[case.group])) for profile, groups in days), key=lambda pair: pair[1].size
            )
            made.append(
                Asked(case, reached, when(self.brief, profile, reached.minute) if reached.size else "nothing painted")
            )
        return made

    def duty(
        self,
        name: str,
        unit: str,
        cases: tuple[Case, ...],
        pick: Callable[[GroupWorst], Quantity],
        make: Callable[[Asked[Quantity]], Figure],
    ) -> Duty:
        """The largest of a quantity over cases, `make` turning what is reached into its figure; of states as bad as one
        another the first is told.
        """
        every = [(make(one), one.case.count) for one in self.asked(cases, pick)]
        if not every:
            return Duty(
                Figure(
                    name=name,
                    value=0.0,
                    unit=unit,
                    formula="live in no state",
                    inputs=(),
                    source=TEXTBOOK,
                    limit="nothing painted",
                )
            )
        most = max(figure.value for figure, _ in every)
        told = next(figure for figure, _ in every if not over(most, figure.value))
        return Duty(told, tuple((figure.value, count) for figure, count in every))
