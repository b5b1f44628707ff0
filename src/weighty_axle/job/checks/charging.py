"""What chargers and converters cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import bar_tag


def charging_problems(job: Job) -> Iterator[Problem]:
    """Converters whose output nothing says, from or to a bar that is not there, from a bar into itself; an alternator
    on no bar.
    """
    bars = {VEHICLE, job.wiring.board.tag, *(bar.tag for bar in job.bars)}
    if job.charging.alternator_bar not in bars:
        yield Problem("charging.alternator_bar", f"There is no bar {job.charging.alternator_bar}.")
    for one in job.converters:
        yield from _converter_problems(job, one, bars)


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
    for high, low, words in ((one.on_v, one.off_v, "off_v"), (one.back_on_v, one.back_off_v, "back_off_v")):
        if high is not None and low is not None and low > high:
            yield Problem(f"{place}.{words}", f"{one.tag} must go off below the voltage it goes on at.")
