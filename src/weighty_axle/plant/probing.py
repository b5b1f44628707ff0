"""What a meter, a clamp or an eye finds at the plant for each measurement of the fault finder."""

from __future__ import annotations

from collections.abc import Callable

from weighty_axle.answers.log.finder.measure import GOOD, Measure
from weighty_axle.answers.log.finder.measures_dc import measuring_load
from weighty_axle.answers.proving.step_load import step_load
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.inverters import line_v
from weighty_axle.plant.charging import full_v, most_a, string_w
from weighty_axle.plant.faults import AWAKE_W, JOINT_OHM, SECTION_SHARE, Fault
from weighty_axle.plant.plant import Plant

_PARTS = {"fuse": "fuse", "switch": "switch", "lugs+": "lug", "lugs−": "lug", "cable+": "cable"}
_STRETCHES = ("drop", "plus", "minus", *_PARTS)
_SITS = {
    "bad joint": "lugs+",
    "washer": "fuse",
    "fuse joint": "fuse",
    "minus lug": "lugs−",
    "broken strands": "cable+",
    "switch contact": "switch",
}
"""The part of its way each joint fault sits in."""
_ONE_PACK = {"pack off": "off by hand", "pack opened": "off by itself"}
ALL_PACKS = {"packs all off": "off by hand", "packs all opened": "off by itself"}
"""What a pack shows with it."""
SAGGING_SHARE, LEAK_MA, FAULT_MA = 0.82, 3.0, 1800.0
"""What is left of a weak source's voltage under load; earth currents, sound and with two bonds [mA]."""


class Probe:
    """A plant with faults, measured: every answer is the outcome's key, readings among them."""

    def __init__(self, design: Design, *faults: Fault) -> None:
        self.design, self.faults = design, faults
        self.loaded = self._on(Plant(design, faults), units=True)

    def _has(self, kind: str, place: str = "") -> bool:
        return any(one.kind == kind and place in ("", one.place) for one in self.faults)

    def _dark(self, pack: str) -> bool:
        """Whether a pack is off by hand or by itself."""
        return any(one.kind in ALL_PACKS or (one.kind in _ONE_PACK and one.place == pack) for one in self.faults)

    def _on(self, plant: Plant, *, units: bool, watts: float = 0.0, bars_a: float = 0.0) -> Plant:
        plant.cap_v = plant.packs.behind(plant.packs.strings)[0]
        for pack in plant.job.bank.packs:
            if not self._dark(pack.tag):
                plant.turn(pack.tag, "on")
        if not self._has("main switch left"):
            plant.turn("main", "on")
        for unit in plant.job.inverters.units if units else ():
            plant.turn(unit.tag, "on")
        plant.heater_w = watts
        plant.bars_a += bars_a
        plant.run(0.001)
        return plant

    def reading(self, measure: Measure) -> float | None:
        """What a meter shows, in the measurement's unit; None for what is looked at."""
        kind, place = _kind_of(measure)
        if kind in _STRETCHES:
            return self._drop(kind, place)
        read = _READ.get(kind)
        return read(self, place, measure) if read is not None else None

    def outcome(self, measure: Measure) -> str:
        """The outcome of a measurement at this plant."""
        value = self.reading(measure) if measure.unit else None
        return measure.outcome_of(value) if value is not None else self._seen(measure)

    # ---- ways ----

    def _test_w(self) -> float:
        stack = self.design.job.inverters
        whole = stack.spec.continuous_va * len(stack.units)
        return next(w for s in (1.0, 0.5, 0.25) if step_load(self.design, w := round(whole * s, -2)) is not None)

    def _at_load(self) -> Plant:
        plant = Plant(self.design, self.faults)
        if not plant.job.inverters.units:
            load = measuring_load(self.design)
            return self._on(plant, units=False, bars_a=load.main_a if load is not None else 0.0)
        return self._on(plant, units=True, watts=self._test_w())

    def _drop(self, kind: str, way: str) -> float:
        """Millivolts over a stretch of a way, under the test load."""
        plant = self._at_load()
        if way not in plant.flow.ways:
            return 0.0
        amps = plant.flow.ways[way].amps
        root = next(one for one in self.design.tree.roots if not one.converters)
        parts = next(one for one in root.ways if one.tag == way).parts
        pole = {"minus": "−", "lugs−": "−", "drop": ""}.get(kind, "+")
        own = sum(
            one.ohm
            for one in parts
            if (not pole or one.pole == pole) and (kind not in _PARTS or one.kind == _PARTS[kind])
        )
        for fault in self.faults:
            sits = _SITS.get(fault.kind, "")
            in_pole = "−" if sits == "lugs−" else "+"
            if fault.place == way and sits and (kind == sits or (kind not in _PARTS and pole in ("", in_pole))):
                own += plant.joint_ohm(way)
        return own * amps * 1000

    def read_warm(self, way: str, _measure: Measure) -> float:
        """Warm."""
        plant = self._at_load()
        amps = plant.flow.ways[way].amps if way in plant.flow.ways else 0.0
        return 8.0 + amps**2 * plant.joint_ohm(way) / 2.0

    # ---- bank ----

    def read_bars(self, _place: str, _measure: Measure) -> float:
        """Bars."""
        return self.loaded.flow.bar_v

    def read_cells(self, _place: str, _measure: Measure) -> float:
        """Cells."""
        return min(one.cells_c for one in self.loaded.packs.strings)

    def read_clamp(self, pack: str, _measure: Measure) -> float:
        """Clamp."""
        plant = self._at_load()
        return next(one.amps for one in plant.packs.strings if pack in one.tags)

    def read_pack_lugs(self, pack: str, measure: Measure) -> float:
        """Pack lugs."""
        return measure.expected + (1000 * JOINT_OHM if self._has("pack lug", pack) else 0.0)

    def read_rest(self, pack: str, _measure: Measure) -> float:
        """Rest."""
        packs = Plant(self.design, self.faults).packs
        volts = {one.tags[0]: packs.rest_v(one.soc) for one in packs.strings}
        others = [value for tag, value in volts.items() if tag != pack]
        return (volts[pack] - sum(others) / max(1, len(others))) * 1000

    # ---- inverters and AC ----

    def read_terminals(self, unit: str, _measure: Measure) -> float:
        """Terminals."""
        way = self.loaded.flow.ways.get(f"W-{unit}")
        return 0.0 if way is None or self._has("run fuse open", unit) else way.end_v

    def read_out(self, unit: str, measure: Measure) -> float:
        """Out."""
        off = unit in self.loaded.tripped or self.read_terminals(unit, measure) <= 0
        return 0.0 if off else line_v(self.design.job.inverters)

    def read_own_draw(self, unit: str, measure: Measure) -> float:
        """Own draw."""
        awake = AWAKE_W if self._has("no sleep", unit) else 0.0
        return measure.expected + awake / self.design.bank.nominal_v.value

    def read_legs(self, _place: str, _measure: Measure) -> float:
        """Legs."""
        apart = self._has("leg swapped") or self._has("selector")
        return 0.5 if apart else 2 * line_v(self.design.job.inverters)

    def read_lines(self, _place: str, _measure: Measure) -> float:
        """Lines."""
        return 40.0 if self._has("lost neutral") else 0.8

    def read_earth_current(self, _place: str, _measure: Measure) -> float:
        """Earth current."""
        return FAULT_MA if self._has("two bonds") else LEAK_MA

    def read_inlet(self, source: str, _measure: Measure) -> float:
        """Inlet."""
        volts = self.loaded.source(source).volts
        return volts * (SAGGING_SHARE if self._has("weak source", source) else 0.98)

    # ---- sun, engine, chargers ----

    def _lit(self) -> Plant:
        plant = Plant(self.design, self.faults)
        plant.sun_w_per_m2 = 800.0
        for one in self.design.roof.strings:
            plant.turn(one.tag, "on")
        return plant

    def read_voc(self, string: str, measure: Measure) -> float:
        """Voc."""
        if self._has("reversed string", string):
            return -measure.expected
        if self._has("dead string", string) or self._has("isolator off", string):
            return 0.0
        return measure.expected * (SECTION_SHARE if self._has("dead section", string) else 1.0)

    def read_amps(self, string: str, measure: Measure) -> float:
        """Amps."""
        plant, whole = self._lit(), Plant(self.design)
        whole.sun_w_per_m2 = 800.0
        whole.at[string] = "on"
        share = string_w(plant, string, 40.0) / string_w(whole, string, 40.0)
        # A section less costs voltage, not current.
        return measure.expected * (1.0 if self._has("dead section", string) else share)

    def read_into(self, controller: str, measure: Measure) -> float:
        """Into."""
        if self._has("dead controller", controller):
            return 0.0
        plant, whole = self._lit(), Plant(self.design)
        whole.sun_w_per_m2 = 800.0
        strings = [one.tag for one in self.design.roof.strings if one.controller == controller and one.modules]
        for tag in strings:
            whole.at[tag] = "on"
        share = sum(string_w(plant, tag, 40.0) for tag in strings) / sum(string_w(whole, tag, 40.0) for tag in strings)
        return min(measure.expected * share, most_a(plant, controller, measure.expected))

    def read_holds(self, charger: str, _measure: Measure) -> float:
        """Holds."""
        if self._has("supply mode", charger):
            return self.design.bank.max_v.value + 0.3
        return full_v(self.loaded, charger)

    def read_engine_amps(self, charger: str, measure: Measure) -> float:
        """Engine amps."""
        return measure.expected * self.loaded.engine_share.get(charger, 1.0)

    def read_shore_amps(self, _place: str, _measure: Measure) -> float:
        """Shore amps."""
        stack = self.design.job.inverters
        cold = min(one.cells_c for one in self.loaded.packs.strings) < self.loaded.packs.charge_low_c
        return 0.0 if cold else sum(most_a(self.loaded, one.tag, stack.spec.charge_a) for one in stack.units)

    # ---- night ----

    def read_quiet(self, _place: str, _measure: Measure) -> float:
        """Quiet."""
        flow = self.loaded.flow.ways.get(MAIN_RUN)
        return flow.amps if flow is not None else 0.0

    # ---- what is looked at ----

    def _seen(self, measure: Measure) -> str:
        """What an eye finds: the state of what it looks at."""
        kind, place = _kind_of(measure)
        if kind == "set":
            sheets = {one.key: one.said for one in all_settings(self.design)}
            return GOOD if self.loaded.stands.get(place) == sheets.get(place) else "other"
        looks = _LOOKS.get(kind, {})
        return next((looks[one.kind] for one in self.faults if one.kind in looks and _lies(one, place)), GOOD)


def _lies(fault: Fault, place: str) -> bool:
    """Whether a fault is to be seen at a place."""
    return place in ("", fault.place) or fault.kind in ALL_PACKS


def _kind_of(measure: Measure) -> tuple[str, str]:
    """The kind of a measurement and its place; empty: it has none."""
    if measure.key.startswith("set "):
        return "set", measure.key.removeprefix("set ")
    if measure.key in _READ or measure.key in _LOOKS:
        return measure.key, ""
    kind, _, place = measure.key.rpartition(" ")
    return kind, place


_LOOKS: dict[str, dict[str, str]] = {
    "faces": {"washer": "washer", "fuse joint": "burnt"},
    "main fuse": {"main fuse open": "open"},
    "pre-charge": {"pre-charge open": "none"},
    "main switch": {"main switch left": "off"},
    "packs": ALL_PACKS,
    "lamp": {**_ONE_PACK, **ALL_PACKS},
    "pack fuse": {"pack fuse open": "open"},
    "run fuse": {"run fuse open": "open"},
    "mode": {"charger only": "charger only"},
    "air": {"fan blocked": "blocked"},
    "breaker": {"breaker off": "off"},
    "leak": {"leaking load": "holds without it"},
    "position": {"selector": "other"},
    "polarity": {"reversed source": "swapped"},
    "limit": {"source limit": "other"},
    "isolator": {"isolator off": "off"},
    "look": {"shaded string": "shade", "dirty array": "dirt"},
    "screen": {"dead controller": "dark"},
    "signal": {"engine wire": "none"},
    "alternator": {"slipping belt": "low"},
    "breakers off": {"left on": "falls"},
    "against clamp": {"bypassed shunt": "other", "swapped sense": "reversed"},
    "at full": {"never full": "never"},
}
"""What an eye finds of each fault, by the measurement."""
_READ: dict[str, Callable[[Probe, str, Measure], float]] = {
    "warm": Probe.read_warm,
    "bars": Probe.read_bars,
    "cells": Probe.read_cells,
    "clamp": Probe.read_clamp,
    "pack lugs": Probe.read_pack_lugs,
    "rest": Probe.read_rest,
    "terminals": Probe.read_terminals,
    "out": Probe.read_out,
    "own draw": Probe.read_own_draw,
    "legs": Probe.read_legs,
    "lines": Probe.read_lines,
    "earth current": Probe.read_earth_current,
    "inlet": Probe.read_inlet,
    "voc": Probe.read_voc,
    "amps": Probe.read_amps,
    "into": Probe.read_into,
    "holds": Probe.read_holds,
    "engine amps": Probe.read_engine_amps,
    "shore amps": Probe.read_shore_amps,
    "quiet": Probe.read_quiet,
}
"""Meters by the measurement."""
