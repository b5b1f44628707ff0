"""Measurements at inverters, on the AC side, and of what stands in units."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.log.finder.measure import GOOD, Measure, Outcome
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import line_v


def inverter_measures(design: Design) -> Iterator[Measure]:
    """Every inverter: its supply, its output, its switch, its air, its own draw."""
    nominal = design.bank.nominal_v.value
    volts = line_v(design.job.inverters) if design.job.inverters.units else 0.0
    for unit in design.job.inverters.units:
        tag = unit.tag
        yield Measure(
            key=f"terminals {tag}",
            do=f"Voltage at the DC terminals of {tag}.",
            minutes=3.0,
            about=(tag,),
            outcomes=(Outcome(GOOD, f"about {nominal:.0f} V"), Outcome("none", "none")),
            unit="V",
            none_below=0.3 * nominal,
        )
        yield Measure(
            key=f"out {tag}",
            do=f"Voltage at the AC output of {tag}, line to neutral: a meter of the right class, one hand.",
            minutes=3.0,
            about=(tag,),
            outcomes=(Outcome(GOOD, f"about {volts:.0f} V"), Outcome("none", "none")),
            unit="V",
            none_below=0.5 * volts,
        )
        yield Measure(
            key=f"run fuse {tag}",
            do=f"Voltage before and behind the fuse of W-{tag}, against minus.",
            minutes=3.0,
            about=(f"W-{tag}",),
            outcomes=(Outcome(GOOD, "the same"), Outcome("open", "before it only")),
        )
        yield Measure(
            key=f"mode {tag}",
            do=f"The switch of {tag}, and what its panel says it does.",
            minutes=1.0,
            about=(tag,),
            live=False,
            outcomes=(Outcome(GOOD, "on"), Outcome("charger only", "charger only, or off")),
        )
        yield Measure(
            key=f"air {tag}",
            do=f"Hand at the grille of {tag} under load; fan, filter, what stands before it.",
            minutes=2.0,
            about=(tag,),
            live=False,
            outcomes=(Outcome(GOOD, "air goes through"), Outcome("blocked", "blocked, or the fan stands")),
        )
        own = design.job.inverters.spec.no_load_w
        yield Measure(
            key=f"own draw {tag}",
            do=f"AC breakers off: clamp on W-{tag}. By itself it takes {own / nominal:.1f} A at most.",
            minutes=4.0,
            about=(tag,),
            outcomes=(Outcome(GOOD, "as its sheet says"), Outcome("high", "more")),
            unit="A",
            high=1.5 * own / nominal + 0.1,
            expected=own / nominal,
        )


def ac_measures(design: Design) -> Iterator[Measure]:
    """Panels, circuits, lines, selectors, and every place to plug in."""
    if not design.job.inverters.units:
        return
    volts = line_v(design.job.inverters)
    legs = design.job.inverters.stacking in ("split_phase", "one_two_legs")
    for panel in design.ac.panels:
        yield Measure(
            key=f"breaker {panel.tag}",
            do=f"The breaker of {panel.tag}, and its residual-current device where it has one.",
            minutes=1.0,
            about=(panel.tag,),
            live=False,
            outcomes=(Outcome(GOOD, "on"), Outcome("off", "off, or tripped")),
        )
    for one in design.circuits:
        if one.circuit.rcd_ma:
            yield Measure(
                key=f"leak {one.tag}",
                do=f"Breaker of {one.tag} off, the device on again.",
                minutes=3.0,
                about=(one.tag,),
                live=False,
                outcomes=(Outcome(GOOD, "it trips all the same"), Outcome("holds without it", "it holds without it")),
            )
    if legs:
        yield Measure(
            key="legs",
            do=f"Voltage between both lines at the panel. Sound is {2 * volts:.0f} V.",
            minutes=3.0,
            about=(),
            outcomes=(Outcome(GOOD, f"about {2 * volts:.0f} V"), Outcome("none", "next to nothing")),
            unit="V",
            none_below=0.5 * volts,
        )
        yield Measure(
            key="lines",
            do="A heater on one line only: difference of both lines' voltages to neutral.",
            minutes=4.0,
            about=(),
            outcomes=(Outcome(GOOD, "within 5 V"), Outcome("apart", "more than 5 V")),
            unit="V",
            high=5.0,
        )
    for selector in design.job.ac.selectors:
        yield Measure(
            key=f"position {selector.tag}",
            do=f"Where {selector.tag} stands, against what the inverters are set to.",
            minutes=1.0,
            about=(selector.tag,),
            live=False,
            outcomes=(Outcome(GOOD, "as they are set"), Outcome("other", "otherwise")),
        )
    if design.job.inverters.sources:
        yield Measure(
            key="earth current",
            do="Plugged in: clamp over the protective earth of the inlet alone, mA.",
            minutes=3.0,
            about=(),
            outcomes=(Outcome(GOOD, "some mA"), Outcome("high", "more than 30 mA")),
            unit="mA",
            high=30.0,
        )
    for source in design.job.inverters.sources:
        low = 0.9 * source.volts
        yield Measure(
            key=f"inlet {source.tag}",
            do=f"Plugged in at {source.tag}, chargers at full: voltage at the inlet. Below {low:.0f} V it sags.",
            minutes=4.0,
            about=(source.tag,),
            outcomes=(Outcome(GOOD, f"{low:.0f} V and more"), Outcome("low", f"below {low:.0f} V")),
            unit="V",
            low=low,
        )
        yield Measure(
            key=f"polarity {source.tag}",
            do=f"Outlet of {source.tag}: line and neutral against earth.",
            minutes=3.0,
            about=(source.tag,),
            outcomes=(Outcome(GOOD, "line is live"), Outcome("swapped", "neutral is live")),
        )
        yield Measure(
            key=f"limit {source.tag}",
            do=f"The limit that stands in the inverters while it is plugged in at {source.tag}: {source.limit_a:g} A.",
            minutes=2.0,
            about=(source.tag,),
            live=False,
            outcomes=(Outcome(GOOD, "its own"), Outcome("other", "another")),
        )


def setting_measures(design: Design) -> Iterator[Measure]:
    """What stands in units, where a cause can be a setting."""
    names = ("role", "cut_out_v", "charge_a", "profile", "equalise", "mode", "capacity_ah")
    for one in all_settings(design):
        tag, _, name = one.key.partition(" ")
        if name in names:
            yield Measure(
                key=f"set {one.key}",
                do=f"What stands in {tag} for {one.words}: its sheet says {one.said}.",
                minutes=2.0,
                about=(tag,) if tag != "MON" else (),
                live=False,
                outcomes=(Outcome(GOOD, one.said), Outcome("other", "something else")),
            )
