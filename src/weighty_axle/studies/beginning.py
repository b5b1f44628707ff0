"""What all proposals of a job share: a skeleton of voltage, inverters and a full roof, and every mix of it lived."""

from __future__ import annotations

import math
from typing import NamedTuple

from msgspec.structs import replace

from weighty_axle.answers.inverters.size import candidates
from weighty_axle.answers.roof.string_plans import controller_plans
from weighty_axle.answers.roof.sunny import home
from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import year_result
from weighty_axle.answers.year.sweep import Axes, Point, begin, one_module_more, points, sweep, usual_axes
from weighty_axle.design.brief.draws import voltage_class
from weighty_axle.design.derive import Deriver
from weighty_axle.design.place.clear import Box, box_of
from weighty_axle.design.table import Design
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import Edit, EditRefusedError, place_path, with_value
from weighty_axle.job.models.document import Item, Job
from weighty_axle.job.models.document import items as item_list
from weighty_axle.job.models.vehicle import Bay
from weighty_axle.job.models.wiring import VoltageClass
from weighty_axle.job.stated import Place, Size
from weighty_axle.reference.first_job import AcKind, Beginning, begin_with
from weighty_axle.reference.tables import fuse_kinds
from weighty_axle.reference.vehicle_types import VehicleType
from weighty_axle.rules.judge import judge

MOST_A = 160.0
"""Most current of the highest load for which a voltage is proposed. Source: common practice, no source."""
MOST_MODULES, MOST_PACKS = 40, 16
STEP_M, HAND_M = 0.05, 0.04


class Choice(NamedTuple):
    """Something that was chosen, and why."""

    what: str
    why: str


class Work:
    """A job while it is changed, and what was chosen on the way."""

    def __init__(self, job: Job, choices: tuple[Choice, ...] = (), deriver: Deriver | None = None) -> None:
        self.job, self.choices = job, list(choices)
        self._deriver = deriver or Deriver()

    def design(self) -> Design:
        """What follows from the job as it stands."""
        return self._deriver.derive(self.job)

    def beside(self, job: Job | None = None) -> Work:
        """The same, or another job, to be changed on its own."""
        return Work(job or self.job, tuple(self.choices), self._deriver)

    def chosen(self, what: str, why: str) -> None:
        """Note a choice."""
        self.choices.append(Choice(what, why))

    def apply(self, edit: Edit) -> bool:
        """Make a change where the job takes it."""
        try:
            job = edit.on(self.job)
        except EditRefusedError:
            return False
        if problems(job, self.job):
            return False
        self.job = job
        return True

    def string(self) -> None:
        """The best controllers and strings for the modules that lie there."""
        if not self.job.roof.modules:
            return
        design = self.design()
        plans = controller_plans(design, home(design))
        # The most energy of those that also start on a hot morning and stand a cold one.
        sound = (one for one in plans if not _roof_stops(self.beside(one.edit.apply(self.job)).design()))
        best = next(sound, plans[0] if plans else None)
        if best is not None and self.apply(best.edit):
            self.choices = [one for one in self.choices if not one.what.startswith("Strings")]
            why = "most energy in the year of all that the controllers' windows take"
            self.chosen(f"Strings {best.words}", why)

    def stand_apart(self) -> None:
        """The board stands in the bay of the inverters, controllers in that of the board, and nothing in anything
        else's place: what does not, moves to the nearest free place.
        """
        board = self.job.wiring.board.tag
        units = [one.tag for one in self.job.inverters.units]
        wanted = [(board, units[0] if units else board)]
        wanted += [(one.tag, board) for one in self.job.roof.controllers if not one.unit]
        for tag, beside in wanted:
            items = {one.tag: one for one in item_list(self.job)}
            item, by = items[tag], items[beside]
            others = [box_of(one.place, one.size) for one in items.values() if one.tag != tag]
            apart = not any(_meet(box_of(item.place, item.size), one) for one in others)
            if apart and _bay_of(self.job, item) == _bay_of(self.job, by) is not None:
                continue
            free = _free_place(self.job, item, others, by)
            if free is not None:
                self.job = with_value(self.job, f"{place_path(self.job, tag)}.place", free)


class Skeleton:
    """What all levels share: voltage and kind of AC, arrangements of inverters, the roof full, and every mix lived."""

    def __init__(self, whole: Job) -> None:
        self.work = Work(whole)
        self._shape()
        with_ac = bool(self.work.job.inverters.units)
        self.arrangements = [one for one in candidates(self.work.design()) if one.runs_all] if with_ac else []
        self._inverters()
        self._roof()
        self.work.string()
        self.work.stand_apart()
        self.design = self.work.design()
        self.points = mixes(self.design)
        self.asked_wh = year_result(live(self.design, step_min=60)).asked_wh.value or 1.0

    def _shape(self) -> None:
        """Voltage and kind of AC, and all that follows from them made anew; what is on other bars stays."""
        work = self.work
        design = work.design()
        peak_w = max(day.peak_ac_w.value for day in design.brief.days.values())
        dc_w = max(day.dc_energy_wh.value for day in design.brief.days.values()) / 24
        volts: VoltageClass
        if work.job.bars or work.job.converters:
            known = voltage_class(design.bank.nominal_v.value)
            volts = 12 if known == 12 else 24 if known == 24 else 48
            work.chosen(f"{volts} V", "the bars and converters that are stated stay as they are")
        else:
            amps = (peak_w / 0.9 + dc_w) / 25.6
            volts = 24 if amps <= MOST_A else 48
            work.chosen(f"{volts} V", f"the highest load of {peak_w / 1000:.1f} kW would be {amps:.0f} A at 24 V")
        kind = _kind_of_ac(work.job, peak_w)
        before, roof = work.job, work.job.roof
        vehicle = VehicleType(
            key="own",
            title="own",
            practice=before.practice,
            vehicle=before.vehicle,
            obstacles=roof.obstacles,
            roof_start_m=roof.start_m,
            roof_end_m=roof.end_m,
            roof_width_m=roof.width_m,
        )
        fresh = begin_with(vehicle, Beginning(before.practice, volts, kind), "A first design").on(before)
        used = {stay.source for stay in before.stays}
        known_sources = {one.tag for one in fresh.inverters.sources}
        kept = tuple(
            replace(one, inlet="")
            for one in before.inverters.sources
            if one.tag not in known_sources and (one.tag in used or one.generator is not None)
        )
        circuits = {one.tag for one in before.dc.circuits}
        work.job = replace(
            fresh,
            inverters=replace(fresh.inverters, sources=(*fresh.inverters.sources, *kept)),
            loads=tuple(one if one.circuit in circuits else replace(one, circuit="") for one in fresh.loads),
            fitted=(),
            signals=(),
            stacks=(),
            holds=(),
            assemblies=(),
            outlets=(),
        )

    def _inverters(self) -> None:
        if not self.work.job.inverters.units:
            self.work.chosen("No inverters", "nothing that is stated runs on AC")
            return
        if not self.arrangements:
            name = self.work.job.inverters.spec.name
            self.work.chosen(name, "none of the table runs everything at once: some loads must wait for others")
            return
        best = self.arrangements[0]
        self.work.apply(best.edit)
        why = f"the lightest that runs everything, at {best.worst_share.value:.0%} of its rating at most"
        self.work.chosen(f"{best.count} × {best.spec.name}", why)

    def _roof(self) -> None:
        """As many modules of the main type as lie on the roof."""
        job = self.work.job
        if job.roof.remote:
            self.work.chosen(
                "Arrays elsewhere left out", "they plug into controllers that are chosen anew: add them again"
            )
        modules = tuple(replace(one, string="") for one in job.roof.modules)
        job = replace(job, roof=replace(job.roof, strings=(), controllers=(), remote=(), modules=modules))
        while len(job.roof.modules) < MOST_MODULES:
            try:
                job = one_module_more(job)
            except EditRefusedError:
                break
        self.work.job = job


def mixes(design: Design) -> tuple[Point, ...]:
    """Mixes of a design to choose from, hour by hour: packs from what the inverters draw at full load to what their
    maker and the strongest fuse allow.
    """
    full, bank = usual_axes(design), design.bank
    breaks_a = max(one.breaks_a for one in fuse_kinds().values() if one.volts >= bank.max_v.value)
    each_a = bank.prospective_a.value / len(design.job.bank.packs)
    step = design.job.bank.series
    most = min(design.job.bank.spec.parallel_limit * step, MOST_PACKS, max(1, int(breaks_a / each_a)) * step)
    spec = design.job.inverters.spec
    full_a = len(design.job.inverters.units) * spec.continuous_va / spec.full_load_efficiency
    full_a *= 1.1 / bank.lowest_working_v.value  # the drop on the way counted
    gives_a = bank.discharge_limit_a.value / (len(design.job.bank.packs) / step)
    least = min(most, max(1, math.ceil(full_a / gives_a)) * step)
    axes = Axes(
        # Half the roof at least: sun is the lightest and cheapest there is.
        modules=full.modules[len(full.modules) // 2 :],
        packs=tuple(range(least, most + 1, step)),
        inverters=(len(design.job.inverters.units),),
        chargers=full.chargers,
    )
    return points(design, sweep(design, begin(axes), step_min=60))


def _roof_stops(design: Design) -> bool:
    return any(one.rule.severity == "stop" and one.rule.step == "roof" for one in judge(design))


def _kind_of_ac(job: Job, peak_w: float) -> AcKind:
    if not peak_w:
        return "none"
    across = any("+" in load.supply for load in job.loads)
    legs = any(load.supply in ("L1", "L2", "leg_open") for load in job.loads)
    return "split_phase" if job.practice == "north_american" and (across or (legs and peak_w > 3000)) else "one_line"


def _meet(one: Box, other: Box) -> bool:
    return all(
        a < d - 1e-6 and c < b - 1e-6 for a, b, c, d in zip(one.low, one.high, other.low, other.high, strict=True)
    )


def _bay_of(job: Job, item: Item) -> str | None:
    """The bay something stands in, by the middle of its foot."""
    return next((one.tag for one in job.vehicle.bays if _within(one, item)), None)


def _within(bay: Bay, item: Item) -> bool:
    long, at = item.size.length_m / 2, item.place
    in_line = bay.start_m - 1e-6 <= at.x_m - long and at.x_m + long <= bay.end_m + 1e-6
    return in_line and bay.bottom_m - 1e-6 <= at.z_m <= bay.top_m - item.size.height_m + 1e-6


def _free_place(job: Job, item: Item, others: list[Box], by: Item) -> Place | None:
    """The place nearest to another thing where nothing else stands, on a grid of five centimetres, a hand's breadth
    kept; in its bay where there is one.
    """
    found: list[tuple[bool, float, Place]] = []
    half = job.vehicle.width_m / 2
    zones = [box_of(zone.place, zone.size) for zone in job.vehicle.zones]
    for bay in job.vehicle.bays:
        if bay.engine or bay.top_m - bay.bottom_m < item.size.height_m + 0.02:
            continue
        for across in range(int((2 * half - item.size.width_m) / STEP_M) + 1):
            y_m = -half + item.size.width_m / 2 + across * STEP_M
            for along in range(max(0, int((bay.end_m - bay.start_m - item.size.length_m) / STEP_M) + 1)):
                x_m = bay.start_m + item.size.length_m / 2 + along * STEP_M
                place = Place(x_m=round(x_m, 3), y_m=round(y_m, 3), z_m=round(bay.bottom_m + 0.02, 3))
                box = box_of(place, _grown(item.size))
                if not any(_meet(box, one) for one in (*others, *zones)):
                    found.append((not _within(bay, by), abs(x_m - by.place.x_m) + abs(y_m - by.place.y_m), place))
    return min(found, key=lambda one: one[:2])[2] if found else None


def _grown(size: Size) -> Size:
    return replace(size, length_m=size.length_m + 2 * HAND_M, width_m=size.width_m + 2 * HAND_M)
