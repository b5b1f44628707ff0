"""Measurements on the DC side: ways part by part, bars, packs, what flows in the quiet."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from weighty_axle.answers.log.finder.measure import (
    COPPER_TIMES,
    GOOD,
    PART_MV,
    PART_TIMES,
    REST_V_SHARE,
    SHARE_LOW,
    Measure,
    Outcome,
)
from weighty_axle.answers.proving.load_trials import DROP_MV, DROP_TIMES, STEPS
from weighty_axle.answers.proving.step_load import StepLoad, step_load
from weighty_axle.answers.proving.trial import CLAMP_A
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.design.wiring.tree import TreeWay

ON_BARS_A, OF_FUSE = 20.0, 0.8
"""Put on the bars of a bank without inverters, and how much of what its fuse carries at most. Source: common practice,
no source.
"""


LUGS_OHM = 0.00024
"""Of both lugs of a pack. Source: common practice, no source."""


class MeasuringLoad(NamedTuple):
    """A load to measure under: how it is put on, and what the main run and each way carry."""

    words: str
    main_a: float
    ways_a: dict[str, float]


def _mv(volts: float) -> float:
    return volts * 1000


def largest_step(design: Design) -> StepLoad | None:
    """The largest test load the network can carry; None where nothing can be put on."""
    stack = design.job.inverters
    whole = stack.spec.continuous_va * len(stack.units)
    found = (step_load(design, round(whole * share, -2)) for share in STEPS[::-1])
    return next((one for one in found if one is not None), None)


def measuring_load(design: Design) -> MeasuringLoad | None:
    """The load joints of a system are measured under: heaters on AC, or what is put on the bars where there is no
    inverter; None where nothing can be put on.

    Source: nodal analysis; common practice, no source.
    """
    step = largest_step(design)
    if step is not None:
        ways_a = {tag: way.amps for tag, way in step.ways.items()}
        return MeasuringLoad(f"with {step.ac_w:.0f} W of heaters on AC", step.main_a, ways_a)
    root = next((one for one in design.tree.roots if not one.converters), None)
    main = next((way for way in root.ways if way.tag == MAIN_RUN), None) if root is not None else None
    if main is None or design.job.inverters.units:
        return None
    amps = min(ON_BARS_A, design.bank.discharge_limit_a.value, OF_FUSE * main.fuse_a)
    words = f"with lamps or a resistor on the bars of {design.job.wiring.board.tag}"
    return MeasuringLoad(words, amps, {MAIN_RUN: amps})


def way_measures(design: Design) -> Iterator[Measure]:
    """Of the main run and every inverter's lead: warmth, drops of the whole, of each pole and of each part."""
    root = next((one for one in design.tree.roots if not one.converters), None)
    load = measuring_load(design)
    wanted = {MAIN_RUN, *(f"W-{unit.tag}" for unit in design.job.inverters.units)}
    for way in root.ways if root is not None and load is not None else ():
        if load is not None and way.tag in wanted and way.tag in load.ways_a:
            yield from _way(way, load, design.job.wiring.board.tag)


def _way(way: TreeWay, put_on: MeasuringLoad, board: str) -> Iterator[Measure]:
    amps = put_on.ways_a[way.tag]
    load = f"{put_on.words}: {amps:.0f} A"
    start, end = ("bank", board) if way.tag == MAIN_RUN else (way.bar, way.tag[2:])
    yield Measure(
        key=f"warm {way.tag}",
        do=f"Ten minutes {load}; then feel with the back of the hand, better point a thermometer, along {way.tag}: "
        "lugs, fuse, switch, against the air.",
        minutes=12.0,
        about=(way.tag,),
        outcomes=(Outcome(GOOD, "nothing over 30 K"), Outcome("hot", "more than 30 K at one place")),
        unit="K",
        high=30.0,
    )
    wanted: dict[str, tuple[str, Callable[[str, str], bool], str]] = {
        "drop": (f"Both poles of {way.tag}, {start} to {end}, added", lambda _k, _p: True, ""),
        "plus": (f"Plus of {way.tag} alone, {start} + to {end} +", lambda _k, pole: pole == "+", ""),
        "minus": (f"Minus of {way.tag} alone, {start} − to {end} −", lambda _k, pole: pole == "−", ""),
        "fuse": (f"Over the fuse of {way.tag}, lug to lug", lambda kind, _p: kind == "fuse", "fuse"),
        "switch": ("Over the main switch, stud to stud", lambda kind, _p: kind == "switch", "switch"),
        "lugs+": (
            f"Each lug on the plus side of {way.tag}, cable to stud, added",
            lambda kind, pole: kind == "lug" and pole == "+",
            "lug",
        ),
        "lugs−": (
            f"Each lug on the minus side of {way.tag}, cable to stud, added",
            lambda kind, pole: kind == "lug" and pole == "−",
            "lug",
        ),
        "cable+": (
            f"The plus cable of {way.tag} itself, lug barrel to lug barrel",
            lambda kind, pole: kind == "cable" and pole == "+",
            "cable",
        ),
    }
    for name, (words, mine, part) in wanted.items():
        ohm = sum(one.ohm for one in way.parts if mine(one.kind, one.pole))
        if ohm <= 0:
            continue
        expected = _mv(ohm * amps)
        times = COPPER_TIMES if part == "cable" else PART_TIMES if part else DROP_TIMES
        high = expected * times + (PART_MV if part else DROP_MV)
        yield Measure(
            key=f"{name} {way.tag}",
            do=f"{words}, {load}. Sound is {expected:.0f} mV; more than {high:.0f} mV means a part of it is bad.",
            minutes=6.0 if not part else 4.0,
            about=(way.tag,),
            outcomes=(Outcome(GOOD, f"up to {high:.0f} mV"), Outcome("high", f"more than {high:.0f} mV")),
            unit="mV",
            high=high,
            amps=amps,
            expected=expected,
        )
    if any(one.kind == "fuse" for one in way.parts):
        yield Measure(
            key=f"faces {way.tag}",
            do=f"Everything off and proved dead. Open the fuse of {way.tag}: look at its faces.",
            minutes=10.0,
            about=(way.tag,),
            live=False,
            outcomes=(
                Outcome(GOOD, "bright, lug on fuse"),
                Outcome("burnt", "loose, brown or pitted"),
                Outcome("washer", "a washer between the faces"),
            ),
        )


LAMP = (
    Outcome(GOOD, "on"),
    Outcome("off by hand", "switched off"),
    Outcome("off by itself", "on by hand, opened by the electronics"),
)
"""What packs show."""


def bank_measures(design: Design) -> Iterator[Measure]:
    """Bars, fuse, pre-charge, cells, and every pack."""
    job = design.job
    nominal = design.bank.nominal_v.value
    switch_on, switch_off = (", main switch on", "Main switch off") if design.switched else ("", "All loads off")
    yield Measure(
        key="bars",
        do=f"Voltage at the bars of {job.wiring.board.tag}{switch_on}. Sound is about {nominal:.0f} V.",
        minutes=2.0,
        about=(job.wiring.board.tag,),
        outcomes=(Outcome(GOOD, "there"), Outcome("none", "none")),
        unit="V",
        none_below=0.3 * nominal,
        expected=nominal,
    )
    yield Measure(
        key="main fuse",
        do=f"{switch_off}. Voltage over the main fuse's ends against bank −, then from end to end.",
        minutes=3.0,
        about=(MAIN_RUN,),
        outcomes=(Outcome(GOOD, "the same at both ends"), Outcome("open", "at one end only")),
    )
    if design.switched:
        yield Measure(
            key="main switch",
            do="Where the handle of the main switch stands.",
            minutes=0.5,
            about=(MAIN_RUN,),
            live=False,
            outcomes=(Outcome(GOOD, "on"), Outcome("off", "off")),
        )
    if job.bank.spec.managed:
        yield Measure(
            key="packs",
            do="What all packs show: switches, lamps, their own readings.",
            minutes=0.5,
            about=(),
            live=False,
            outcomes=(
                Outcome(GOOD, "at least one is on"),
                Outcome("off by hand", "all are switched off"),
                Outcome("off by itself", "all on by hand, opened by their electronics"),
            ),
        )
    yield Measure(
        key="pre-charge",
        do="Main switch off, hold the pre-charge: the bars' voltage must rise within seconds.",
        minutes=2.0,
        about=(job.wiring.board.tag,),
        outcomes=(Outcome(GOOD, "it rises"), Outcome("none", "it stays")),
    )
    low_c = design.job.bank.spec.charge_low_c
    yield Measure(
        key="cells",
        do=f"The coldest cell as the packs tell it. Below {low_c:.0f} °C they let no charge in.",
        minutes=1.0,
        about=(),
        live=False,
        outcomes=(Outcome(GOOD, f"{low_c:.0f} °C and more"), Outcome("cold", f"below {low_c:.0f} °C")),
        unit="degC",
        low=low_c,
    )
    load = measuring_load(design)
    for one in design.bank.sharing.strings if design.job.bank.series == 1 else ():
        tag = one.tags[0]
        amps = one.share * load.main_a if load is not None else 0.0
        if load is not None and len(design.bank.sharing.strings) > 1:
            low = SHARE_LOW * amps - CLAMP_A
            yield Measure(
                key=f"clamp {tag}",
                do=f"Clamp on the lead of {tag}, {load.words}. Its share is {amps:.0f} A.",
                minutes=2.0,
                about=(tag,),
                outcomes=(
                    Outcome(GOOD, f"{low:.0f} A and more"),
                    Outcome("low", f"less than {low:.0f} A"),
                    Outcome("none", "nothing"),
                ),
                unit="A",
                low=low,
                none_below=CLAMP_A + 0.02 * abs(amps),
                amps=amps,
                expected=amps,
            )
            high = 1000 * LUGS_OHM * PART_TIMES + PART_MV / max(1.0, abs(amps))
            yield Measure(
                key=f"pack lugs {tag}",
                do=f"The same load: each lug of {tag}, cable to post, added: millivolts over what the clamp shows on "
                f"{tag} just then. More than {high:.2f} mΩ means one is loose.",
                minutes=4.0,
                about=(tag,),
                outcomes=(Outcome(GOOD, f"up to {high:.2f} mΩ"), Outcome("high", f"more than {high:.2f} mΩ")),
                unit="mΩ",
                high=high,
                expected=1000 * LUGS_OHM,
            )
        if job.bank.spec.managed:
            yield Measure(
                key=f"lamp {tag}",
                do=f"What {tag} shows: its switch, its lamp, its own reading.",
                minutes=1.0,
                about=(tag,),
                live=False,
                outcomes=LAMP,
            )
        yield Measure(
            key=f"pack fuse {tag}",
            do=f"Voltage at {tag} before and behind its fuse.",
            minutes=3.0,
            about=(tag,),
            outcomes=(Outcome(GOOD, "the same"), Outcome("open", "before it only")),
        )
        apart = REST_V_SHARE * nominal
        yield Measure(
            key=f"rest {tag}",
            do=f"All packs off for half an hour: {tag} by itself against the mean of the others. More than "
            f"{apart * 1000:.0f} mV under them means another charge.",
            minutes=30.0,
            about=(tag,),
            outcomes=(Outcome(GOOD, "with them"), Outcome("low", f"more than {apart * 1000:.0f} mV under")),
            unit="mV",
            low=-apart * 1000,
        )


def quiet_measures(design: Design) -> Iterator[Measure]:
    """What flows when nothing should, and what the monitor makes of it."""
    nominal = design.bank.nominal_v.value
    own = design.job.inverters.spec.no_load_w * len(design.job.inverters.units) if design.job.inverters.units else 0.0
    high = (1.3 * own + 15.0) / nominal
    ways = "AC breaker" if design.job.inverters.units else f"way of {design.job.wiring.board.tag}"
    yield Measure(
        key="quiet",
        do=f"All that people switch is off: clamp on {MAIN_RUN}. More than {high:.1f} A means something stays on.",
        minutes=3.0,
        about=(MAIN_RUN,),
        outcomes=(Outcome(GOOD, f"up to {high:.1f} A"), Outcome("high", f"more than {high:.1f} A")),
        unit="A",
        high=high,
    )
    yield Measure(
        key="breakers off",
        do=f"Still so: every {ways} off, one by one, the clamp on {MAIN_RUN}.",
        minutes=6.0,
        about=(MAIN_RUN,),
        outcomes=(Outcome(GOOD, "it stays as it is"), Outcome("falls", "it falls with one of them")),
    )
    yield Measure(
        key="against clamp",
        do=f"The monitor's current against a clamp on {MAIN_RUN}, under load.",
        minutes=3.0,
        about=(MAIN_RUN,),
        outcomes=(
            Outcome(GOOD, "within 3 %"),
            Outcome("other", "it shows less or more"),
            Outcome("reversed", "its sign is the other way round"),
        ),
    )
    yield Measure(
        key="at full",
        do="When the chargers have finished: whether the monitor went to 100 %.",
        minutes=1.0,
        about=(),
        live=False,
        outcomes=(Outcome(GOOD, "it did"), Outcome("never", "it never does")),
    )
