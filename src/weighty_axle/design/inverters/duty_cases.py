"""Cases: which loads every conductor of the AC side sees, in which states."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from msgspec import Struct

from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.design.inverters.state import Joined, PanelState, Phase, State, StatesResult
from weighty_axle.job.models.inverters import Source

On = tuple[tuple[str, Phase], ...]
"""Lines a load hangs on, with their phases."""


Group = tuple[tuple[str, On], ...]
"""Loads that one set of conductors carries, each with the lines it hangs on."""


BEHIND, INVERTED = "behind", "inverted"
"""Names of the conductors at the inverters' outputs: in every state, and unplugged with the inverters making all of it.
"""


NONE = -1


class Case(Struct, frozen=True, kw_only=True):
    """Conductors in states that load them alike: which group, the simplest such state, how many there are, and the
    source that feeds the inverters then.

    `behind` is the group behind the inverters where their input hangs on these conductors as well, else NONE.
    """

    of: str
    group: int
    state: State
    count: int
    source: str
    behind: int


class DutyCases(Struct, frozen=True):
    """Every group that is ever loaded, and the cases they occur in."""

    groups: tuple[Group, ...]
    cases: tuple[Case, ...]

    def of(self, name: str) -> tuple[Case, ...]:
        """Cases of some conductors."""
        return tuple(case for case in self.cases if case.of == name)


def duty_cases(
    wiring: AcWiring, circuits: tuple[LiveCircuit, ...], table: StatesResult, sources: tuple[Source, ...]
) -> DutyCases:
    """Cases of the feeders of all panels and of the inverters' outputs."""
    units = {unit.tag for unit in wiring.units}
    in_panel: dict[str, list[LiveCircuit]] = {}
    for circuit in circuits:
        in_panel.setdefault(circuit.panel, []).append(circuit)
    groups: dict[Group, int] = {}
    found: dict[tuple[str, int, bool, str, int], list[State]] = {}
    for state in table.states:
        live = [panel for panel in state.panels if panel.lines]
        loads = {panel.tag: tuple(_loads(panel, in_panel.get(panel.tag, ()))) for panel in live}
        ways = {panel.tag: _as_far_as_a_unit(panel, units) for panel in live}
        source = _feeding(state, wiring, sources) if state.passing else ""

        def index(tags: list[str], loads: dict[str, Group] = loads) -> int:
            return groups.setdefault(_nameless(load for tag in tags for load in loads[tag]), len(groups))

        def add(name: str, group: int, behind: int = NONE, state: State = state, source: str = source) -> None:
            found.setdefault((name, group, bool(state.plugged), source, behind), []).append(state)

        behind = index([panel.tag for panel in live if units & set(panel.way)])
        if state.passing or state.inverting:
            add(BEHIND, behind)
        if state.inverting and not state.plugged:
            inverted = index([panel.tag for panel in live if set(state.inverting) & set(panel.way)])
            add(INVERTED, inverted)
            for output in state.outputs:
                add(units_key(output), inverted)
        for panel in live:
            below = index([one.tag for one in live if one is panel or panel.tag in ways[one.tag]])
            add(f"panel {panel.tag}", below, behind if state.passing and panel.tag in state.input_way else NONE)
    stands = {selector.tag: selector.now for selector in wiring.selectors}
    cases = [
        Case(
            of=name,
            group=at,
            state=min(states, key=lambda state: _odd(state, stands)),
            count=len(states),
            source=source,
            behind=behind,
        )
        for (name, at, _, source, behind), states in found.items()
    ]
    return DutyCases(tuple(groups), tuple(sorted(cases, key=lambda case: _odd(case.state, stands))))


def _nameless(group: Iterable[tuple[str, On]]) -> Group:
    """A group with its supplies numbered: which lines are in step with one another counts, not what feeds them."""
    numbers: dict[str, str] = {}
    return tuple(
        (
            load,
            tuple(
                (line, Phase(phase.angle_deg, numbers.setdefault(phase.supply, str(len(numbers)))))
                for line, phase in on
            ),
        )
        for load, on in group
    )


def units_key(output: Joined) -> str:
    """Name of units side by side as conductors."""
    return f"{'+'.join(output.units)} on {'+'.join(output.lines)}"


def _feeding(state: State, wiring: AcWiring, sources: tuple[Source, ...]) -> str:
    """Tag of the plugged source at the end of the way to the inverters' input."""
    inlet = state.input_way[-1] if state.input_way else ""
    first = wiring.inlets[0].tag
    return next(
        (source.tag for source in sources if source.tag in state.plugged and (source.inlet or first) == inlet), ""
    )


def _odd(state: State, stands: dict[str, str]) -> tuple[int, int, bool]:
    """How far a state is from how things stand: selectors turned, then things plugged in, then inverters not on."""
    return sum(stands[tag] != name for tag, name in state.positions), len(state.plugged), state.mode != "on"


def _as_far_as_a_unit(panel: PanelState, units: set[str]) -> tuple[str, ...]:
    """The way of a panel up to the first inverter on it: what is above that carries the inverters' input."""
    return panel.way[: next((at for at, tag in enumerate(panel.way) if tag in units), len(panel.way))]


def _loads(panel: PanelState, circuits: Iterable[LiveCircuit]) -> Iterator[tuple[str, On]]:
    """Loads of a panel that get their voltage: on a live line, or across lines that are live and apart."""
    phases = dict(zip(panel.lines, panel.phases, strict=True))
    for circuit in circuits:
        on = tuple((line, phases[line]) for line in circuit.lines if line in phases)
        apart = len({phase.angle_deg for _, phase in on}) == len(on) and len({phase.supply for _, phase in on}) == 1
        if len(on) == len(circuit.lines) and (len(on) == 1 or apart):
            yield from ((load, on) for load in circuit.loads)
