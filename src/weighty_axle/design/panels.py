"""Circuits, feeders, panels and transfer relays: what each carries in the worst step against breaker and copper."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from weighty_axle.design.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.design.brief import BriefResult, Profile, Row
from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters import when
from weighty_axle.job.ac import LINES, Inverter, Inverters, Panel, line_v, units_on
from weighty_axle.job.model import Practice
from weighty_axle.physics.daytime import DAY_MIN, summed
from weighty_axle.reference import tables

CONTINUOUS_MIN = 180
"""From this long on a load counts as continuous. Source: NEC article 100, recalled."""
CONTINUOUS_LOAD_SHARE: dict[Practice, float] = {"north_american": 0.8, "international": 1.0}
"""Share of a breaker's rating a continuous load may take. Source: NEC 210.20(A), recalled; IEC breakers carry their rating."""


class CircuitResult(Struct, frozen=True):
    """A circuit: the current of everything on it at once, what its copper allows, voltage lost to its end, and whether it runs for hours."""

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


class PanelResult(Struct, frozen=True):
    """A panel: the worst line of its feeder, everything below it and the inverters' input counted where it feeds them; behind an inverter or before."""

    tag: str
    name: str
    before: bool
    feeder_a: Figure
    line: str
    copper_a: Figure | None
    breakers_a: Figure
    drop_share: Figure


class RelayResult(Struct, frozen=True):
    """Transfer relays of one line: what one unit's relay passes on in the worst step, chargers and the source limit counted."""

    line: str
    passes_a: Figure


class PanelsResult(Struct, frozen=True):
    """All circuits, panels and relays."""

    circuits: tuple[CircuitResult, ...]
    panels: tuple[PanelResult, ...]
    relays: tuple[RelayResult, ...]


class LineSums(Struct, frozen=True):
    """Worst apparent power of a group of loads per line on one kind of day [VA] and the minute it is reached."""

    worst_va: dict[str, tuple[float, int]]


def copper_a(size: str, practice: Practice) -> float | None:
    """Largest breaker on a conductor; None for a size the table does not have."""
    return next((row.amps for row in tables.ac_conductors().rows if row.size == size and row.practice == practice), None) or next(
        (row.amps for row in tables.ac_conductors().rows if row.size == size), None
    )


def group_sums(profile: Profile, members: tuple[tuple[str, tuple[tuple[str, tuple[str, ...]], ...]], ...]) -> dict[str, LineSums]:
    """Worst step of every group on one kind of day. `members`: group, then its loads each with the lines it is shared over."""
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
                    stretches.append((place[line], span.start_min, span.end_min, (row.full_w * span.level - row.standby_w) / len(on)))
                    if row.full_var:
                        stretches.append((place[line] + len(lines), span.start_min, span.end_min, row.full_var * span.level / len(on)))
        if not stretches:
            found[group] = LineSums({})
            continue
        steps = summed(2 * len(lines), stretches)
        worst = {}
        for line, at in place.items():
            sizes = [abs(complex(w, var)) for w, var in zip(steps.values[at], steps.values[at + len(lines)], strict=True)]
            best = max(range(len(sizes)), key=sizes.__getitem__)
            worst[line] = (sizes[best], steps.times_min[best])
        found[group] = LineSums(worst)
    return found


def _one_load(row: Row | None, on: tuple[str, ...]) -> LineSums:
    """Worst step of a group of a single load: its highest level, no sum needed."""
    if row is None:
        return LineSums({})
    level, minute = max(((span.level, span.start_min) for span in row.spans), key=lambda pair: pair[0], default=(0.0, 0))
    size = max(abs(complex(row.full_w, row.full_var)) * level, row.standby_w) / len(on)
    return LineSums(dict.fromkeys(on, (size, minute)))


def members_of(wiring: AcWiring, circuits: tuple[LiveCircuit, ...]) -> tuple[tuple[str, tuple[tuple[str, tuple[str, ...]], ...]], ...]:
    """Groups to be summed: every circuit, and every panel with all below it."""
    groups = [(circuit.tag, tuple((load, circuit.lines) for load in circuit.loads)) for circuit in circuits]
    for panel in wiring.panels:
        below = _below(wiring, panel.tag)
        groups.append(
            (f"panel {panel.tag}", tuple((load, circuit.lines) for circuit in circuits if circuit.panel in below for load in circuit.loads))
        )
    behind = {panel.tag for panel in wiring.panels} - set(wiring.before)
    groups.append(("behind", tuple((load, circuit.lines) for circuit in circuits if circuit.panel in behind for load in circuit.loads)))
    return tuple(groups)


def _below(wiring: AcWiring, tag: str) -> set[str]:
    """A panel and every panel it feeds."""
    found, waiting = set[str](), [tag]
    while waiting:
        one = waiting.pop()
        if one not in found:
            found.add(one)
            waiting += [panel.tag for panel in wiring.children(one)]
    return found


def panels(
    wiring: AcWiring, circuits: tuple[LiveCircuit, ...], sums: tuple[tuple[str, dict[str, LineSums]], ...], inverters: Inverters, practice: Practice,
    brief: BriefResult,
) -> PanelsResult:  # fmt: skip
    """Currents of circuits, feeders and relays against breakers and copper. `sums`: profile key and its group sums.

    Source: sums of what was painted; reference/ac_conductors.json.
    """
    volts = line_v(inverters)
    worst = _Worst(sums, brief, volts)
    relays = tuple(_relay(line, worst, inverters) for line in wiring.lines)
    for_hours = {
        row.tag for profile in brief.profiles.values() for row in profile.rows if any(span.end_min - span.start_min >= CONTINUOUS_MIN for span in row.spans)
    }  # fmt: skip
    made = tuple(_circuit(circuit, worst, volts, practice, for_hours) for circuit in circuits)
    return PanelsResult(made, tuple(_panel(panel, wiring, circuits, worst, relays, inverters, practice) for panel in wiring.panels), relays)


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
        return Figure(name, best / self._volts, "A", "| Σ P + jQ | in the worst step ÷ line voltage", given, TEXTBOOK, words)


def _circuit(circuit: LiveCircuit, worst: _Worst, volts: float, practice: Practice, for_hours: set[str]) -> CircuitResult:
    running = max((worst.of(f"Current of {circuit.name}", circuit.tag, line) for line in circuit.lines), key=lambda one: one.value)
    stands = copper_a(circuit.circuit.size, practice)
    return CircuitResult(
        circuit.tag, circuit.name, circuit.panel, circuit.lines, circuit.loads, circuit.stated, running,
        None if stands is None else Figure(f"{circuit.circuit.size} may have", stands, "A", "largest breaker on AC copper", (), tables.ac_conductors().cited),
        _drop(circuit.name, circuit.circuit.size, circuit.circuit.length_m, running, volts),
        any(tag in for_hours for tag in circuit.loads),
    )  # fmt: skip


def _drop(name: str, size: str, length_m: float, current: Figure, volts: float) -> Figure:
    """Voltage lost out and back as share of the line's."""
    ohm = ohm_per_m(size)
    return Figure(
        f"Drop to {name}", 2 * length_m * ohm * current.value / volts, "1", "2 × length × resistance per metre × current ÷ line voltage",
        (Given("Length", length_m, "m"), Given("Resistance per metre", ohm, "ohm"), current, Given("Line voltage", volts, "V")), TEXTBOOK,
        "out and back; a leg balanced against another loses half",
    )  # fmt: skip


def _relay(line: str, worst: _Worst, inverters: Inverters) -> RelayResult:
    """A relay passes what runs behind it; the input brings at most the source limit, chargers included, the inverter adds the rest after the relay."""
    units = len(_units(inverters, line)) or 1
    spec = inverters.spec
    behind = worst.of(f"Loads behind the inverters, {line}", "behind", line)
    charger = spec.charge_a * units * _charge_v(spec.dc_max_v) / spec.peak_efficiency / line_v(inverters) / (2 if spec.lines == 2 else 1)
    limit = max((source.limit_a for source in inverters.sources), default=0.0)
    value = min(behind.value + charger, limit) / units
    return RelayResult(
        line,
        Figure(
            f"Current through one transfer relay, {line}", value, "A", "(loads behind + chargers, at most the highest source limit) ÷ units side by side",
            (behind, Given("Chargers of the line at full current", charger, "A"), Given("Highest source limit", limit, "A"), Given("Units", units, "count")), TEXTBOOK,
            "parallel units share as their leads do: keep them alike",
        ),
    )  # fmt: skip


def _units(inverters: Inverters, line: str) -> tuple[Inverter, ...]:
    """Units on a line of the wiring, in which L1 stands for the one line."""
    return units_on(inverters, line if LINES[inverters.stacking] != ("AC",) else "AC")


def _charge_v(dc_max_v: float) -> float:
    """Charging voltage of the class a unit belongs to: 3.6 V a cell of 8 or 16. Source: common practice, no source."""
    return 3.6 * (8 if dc_max_v < 40 else 16)


def _panel(
    panel: Panel, wiring: AcWiring, circuits: tuple[LiveCircuit, ...], worst: _Worst, relays: tuple[RelayResult, ...], inverters: Inverters,
    practice: Practice,
) -> PanelResult:  # fmt: skip
    feeds_inverters = wiring.fed_from in _below(wiring, panel.tag)
    best: tuple[float, str, Figure] | None = None
    for line in (panel.line,) if panel.line in wiring.lines else wiring.lines:
        own = worst.of(f"Circuits of {panel.name}, {line}", f"panel {panel.tag}", line)
        relay = next(one.passes_a for one in relays if one.line == line)
        units = len(_units(inverters, line))
        more = relay.value * units if feeds_inverters else 0.0
        figure = Figure(
            f"Feeder of {panel.name}, {line}", own.value + more, "A", "circuits and panels below it" + (" + input of the inverters it feeds" if feeds_inverters else ""),
            (own, Given("Inverters' input", more, "A"), relay) if feeds_inverters else (own,), TEXTBOOK, own.limit,
        )  # fmt: skip
        if best is None or figure.value > best[0]:
            best = (figure.value, line, figure)
    assert best is not None
    on_line = [circuit for circuit in circuits if circuit.panel == panel.tag and best[1] in circuit.lines]
    breakers = Figure(
        f"Breakers in {panel.name}, {best[1]}", sum(circuit.circuit.breaker_a for circuit in on_line), "A", "Σ branch breakers on the worst line",
        tuple(Given(circuit.name, circuit.circuit.breaker_a, "A") for circuit in on_line), PRACTICE,
    )  # fmt: skip
    stands = copper_a(panel.size, practice)
    return PanelResult(
        panel.tag, panel.name, panel.tag in wiring.before, best[2], best[1],
        None if stands is None else Figure(f"{panel.size} may have", stands, "A", "largest breaker on AC copper", (), tables.ac_conductors().cited),
        breakers, _drop(panel.name, panel.size, panel.length_m, best[2], line_v(inverters)),
    )  # fmt: skip
