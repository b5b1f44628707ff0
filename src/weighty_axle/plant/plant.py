"""The plant itself: switches are turned, time goes on, and what follows is told with its cause."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import NamedTuple

from weighty_axle.design.table import Design
from weighty_axle.design.wiring.flow import STIFF_OHM, AtWay, Drawn, network_of, solved
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.inverters import Source
from weighty_axle.physics.electric.fuses import opens_s
from weighty_axle.physics.electric.network import Network
from weighty_axle.physics.electric.precharge import inrush
from weighty_axle.plant.charging import charging
from weighty_axle.plant.controls import TEST, Control, controls
from weighty_axle.plant.faults import (
    APART_SHARE,
    BELT_SHARE,
    DIRTY_SHARE,
    JOINT_OHM,
    JOINT_W,
    LEFT_ON_W,
    SECTION_SHARE,
    SHADED_SHARE,
    WASHER_OHM,
    WORN_TIMES,
    Fault,
)
from weighty_axle.plant.loads import alternating, come_back, drawn_w
from weighty_axle.plant.packs import Packs, String
from weighty_axle.plant.standing import standing

LONGEST_STEP_S = 1.0
_OFF = (
    "pack off",
    "pack fuse open",
    "pack opened",
    "dead string",
    "isolator off",
    "reversed string",
    "dead controller",
)
_LIGHT = {"shaded string": SHADED_SHARE, "dirty array": DIRTY_SHARE, "dead section": SECTION_SHARE}
_ENGINE = {"engine wire": 0.0, "slipping belt": BELT_SHARE}
_ADDED_OHM = {
    "bad joint": JOINT_OHM,
    "washer": WASHER_OHM,
    "fuse joint": JOINT_OHM,
    "minus lug": JOINT_OHM,
    "switch contact": JOINT_OHM,
}
"""What faults switch off, leave of light and of the engine's current, and add to their way [ohm]."""
PITS_TO_WELD = 3
"""So many closings onto empty capacitors, and a contact welds. Source: judgement."""
ARC_A, LOAD_A = 20.0, 2.0
"""From here on a switch opens under load: direct current, alternating current [A]. Source: judgement."""


class Event(NamedTuple):
    """Something that happened: when, at what, what it was, and why. `harm`: something is broken, or somebody could have
    been hurt.
    """

    at_s: float
    tag: str
    what: str
    cause: str
    harm: bool


@dataclass(slots=True)
class Flow:
    """What flowed in the last step."""

    ways: dict[str, AtWay] = field(default_factory=dict)
    bank_v: float = 0.0
    bar_v: float = 0.0
    sun_a: dict[str, float] = field(default_factory=dict)
    charge_a: dict[str, float] = field(default_factory=dict)
    ac_w: dict[str, float] = field(default_factory=dict)
    shore_w: float = 0.0


@dataclass(slots=True)
class Energy:
    """Joules since the start: drawn from cells (charge counts against it), put in by chargers, taken by units and
    converters, turned into heat in packs and ways.
    """

    cells: float = 0.0
    charged: float = 0.0
    taken: float = 0.0
    heat: float = 0.0

    @property
    def error_share(self) -> float:
        """How far the sum is from closing, as a share of what went through (from a joule on)."""
        through = abs(self.cells) + self.charged + self.taken
        return abs(self.cells + self.charged - self.taken - self.heat) / through if through > 1.0 else 0.0


class Plant:
    """A system of a design, dead and with its bank at a charge; test loads `heater_w` hang on AC, `bars_a` on the bars.
    Deterministic: the same turns give the same plant.
    """

    def __init__(self, design: Design, faults: tuple[Fault, ...] = (), soc: float = 0.6) -> None:
        self.design, self.job = design, design.job
        self.faults = faults
        self.controls: dict[str, Control] = {one.key: one for one in controls(design)}
        self.at = {key: one.positions[0] for key, one in self.controls.items()}
        for selector in self.job.ac.selectors:
            self.at[selector.tag] = selector.now
        worn = {one.place: WORN_TIMES for one in faults if one.kind == "unequal pack"}
        self.packs = Packs.of(design, soc, worn)
        for one in faults:
            self._pack_fault(one)
        self.time_s = 0.0
        self.sun_w_per_m2 = 0.0
        self.heater_w = self.bars_a = 0.0
        if self.has("left on") and not self.job.inverters.units:
            self.bars_a = LEFT_ON_W / design.bank.nominal_v.value
        self.cap_v = 0.0
        self.pits = 0
        self.tripped: dict[str, str] = {}
        self.hot_s: dict[str, float] = {}
        self.events: list[Event] = []
        self.flow = Flow()
        self.energy = Energy()
        self.stands = standing(design, faults)
        self._root = next((one for one in design.tree.roots if not one.converters), None)
        self._networks: dict[float, Network] = {}
        self._joints: dict[str, float] = {}
        for one in faults:
            self._joints[one.place] = self._joints.get(one.place, 0.0) + self._added_ohm(one)
        self._opened_before(faults)
        self.built_in = {one.tag: one.unit for one in self.job.roof.controllers if one.unit}
        self.off_places = {one.place for one in faults if one.kind in _OFF}
        self.light_share = {one.place: _LIGHT[one.kind] for one in faults if one.kind in _LIGHT}
        self.engine_share = {one.place: _ENGINE[one.kind] for one in faults if one.kind in _ENGINE}

    def _added_ohm(self, fault: Fault) -> float:
        """What a fault adds to its way [ohm]."""
        way = next((one for one in self._root.ways if one.tag == fault.place), None) if self._root else None
        if fault.kind == "broken strands":
            return sum(part.ohm for part in way.parts if part.kind == "cable" and part.pole == "+") if way else 0.0
        added = _ADDED_OHM.get(fault.kind, 0.0)
        return max(added, JOINT_W / way.fuse_a**2) if added and way is not None and way.fuse_a > 0 else added

    def _pack_fault(self, fault: Fault) -> None:
        """What a fault changes in a string of packs."""
        for one in self.packs.strings:
            if fault.place in one.tags:
                if fault.kind == "pack lug":
                    one.ohm += JOINT_OHM
                elif fault.kind == "pack apart":
                    one.soc = max(0.0, one.soc - APART_SHARE)
                elif fault.kind == "pack opened":
                    one.opened = "a cell is low"
            if fault.kind == "cold cells":
                one.cells_c = self.packs.charge_low_c - 5.0

    def _opened_before(self, faults: tuple[Fault, ...]) -> None:
        """What is open before anybody turns a switch."""
        for one in faults:
            if one.kind == "main fuse open":
                self.tripped["main fuse"] = "overload"
            elif one.kind in ("run fuse open", "dead inverter", "charger only"):
                self.tripped[one.place] = one.kind

    def has(self, kind: str, place: str = "") -> bool:
        """Whether a fault is planted."""
        return any(one.kind == kind and place in ("", one.place) for one in self.faults)

    @property
    def run_tags(self) -> tuple[str, ...]:
        """Tags of the main run and of every run on the house's bar."""
        return tuple(way.tag for way in self._root.ways if way.kind in ("main", "run")) if self._root else ()

    def joint_ohm(self, way: str) -> float:
        """What a bad joint adds to a way [ohm]."""
        return self._joints.get(way, 0.0)

    # ---- what somebody does ----

    def turn(self, key: str, position: str) -> tuple[Event, ...]:
        """Turn a switch; returns what happened at once.

        Raises: KeyError for a switch there is not, ValueError for a position it has not.
        """
        control = self.controls[key]
        if position not in control.positions:
            raise ValueError(f"{key} has no position {position!r}: it has {', '.join(control.positions)}")
        before, first = self.at[key], len(self.events)
        if position == before:
            return ()
        if key == "main" and position == "off" and self.pits >= PITS_TO_WELD:
            self.tell(control.tag, "does not open", "its contacts are welded from closing onto empty capacitors", True)
            return tuple(self.events[first:])
        if position == TEST:
            self._tested(control)
            return tuple(self.events[first:])
        self.at[key] = position
        if key == "main":
            self._main_turned(control, position)
        elif key == "plug":
            self._plug_turned(position)
        elif control.group == "Bank":
            self._pack_turned(control, position)
        elif control.group == "Solar":
            self._solar_turned(control)
        elif key in {one.tag for one in self.job.ac.selectors}:
            self._selector_turned(control)
        if position in ("off", "nothing"):
            self.tripped.pop(key, None)
        return tuple(self.events[first:])

    def _main_turned(self, control: Control, position: str) -> None:
        live = self.live()
        if position == "off":
            amps = self.flow.ways[MAIN_RUN].amps if MAIN_RUN in self.flow.ways else 0.0
            if abs(amps) > ARC_A:
                self.tell(control.tag, f"opened at {abs(amps):.0f} A: an arc", "loads and chargers were still on", True)
            self.flow = Flow()
            return
        filling = self.design.precharge
        if filling is None or not live:
            return
        volts, ohm = self.packs.behind(live)
        if self.cap_v < 0.9 * volts:
            made = inrush(
                source_v=volts,
                ohm=max(filling.loop_ohm, ohm),
                henry=filling.loop_henry,
                farad=filling.course.farad,
                from_v=self.cap_v,
            )
            self.pits += 1
            welded = ": the contacts weld" if self.pits >= PITS_TO_WELD else ": pitted contacts"
            what = f"closed onto {self.cap_v:.0f} V: {made.peak_a:.0f} A for a moment{welded}"
            self.tell(control.tag, what, "the capacitors of the inverters were not filled through the pre-charge", True)
        self.cap_v = volts

    def _tested(self, control: Control) -> None:
        """The button of a residual-current device: with voltage on it, it opens."""
        live = self.at[control.key] == "on" and bool(self.flow.ac_w or self.flow.shore_w)
        if live:
            self.at[control.key] = "off"
            self.tell(control.tag, "trips at its test, as it should", "its button lets a little current past", False)
        else:
            self.tell(control.tag, "does not move at its test", "there is no voltage on it, or it is off", False)

    def _pack_turned(self, control: Control, position: str) -> None:
        string = next((one for one in self.packs.strings if control.tag in one.tags), None)
        if string is None or position == "off":
            return
        string.opened = ""
        others = [one for one in self.live() if one is not string]
        if not others or string not in self.live():
            return
        volts, ohm = self.packs.behind(others)
        amps = (volts - self.packs.rest_v(string.soc)) / (ohm + string.ohm)
        if abs(amps) > self.packs.most_charge_a:
            string.opened = "current on joining"
            what = f"{abs(amps):.0f} A between it and the others: its electronics open"
            self.tell(control.tag, what, "it stands at another voltage than the packs that are on", True)

    def _solar_turned(self, control: Control) -> None:
        """Modules on a controller that has no battery."""
        if self.sun_w_per_m2 < 50:
            return
        strings = {one.tag: one.controller for one in self.design.roof.strings}
        tag = strings.get(control.key, control.key)
        lit = [key for key, owner in strings.items() if owner == tag and self.at.get(key) == "on"]
        if lit and not self.battery_at(tag):
            volts = max(one.cold_voc_v.value for one in self.design.roof.strings if one.tag in lit)
            what = f"up to {volts:.0f} V from {', '.join(lit)} and nowhere to put it: its output rises, it may be lost"
            self.tell(tag, what, "modules on before the battery's side, or left on after it", True)

    def battery_at(self, controller: str) -> bool:
        """Whether a controller has the bank on its battery side."""
        return (
            self.at.get(controller) == "on"
            and self.at["main"] == "on"
            and "main fuse" not in self.tripped
            and bool(self.live())
        )

    def _plug_turned(self, position: str) -> None:
        if self.flow.shore_w > 240:
            self.tell("plug", f"pulled at {self.flow.shore_w:.0f} W: an arc at the pins", "loads were still on", True)
        if position != "nothing" and self.has("two bonds") and self.source(position).rcd_ma:
            self.tripped["plug"] = "two bonds"
            self.tell("plug", "the device ashore trips at once", "neutral and earth are joined on board too", False)

    def _selector_turned(self, control: Control) -> None:
        if self.flow.shore_w > 240 or sum(self.flow.ac_w.values()) > 240:
            self.tell(control.tag, "turned under load: its contacts burn", "loads and sources were still on", True)

    def tell(self, tag: str, what: str, cause: str, harm: bool) -> None:
        """Write down what happened and why."""
        self.events.append(Event(self.time_s, tag, what, cause, harm))

    # ---- what follows ----

    def run(self, seconds: float) -> None:
        """Let time go on, in steps of a second at most."""
        left = seconds
        while left > 1e-9:
            step = min(LONGEST_STEP_S, left)
            self._step(step)
            left -= step

    def live(self) -> list[String]:
        """Strings of packs that are on and whose electronics are closed."""
        on = [tag for tag, where in self.at.items() if where == "on" and tag not in self.off_places]
        return self.packs.live(on)

    def source(self, tag: str) -> Source:
        """A place to plug in."""
        return next(one for one in self.job.inverters.sources if one.tag == tag)

    def _step(self, dt_s: float) -> None:
        self.time_s += dt_s
        live = self.live()
        self._precharging(live, dt_s)
        if not live or self._root is None:
            self.flow = Flow()
            return
        volts, ohm = self.packs.behind(live)
        closed = self.at["main"] == "on" and "main fuse" not in self.tripped
        if not closed:
            self.flow = Flow(bank_v=volts)
            self.packs.carry(live, volts, 0.0)
            return
        come_back(self)
        shore_w, ac_w = alternating(self, dt_s)
        drawn = drawn_w(self, ac_w, volts)
        sun_a, charge_a = charging(self, volts, ohm, sum(drawn.values()) / volts, shore_w)
        into: dict[str, float] = {}
        for tag, put in charge_a.items():
            way = f"W-{self.built_in.get(tag, tag)}"
            into[way] = into.get(way, 0.0) + put
        on_bars = {self._root.bar: -self.bars_a}
        done = solved(self._root, self._network(ohm), Drawn(drawn, into | on_bars, {}), volts)
        if done.collapsed:
            self._all_dark("the packs cannot carry it: the voltage breaks down", "too much at once for what is in them")
            return
        nodes = done.solution.node_v
        amps = done.solution.branch_a[len(done.solution.branch_a) - len(self._root.ways) :]
        ways = {
            way.tag: AtWay(a, nodes[way.start], nodes[way.end]) for way, a in zip(self._root.ways, amps, strict=True)
        }
        main = next(way for way in self._root.ways if way.kind == "main")
        self.flow = Flow(ways, nodes[main.start], nodes[main.end], sun_a, charge_a, ac_w, shore_w)
        self.energy.taken += self.bars_a * nodes.get(f"{self._root.bar} 1", 0.0) * dt_s
        self._count(live, dt_s, into)
        self._guarded(live, dt_s)
        self.cap_v = nodes[main.end]

    def _network(self, ohm: float) -> Network:
        # It changes only when a pack comes or goes.
        key = round(ohm, 9)
        if key not in self._networks:
            assert self._root is not None
            self._networks = {key: network_of(self._root, max(ohm, STIFF_OHM), self._joints)}
        return self._networks[key]

    def _precharging(self, live: list[String], dt_s: float) -> None:
        filling = self.design.precharge
        if filling is None or self.at.get("main") == "on":
            return
        tau = filling.course.ohm * filling.course.farad
        if self.at.get("pre-charge") == "on" and live:
            volts, _ = self.packs.behind(live)
            ends = filling.course.starts_v if filling.course.pinned else volts
            self.cap_v = ends + (self.cap_v - ends) * math.exp(-dt_s / tau)
        else:
            # Emptied by the inverters' own electronics in some minutes.
            self.cap_v *= math.exp(-dt_s / 120.0)

    def _count(self, live: list[String], dt_s: float, into: dict[str, float]) -> None:
        ways, root = self.flow.ways, self._root
        assert root is not None
        for one in live:
            rest_v = self.packs.rest_v(one.soc)
            self.energy.cells += (rest_v - self.flow.bank_v) / one.ohm * rest_v * dt_s
        self.energy.heat += self.packs.carry(live, self.flow.bank_v, dt_s)
        ends = {way.tag for way in root.ways if way.kind not in ("main", "bar")}
        for tag, way in ways.items():
            self.energy.heat += way.watts * dt_s
            if tag in ends:
                put = into.get(tag, 0.0)
                self.energy.charged += put * way.end_v * dt_s
                self.energy.taken += (way.amps + put) * way.end_v * dt_s

    def _guarded(self, live: list[String], dt_s: float) -> None:
        """What the packs' electronics and the main fuse do."""
        for one in live:
            name = "–".join(one.tags)
            if self.flow.bank_v > self.packs.high_v and one.amps < 0:
                self._open(
                    one, name, f"opens at {self.flow.bank_v:.1f} V", "a charger drives the cells over their limit"
                )
            elif self.flow.bank_v < self.packs.low_v:
                self._open(one, name, f"opens at {self.flow.bank_v:.1f} V", "the cells are empty")
            elif one.amps > self.packs.most_discharge_a or -one.amps > self.packs.most_charge_a:
                self._open(one, name, f"opens at {abs(one.amps):.0f} A", "more than a pack may carry")
        self._main_fuse(abs(self.flow.ways[MAIN_RUN].amps) if MAIN_RUN in self.flow.ways else 0.0, dt_s)

    def _main_fuse(self, amps: float, dt_s: float) -> None:
        rated = self.design.wiring.main.fuse_a.value
        guard = next((one for one in self.design.guards.guards if one.tag == MAIN_RUN), None)
        if guard is None or amps <= rated or not guard.opens:
            return
        opens = opens_s(guard.opens, rated_a=rated, current_a=amps)
        self.hot_s["main fuse"] = self.hot_s.get("main fuse", 0.0) + dt_s / max(opens, 1e-3)
        if self.hot_s["main fuse"] >= 1:
            self.tripped["main fuse"] = "overload"
            what = f"the main fuse of {rated:g} A opens at {amps:.0f} A"
            self.tell(self.job.wiring.board.tag, what, "more than it stands for so long", True)

    def _open(self, one: String, name: str, what: str, cause: str) -> None:
        one.opened = cause
        self.tell(name, what, cause, False)

    def _all_dark(self, what: str, cause: str) -> None:
        self.tell(self.job.wiring.board.tag, what, cause, True)
        for one in self.packs.strings:
            one.opened = one.opened or cause
        self.flow = Flow()
