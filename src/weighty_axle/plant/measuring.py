"""What meters show at the plant: the acceptance tests made on it one after the other, and what its units say they are
set to.
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.proving.load_trials import STEPS
from weighty_axle.answers.proving.trials import trials
from weighty_axle.design.derive import derive
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import line_v
from weighty_axle.plant.charging import full_v, string_w
from weighty_axle.plant.faults import Fault
from weighty_axle.plant.plant import Plant

TEST_SUN = 800.0
"""Sun the arrays are tested in [W/m2]."""
UNEVEN_SHARE = 0.1
"""So uneven test loads stand on two lines: nobody has two heaters that are quite alike."""
USUAL_MS, EARTH_MA, FAULT_EARTH_MA = 24.0, 3.0, 1800.0
"""A sound device trips in about this time; what filters leak; what comes back by earth with two bonds."""


def tested_job(job: Job, plant: Plant) -> Job:
    """The job with what was read before the tests: sun, and the bank at rest."""
    rest_v = round(plant.packs.behind(plant.packs.strings)[0], 2)
    return replace(job, proving=replace(job.proving, sun_w_per_m2=TEST_SUN, rest_v=rest_v))


def acceptance(design: Design, faults: tuple[Fault, ...]) -> tuple[Job, dict[str, str]]:
    """The job with sun and rest voltage as read, and what meters show for every test of the house's system and what
    units say of every setting, by key; ticks are left out.
    """
    made = _Acceptance(design, faults)
    readings = dict(made.settings())
    readings |= {key: f"{value:.6g}" for key, value in made.tests()}
    return made.job, readings


class _Acceptance:
    """The tests while they are made, each with a plant set for it."""

    def __init__(self, design: Design, faults: tuple[Fault, ...]) -> None:
        self.faults = faults
        self.job = tested_job(design.whole, Plant(design, faults))
        self.design = derive(self.job)
        self.keys = {one.key: one for one in trials(self.design)}

    def plant(self, *on: str, **more: str) -> Plant:
        """A plant that is on: packs, main switch through its pre-charge, and what else is named."""
        made = Plant(self.design, self.faults)
        made.cap_v = made.packs.behind(made.packs.strings)[0]
        for pack in self.design.job.bank.packs:
            made.turn(pack.tag, "on")
        made.turn("main", "on")
        for key in on:
            made.turn(key, made.controls[key].up)
        for key, position in more.items():
            made.turn(key, position)
        return made

    # ---- tests ----

    def tests(self) -> Iterator[tuple[str, float]]:
        """Every reading of the house's system."""
        yield from self._under_load()
        yield from self._alternating()
        yield from self._sun()
        yield from self._held()
        yield from self._engine()

    def _under_load(self) -> Iterator[tuple[str, float]]:
        stack = self.design.job.inverters
        units = [unit.tag for unit in stack.units]
        if not units:
            return
        whole = stack.spec.continuous_va * len(units)
        for share in STEPS:
            watts = round(whole * share, -2)
            plant = self.plant(*units)
            plant.heater_w = watts
            plant.run(0.001)
            flow = plant.flow
            if MAIN_RUN not in flow.ways:
                continue  # it cannot carry that
            sign = -1.0 if plant.has("swapped sense") else 1.0
            yield f"{watts:.0f} W amps", sign * flow.ways[MAIN_RUN].amps
            yield f"{watts:.0f} W bank", flow.bank_v
            if share == STEPS[-1]:
                for tag in (MAIN_RUN, *(f"W-{unit}" for unit in units)):
                    yield f"{tag} drop", (flow.ways[tag].start_v - flow.ways[tag].end_v) * 1000
                for string in plant.packs.strings:
                    key = f"{'–'.join(string.tags)} share"
                    if key in self.keys:
                        yield key, string.amps
                hottest = max(way.amps**2 * plant.joint_ohm(tag) for tag, way in flow.ways.items())
                yield "hot", 8.0 + hottest / 2.0

    def _alternating(self) -> Iterator[tuple[str, float]]:
        stack = self.design.job.inverters
        if not stack.units:
            return
        volts = line_v(stack)
        plant = self.plant()
        if "legs volts" in self.keys:
            wanted = self.keys["legs volts"].wanted
            assert wanted is not None
            yield "legs volts", 0.5 if plant.has("leg swapped") or plant.has("selector") else wanted.value
        lines = [key for key in self.keys if key.endswith(" volts") and self.keys[key].group == "AC side"]
        for at, key in enumerate(key for key in lines if key != "legs volts"):
            apart = 2 * UNEVEN_SHARE if plant.has("lost neutral") else 0.0
            yield key, volts * (1 + (apart if at == 0 else -apart))
        if "earth current" in self.keys:
            yield "earth current", FAULT_EARTH_MA if plant.has("two bonds") else EARTH_MA
        for key in self.keys:
            if key.endswith(" RCD"):
                yield key, USUAL_MS

    def _sun(self) -> Iterator[tuple[str, float]]:
        roof = self.design.job.roof
        strings = [one for one in self.design.roof.strings if one.modules]
        plant = self.plant(*(one.tag for one in roof.controllers), *(one.tag for one in strings))
        plant.sun_w_per_m2 = TEST_SUN
        plant.run(0.001)
        for one in strings:
            cells_c = self.job.proving.air_c + 0.03 * TEST_SUN
            whole = Plant(self.design)
            whole.sun_w_per_m2 = TEST_SUN
            whole.at[one.tag] = "on"
            share = string_w(plant, one.tag, cells_c) / string_w(whole, one.tag, cells_c)
            wanted = self.keys[f"{one.tag} amps"].wanted
            assert wanted is not None
            yield f"{one.tag} amps", wanted.value * share
        for controller in roof.controllers:
            if f"{controller.tag} amps" in self.keys:
                yield f"{controller.tag} amps", plant.flow.sun_a.get(controller.tag, 0.0)

    def _held(self) -> Iterator[tuple[str, float]]:
        """The voltage each charger holds: a supply never lets go."""
        plant = self.plant()
        for key in self.keys:
            if key.endswith(" holds"):
                tag = key.removesuffix(" holds")
                volts = full_v(plant, tag)
                yield key, self.design.bank.max_v.value + 0.3 if plant.has("supply mode", tag) else volts

    def _engine(self) -> Iterator[tuple[str, float]]:
        ends = [end for end in self.design.ends if not end.starts_here]
        engine = [end.converter.tag for end in ends if end.by_engine]
        if "engine" not in self.plant().controls:
            return
        for speed in ("idle", "slow", "cruise"):
            plant = self.plant(*engine, engine=speed)
            plant.run(0.001)
            if f"engine {speed}" in self.keys:
                yield f"engine {speed}", sum(plant.flow.charge_a.values())
            if speed == "cruise":
                for tag in engine:
                    yield f"{tag} amps", plant.flow.charge_a.get(tag, 0.0)

    # ---- settings ----

    def settings(self) -> Iterator[tuple[str, str]]:
        """What every unit says it is set to."""
        yield from Plant(self.design, self.faults).stands.items()
