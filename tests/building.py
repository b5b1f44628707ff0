"""What tests build jobs from."""

from __future__ import annotations

import math

import numpy as np
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import set_stacking
from weighty_axle.job.models.brief import Load, Span
from weighty_axle.job.models.inverters import Circuit, Contact, Panel, Position, Selector, Source
from weighty_axle.rules.judge import judge

ALIKE = Source(
    tag="AD", name="30 A adapter", kind="shore", volts=120.0, legs=2, legs_in_phase=True, amps=30.0, limit_a=24.0
)


APART = Source(
    tag="P50", name="50 A pedestal", kind="shore", volts=120.0, legs=2, legs_in_phase=False, amps=50.0, limit_a=40.0
)


def v(job, path, value):
    return set_value(path, value, "").apply(job)


def changed(job, **values):
    """Job with values set; dots of the path are written as double underscores."""
    for path, value in values.items():
        job = set_value(path.replace("__", "."), value, "").apply(job)
    return job


def load(tag, leg, watts, *hours, **more):
    spans = tuple(Span(int(60 * start), int(60 * end), 1.0) for start, end in hours)
    return Load(
        tag=tag,
        name=tag,
        supply=leg,
        running_w=float(watts),
        power_factor=more.pop("power_factor", 1.0),
        patterns={"CLINIC": spans},
        **more,
    )


TWO_PEAKS = (load("LDA", "L1", 4000, (8, 9)), load("LDB", "L1", 3900, (12, 13)), load("LDC", "L2", 3900, (12, 13)))
"""Two peaks at different times, one leg before the other."""


def coach(
    clinic, loads, *, stacking="split_phase", sources=(), panels=None, selectors=(), feed="", inlets=None, circuits=()
):
    """The clinic with just these loads, sources and wiring."""
    ac = replace(
        clinic.ac,
        panels=panels or (Panel(tag="MAIN", name="Main panel"),),
        circuits=circuits,
        selectors=selectors,
        inverters_fed_from=feed,
        inlets=inlets or clinic.ac.inlets,
        storage=replace(clinic.ac.storage, alive=()),
    )
    job = replace(clinic, loads=loads, ac=ac, inverters=replace(clinic.inverters, sources=sources))
    return set_stacking(stacking).apply(job)


def two_positions(*, panel="MAIN", now="Apart"):
    apart = (Contact("IN1.L1", "INV1.in"), Contact("IN1.L2", "INV2.in"))
    alike = (Contact("IN1.L1", "INV1.in"), Contact("IN1.L1", "INV2.in"))
    return Selector(
        tag="SEL1",
        name="Stacking selector",
        now=now,
        interlocked=True,
        positions=(
            Position(name="Alike", contacts=alike, stacking="legs_in_phase"),
            Position(name="Off"),
            Position(name="Apart", contacts=apart, stacking="split_phase"),
        ),
    )


def half_panel(clinic, leg="L2"):
    """A panel that takes L1 only, with a circuit on another leg."""
    circuits = (
        Circuit(tag="CK1", name="Pump", panel="HALF", leg=leg),
        Circuit(tag="CK2", name="Lamps", panel="MAIN", leg="L1"),
    )
    loads = (load("LDA", "L1", 900, (8, 20), circuit="CK1"), load("LDB", "L1", 2500, (8, 20), circuit="CK2"))
    panels = (Panel(tag="MAIN", name="Main panel"), Panel(tag="HALF", name="Half panel", fed_from="MAIN", line="L1"))
    return v(coach(clinic, loads, panels=panels, circuits=circuits), "ac.circuits[CK1].leg", leg)


def told(job, rule=""):
    """Findings of a rule, those merged into others too; all of them without a rule."""
    return [each for one in judge(derive(job)) for each in (one, *one.also) if rule in ("", each.rule.id)]


def found(job, rule):
    return next((each for one in judge(derive(job)) for each in (one, *one.also) if each.rule.id == rule), None)


def words(finding):
    return finding.sentence().replace("\u00a0", " ")


def minutes_of(job, kind):
    """Complex power of every feed in every minute of a day [VA], by a plain loop over loads."""
    design = derive(job)
    feeds = {name: np.zeros(1440, dtype=complex) for name in ("L1", "L2", "L1+L2", "AC", "DC")}
    for load in job.loads:
        phi = math.acos(load.power_factor)
        for span in load.patterns.get(kind, ()):
            power = load.running_w * load.count * span.level
            feeds[design.brief.feeds[load.tag]][span.start_min : span.end_min] += power * (1 + 1j * math.tan(phi))
        idle = np.ones(1440, dtype=bool)
        for span in load.patterns.get(kind, ()):
            idle[span.start_min : span.end_min] = False
        feeds[design.brief.feeds[load.tag]][idle] += load.standby_w * load.count
    return feeds
