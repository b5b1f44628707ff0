"""What chargers and converters cannot be."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.charging import GIVES_WAY, VEHICLE, Alternator, Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import bar_tag
from weighty_axle.job.tags import tags_of

LEFT_OUT = ("pack", "inverter", "controller", "converter")
"""Kinds of thing a stage may be without."""


def charging_problems(job: Job) -> Iterator[Problem]:
    """Converters whose output nothing says, from or to a bar that is not there, from a bar into itself; alternators on
    no bar or with a curve that goes back; loads that charge no bar; an order that names a source twice; stages with
    switches or parts that are not there.
    """
    bars = {VEHICLE, job.wiring.board.tag, *(bar.tag for bar in job.bars)}
    if set(job.charging.gives_way) != set(GIVES_WAY):
        yield Problem("charging.gives_way", f"Each of {', '.join(GIVES_WAY)} gives way once.")
    speeds = (job.charging.idle_rpm, job.charging.slow_rpm, job.charging.cruise_rpm)
    if list(speeds) != sorted(speeds):
        yield Problem("charging.slow_rpm", "Idling is slower than slow traffic, and that slower than cruise.")
    for alternator in job.charging.alternators:
        yield from _alternator_problems(alternator, bars)
    for one in job.converters:
        yield from _converter_problems(job, one, bars)
    for load in job.loads:
        if load.charges and load.charges not in bars - {VEHICLE}:
            yield Problem(f"loads[{load.tag}].charges", f"There is no bar {load.charges}.")
        if load.charges and load.supply.startswith("DC"):
            yield Problem(
                f"loads[{load.tag}].charges", f"{load.name} is a DC load: from bar to bar a converter charges."
            )
    yield from _stage_problems(job)


def _alternator_problems(one: Alternator, bars: set[str]) -> Iterator[Problem]:
    place = f"charging.alternators[{one.tag}]"
    if one.bar not in bars:
        yield Problem(f"{place}.bar", f"There is no bar {one.bar}.")
    if one.low_v is not None and one.low_v > one.volts:
        yield Problem(f"{place}.low_v", f"{one.tag} cannot sag to more than its voltage.")
    speeds = [point.shaft_rpm for point in one.curve]
    if any(after <= before for before, after in itertools.pairwise(speeds)):
        yield Problem(f"{place}.curve", f"The shaft speeds of {one.tag} must rise from point to point.")


def _stage_problems(job: Job) -> Iterator[Problem]:
    switches = {one.tag: one.bars for one in job.dc.switches}
    there = set(tags_of(job, *LEFT_OUT))
    for stage in job.stages:
        for switch, bar in stage.stands.items():
            if switch not in switches:
                yield Problem(f"stages[{stage.tag}].stands", f"There is no DC switch {switch}.")
            elif bar not in switches[switch]:
                yield Problem(f"stages[{stage.tag}].stands", f"{switch} does not choose {bar}.")
        for tag in stage.without:
            if tag not in there:
                yield Problem(
                    f"stages[{stage.tag}].without", f"{tag} is no pack, inverter, controller or converter of this job."
                )


def _converter_problems(job: Job, one: Converter, bars: set[str]) -> Iterator[Problem]:
    place = f"converters[{one.tag}]"
    if one.spec.output_w is None and one.spec.output_a is None:
        yield Problem(f"{place}.spec.output_a", f"{one.tag} needs an output in A or in W.")
    start, end = bar_tag(job, one.start), bar_tag(job, one.end)
    for name, tag in (("start", start), ("end", end)):
        if tag not in bars:
            yield Problem(f"{place}.{name}", f"There is no bar {tag}.")
    if end == VEHICLE:
        yield Problem(f"{place}.end", f"State the vehicle's bar before {one.tag} charges it.")
    if start == end:
        yield Problem(f"{place}.end", f"{one.tag} starts and ends at {start}.")
    shares = [point.load_share for point in one.spec.curve]
    if any(after <= before for before, after in itertools.pairwise(shares)):
        yield Problem(f"{place}.spec.curve", f"The shares of {one.tag}'s efficiencies must rise from point to point.")
    if one.spec.peak_a is not None and one.spec.output_a is not None and one.spec.peak_a < one.spec.output_a:
        yield Problem(f"{place}.spec.peak_a", f"{one.tag}'s peak cannot be less than its output.")
    for high, low, words in ((one.on_v, one.off_v, "off_v"), (one.back_on_v, one.back_off_v, "back_off_v")):
        if high is not None and low is not None and low > high:
            yield Problem(f"{place}.{words}", f"{one.tag} must go off below the voltage it goes on at.")
