"""Circuits, feeders, panels and transfer relays: what each carries in the worst step against breaker and copper."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.brief.day import BriefResult, when
from weighty_axle.design.brief.draws import LoadRow
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.cables import AC_FEEDER_M, CIRCUIT_M, HouseCables
from weighty_axle.design.conductors import AC_COPPER_C, ohm_per_m
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.design.inverters.duty import NOTHING, Asked, Duty, GroupWorst, Painted, Reached, phases_of
from weighty_axle.design.inverters.duty_cases import BEHIND, NONE, Case
from weighty_axle.design.inverters.shore import chargers_ac_a
from weighty_axle.design.inverters.state import Phase
from weighty_axle.job.models.inverters import LINES, Inverter, Inverters, Panel, line_v, units_on
from weighty_axle.job.models.parts import Practice
from weighty_axle.physics.loads.daytime import DAY_MIN, summed
from weighty_axle.reference import tables

CONTINUOUS_MIN = 180
"""From this long on a load counts as continuous. Source: NEC article 100, recalled."""
CONTINUOUS_LOAD_SHARE: dict[Practice, float] = {"north_american": 0.8, "international": 1.0}
"""Share of a breaker's rating a continuous load may take.

Source: NEC 210.20(A), recalled; IEC breakers carry their rating.
"""


class CircuitResult(Struct, frozen=True, kw_only=True):
    """A circuit: the current of everything on it at once, what its copper allows, voltage lost to its end, and whether
    it runs for hours.
    """

    tag: str
    name: str
    panel: str
    lines: tuple[str, ...]
    loads: tuple[str, ...]
    stated: bool
    running_a: Figure
    copper_a: Figure | None
    drop_share: Figure
    hours_on_end: bool


class PanelResult(Struct, frozen=True, kw_only=True):
    """A panel: the worst line and the neutral of its feeder, everything below it and the inverters' input counted where
    it feeds them; behind an inverter or before.
    """

    tag: str
    name: str
    before: bool
    feeder_a: Figure
    feeder: Duty
    neutral_a: Figure
    neutral: Duty
    line: str
    copper_a: Figure | None
    breakers_a: Figure
    drop_share: Figure


class RelayResult(Struct, frozen=True, kw_only=True):
    """Transfer relays of one line: what one unit's relay passes on in the worst step, chargers and the source limit
    counted.
    """

    line: str
    passes_a: Figure
    passes: Duty


class PanelsResult(Struct, frozen=True, kw_only=True):
    """All circuits, panels and relays."""

    circuits: tuple[CircuitResult, ...]
    panels: tuple[PanelResult, ...]
    relays: tuple[RelayResult, ...]


class LineSums(Struct, frozen=True):
    """Worst apparent power of a group of loads per line on one kind of day [VA] and the minute it is reached."""

    worst_va: dict[str, tuple[float, int]]


def copper_a(size: str, practice: Practice) -> float | None:
    """Largest breaker on a conductor; None for a size the practice's table does not have."""
    return next(
        (row.amps for row in tables.ac_conductors().rows if row.size == size and row.practice == practice), None
    )


Members = tuple[tuple[str, tuple[tuple[str, tuple[str, ...]], ...]], ...]
"""Groups, then their loads each with the lines it is shared over."""


def circuit_pieces(profiles: dict[str, Profile], members: Members) -> dict[str, tuple[Profile, Members]]:
    """What the worst step of every circuit is summed from, kind of day by kind of day."""
    return {key: (profile, members) for key, profile in profiles.items()}


def group_sums(profile: Profile, members: Members) -> dict[str, LineSums]:
    """Worst step of every group on one kind of day.

    `members`: group, then its loads each with the lines it is shared over.
    """
    rows = {row.tag: row for row in profile.rows}
    found = {}
    for group, loads in members:
        if len(loads) == 1:
            found[group] = _one_load(rows.get(loads[0][0]), loads[0][1])
            continue
        lines = tuple(dict.fromkeys(line for _, on in loads for line in on))
        place = {line: at for at, line in enumerate(lines)}
        stretches = []
        for tag, on in loads:
            row = rows.get(tag)
            if row is None:
                continue
            for line in on:
                # Standby all day, and while it runs what it draws more than that.
                stretches.append((place[line], 0, DAY_MIN, row.standby_w / len(on)))
                for span in row.spans:
                    stretches.append(
                        (place[line], span.start_min, span.end_min, (row.full_w * span.level - row.standby_w) / len(on))
                    )
                    if row.full_var:
                        stretches.append(
                            (
                                place[line] + len(lines),
                                span.start_min,
                                span.end_min,
                                row.full_var * span.level / len(on),
                            )
                        )
        if not stretches:
            found[group] = LineSums({})
            continue
        steps = summed(2 * len(lines), stretches)
        worst = {}
        for line, at in place.items():
            sizes = [
                abs(complex(w, var)) for w, var in zip(steps.values[at], steps.values[at + len(lines)], strict=True)
            ]
            best = max(range(len(sizes)), key=sizes.__getitem__)
            worst[line] = (sizes[best], steps.times_min[best])
        found[group] = LineSums(worst)
    return found


def _one_load(row: LoadRow | None, on: tuple[str, ...]) -> LineSums:
    """Worst step of a group of a single load: its highest level, no sum needed."""
    if row is None:
        return LineSums({})
    level, minute = max(
        ((span.level, span.start_min) for span in row.spans), key=lambda pair: pair[0], default=(0.0, 0)
    )
    size = max(abs(complex(row.full_w, row.full_var)) * level, row.standby_w) / len(on)
    return LineSums(dict.fromkeys(on, (size, minute)))


def members_of(circuits: tuple[LiveCircuit, ...]) -> Members:
    """Groups to be summed: every circuit with its loads."""
    return tuple((circuit.tag, tuple((load, circuit.lines) for load in circuit.loads)) for circuit in circuits)


def panels(
    wiring: AcWiring,
    circuits: tuple[LiveCircuit, ...],
    sums: dict[str, dict[str, LineSums]],
    painted: Painted,
    inverters: Inverters,
    practice: Practice,
    house: HouseCables,
) -> PanelsResult:
    """Currents of circuits, feeders and relays against breakers and copper. `sums`: by kind of day and circuit,
    `house` says how long circuits and feeders are.

    Source: sums of what was painted; reference/ac_conductors.json.
    """
    volts, brief = line_v(inverters), painted.brief
    worst = _Worst(sums.items(), brief, volts)
    for_hours = {
        row.tag
        for profile in brief.profiles.values()
        for row in profile.rows
        if any(span.end_min - span.start_min >= CONTINUOUS_MIN for span in row.spans)
    }
    return PanelsResult(
        circuits=tuple(_circuit(circuit, worst, volts, practice, for_hours, house) for circuit in circuits),
        panels=tuple(_panel(panel, wiring, circuits, painted, inverters, practice, house) for panel in wiring.panels),
        relays=tuple(_relay(line, wiring.lines, painted, inverters) for line in wiring.lines),
    )


class _Worst:
    """Worst current of a group and line over all kinds of day."""

    def __init__(self, sums: Iterable[tuple[str, dict[str, LineSums]]], brief: BriefResult, volts: float) -> None:
        self._sums, self._brief, self._volts = tuple(sums), brief, volts

    def of(self, name: str, group: str, line: str) -> Figure:
        """Largest current of a group on a line."""
        best, words = 0.0, "nothing painted"
        for key, found in self._sums:
            va, minute = found[group].worst_va.get(line, (0.0, 0))
            if va > best:
                best, words = va, when(self._brief, self._brief.profiles[key], minute)
        given = (Given("Apparent power", best, "VA"), Given("Line voltage", self._volts, "V"))
        return Figure(
            name=name,
            value=best / self._volts,
            unit="A",
            formula="| Σ P + jQ | in the worst step ÷ line voltage",
            inputs=given,
            source=TEXTBOOK,
            limit=words,
        )


def _circuit(
    circuit: LiveCircuit, worst: _Worst, volts: float, practice: Practice, for_hours: set[str], house: HouseCables
) -> CircuitResult:
    running = max(
        (worst.of(f"Current of {circuit.name}", circuit.tag, line) for line in circuit.lines), key=lambda one: one.value
    )
    stands = copper_a(circuit.circuit.size, practice)
    return CircuitResult(
        tag=circuit.tag,
        name=circuit.name,
        panel=circuit.panel,
        lines=circuit.lines,
        loads=circuit.loads,
        stated=circuit.stated,
        running_a=running,
        copper_a=None
        if stands is None
        else Figure(
            name=f"{circuit.circuit.size} may have",
            value=stands,
            unit="A",
            formula="largest breaker on AC copper",
            inputs=(),
            source=tables.ac_conductors().cited,
        ),
        drop_share=_drop(circuit.name, circuit.circuit.size, house.length_m(circuit.tag, CIRCUIT_M), running, volts),
        hours_on_end=any(tag in for_hours for tag in circuit.loads),
    )


def _drop(name: str, size: str, length: Figure, current: Figure, volts: float) -> Figure:
    """Voltage lost out and back as share of the line's, copper at its hottest."""
    ohm = ohm_per_m(size, AC_COPPER_C)
    return Figure(
        name=f"Drop to {name}",
        value=2 * length.value * ohm * current.value / volts,
        unit="1",
        formula="2 × length × resistance per metre, hot × current ÷ line voltage",
        inputs=(
            length,
            Given(f"Resistance per metre at {AC_COPPER_C:.0f} °C", ohm, "ohm"),
            current,
            Given("Line voltage", volts, "V"),
        ),
        source=TEXTBOOK,
        limit="out and back; a leg balanced against another loses half",
    )


def input_a(line: str, case: Case, phases: dict[str, Phase], behind: Asked[Reached], inverters: Inverters) -> Figure:
    """What the inverters' input takes on a line, or in the neutral (N): loads behind and chargers, at most the limit of
    the source; the inverters add the rest after their relays.
    """
    volts = line_v(inverters)
    loads = Figure.quotient(
        name=f"Loads behind the inverters{_on(line, tuple(phases))}",
        unit="A",
        formula="| Σ P + jQ | in the worst step ÷ line voltage",
        inputs=(Given("Apparent power", behind.reached.size, "VA"), Given("Line voltage", volts, "V")),
        source=TEXTBOOK,
        limit=behind.words,
    )
    # In the neutral chargers add or cancel as the lines do.
    of_line = {one: chargers_ac_a(inverters, len(_units(inverters, one))) for one in phases}
    taken = (
        of_line.get(line, 0.0) if line != "N" else abs(sum(of_line[one] * phase.turn for one, phase in phases.items()))
    )
    chargers = Given("Chargers at full current", taken, "A")
    source = next((one for one in inverters.sources if one.tag == case.source), None)
    limit = Given(f"Limit of {source.name}" if source else "No source", source.limit_a if source else 0.0, "A")
    return Figure(
        name=f"Inverters' input{_on(line, tuple(phases))}",
        value=min(loads.value + chargers.value, limit.value),
        unit="A",
        formula="loads behind + chargers, at most the limit of the source",
        inputs=(loads, chargers, limit),
        source=TEXTBOOK,
        limit=behind.words,
    )


def _relay(line: str, lines: tuple[str, ...], painted: Painted, inverters: Inverters) -> RelayResult:
    """A relay passes what runs behind it and what its charger takes, as far as the source's limit lets it."""
    units = Given("Units side by side", len(_units(inverters, line)) or 1, "count")
    name = f"Current through one transfer relay{_on(line, lines)}"
    cases = tuple(case for case in painted.found.of(BEHIND) if case.source)

    def figure(one: Asked[Reached]) -> Figure:
        through = input_a(line, one.case, phases_of(painted.found.groups[one.case.group]), one, inverters)
        return Figure.quotient(
            name=name,
            unit="A",
            formula="inverters' input ÷ units side by side, leads alike",
            inputs=(through, units),
            source=TEXTBOOK,
            limit=through.limit,
        )

    found = painted.duty(name, "A", cases, lambda worst: worst.lines.get(line, NOTHING), figure)
    return RelayResult(line=line, passes_a=found.worst, passes=found)


def _on(line: str, lines: tuple[str, ...]) -> str:
    """`, L1` where there are several lines; the one line has no number."""
    return f", {line}" if len(lines) > 1 or line == "N" else ""


def _units(inverters: Inverters, line: str) -> tuple[Inverter, ...]:
    """Units on a line of the wiring, in which L1 stands for the one line."""
    return units_on(inverters, line if LINES[inverters.stacking] != ("AC",) else "AC")


def _panel(
    panel: Panel,
    wiring: AcWiring,
    circuits: tuple[LiveCircuit, ...],
    painted: Painted,
    inverters: Inverters,
    practice: Practice,
    house: HouseCables,
) -> PanelResult:
    cases, volts = painted.found.of(f"panel {panel.tag}"), line_v(inverters)

    def duty(what: str, line: str) -> Duty:
        """Worst of one line, or of the neutral."""

        def pick(worst: GroupWorst) -> Reached:
            return worst.lines.get(line, NOTHING) if line != "N" else worst.neutral

        def figure(one: Asked[Reached]) -> Figure:
            own = Figure.quotient(
                name=f"Circuits of {panel.name}{_on(line, wiring.lines)}",
                unit="A",
                formula="| Σ P + jQ | in the worst step ÷ line voltage"
                if line != "N"
                else "| Σ I | of its lines in the worst step",
                inputs=(Given("Apparent power", one.reached.size, "VA"), Given("Line voltage", volts, "V")),
                source=TEXTBOOK,
                limit=one.words,
            )
            parts: tuple[Figure, ...] = (own,)
            if one.case.behind != NONE:
                below = painted.asked((replace(one.case, group=one.case.behind),), pick)[0]
                parts = (
                    own,
                    input_a(line, one.case, phases_of(painted.found.groups[one.case.behind]), below, inverters),
                )
            words = next((part.limit for part in parts if part.value), one.words)
            return Figure.total(
                name=what,
                unit="A",
                formula="circuits and panels below it"
                + (" + input of the inverters it feeds" if len(parts) > 1 else ""),
                inputs=parts,
                source=TEXTBOOK,
                limit=words,
            )

        return painted.duty(what, "A", cases, pick, figure)

    lines = (panel.line,) if panel.line in wiring.lines else wiring.lines
    line, feeder = max(
        ((line, duty(f"Feeder of {panel.name}{_on(line, wiring.lines)}", line)) for line in lines),
        key=lambda pair: pair[1].worst.value,
    )
    neutral = duty(f"Neutral of the feeder of {panel.name}", "N")
    on_line = [circuit for circuit in circuits if circuit.panel == panel.tag and line in circuit.lines]
    breakers = Figure.total(
        name=f"Breakers in {panel.name}{_on(line, wiring.lines)}",
        unit="A",
        formula="Σ branch breakers on the worst line",
        inputs=tuple(Given(circuit.name, circuit.circuit.breaker_a, "A") for circuit in on_line),
        source=PRACTICE,
    )
    stands = copper_a(panel.size, practice)
    return PanelResult(
        tag=panel.tag,
        name=panel.name,
        before=panel.tag in wiring.before,
        feeder_a=feeder.worst,
        feeder=feeder,
        neutral_a=neutral.worst,
        neutral=neutral,
        line=line,
        copper_a=None
        if stands is None
        else Figure(
            name=f"{panel.size} may have",
            value=stands,
            unit="A",
            formula="largest breaker on AC copper",
            inputs=(),
            source=tables.ac_conductors().cited,
        ),
        breakers_a=breakers,
        drop_share=_drop(panel.name, panel.size, house.length_m(panel.tag, AC_FEEDER_M), feeder.worst, volts),
    )
