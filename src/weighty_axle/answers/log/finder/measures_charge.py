"""Measurements of what charges: strings, controllers, the engine, the voltage each charger holds."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.first_power.sun import sun_now
from weighty_axle.answers.log.expected import modules_of
from weighty_axle.answers.log.finder.measure import ENGINE_LOW, GOOD, SUN_LOW, TEST_SUN, Measure, Outcome
from weighty_axle.answers.settings.setting import number_of
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.job.models.roof import spec_of

PATH_SHARE = 0.95
"""What is left of an array's power behind cables and controller. Source: common practice, no source."""


def sun_measures(design: Design) -> Iterator[Measure]:
    """Strings and solar controllers."""
    light = sun_now(design).value or TEST_SUN
    for one in design.roof.strings:
        if not one.modules:
            continue
        warm = one.cold_voc_v.value * 0.85
        specs = [spec_of(design.job.roof, module) for module in design.job.roof.modules if module.tag in one.modules]
        amps = min(spec.imp_a for spec in specs) * light / 1000
        yield Measure(
            key=f"voc {one.tag}",
            do=f"Isolator off, string unloaded: voltage of {one.tag} at the controller's side of its plugs, about "
            f"{warm:.0f} V in sun.",
            minutes=3.0,
            about=(one.tag,),
            outcomes=(
                Outcome(GOOD, f"{0.93 * warm:.0f} V and more"),
                Outcome("low", "a module or a section less"),
                Outcome("none", "nothing"),
                Outcome("reversed", "its poles the wrong way round"),
            ),
            unit="V",
            low=0.93 * warm,
            none_below=0.1 * warm,
            expected=warm,
        )
        yield Measure(
            key=f"amps {one.tag}",
            do=f"Clamp on {one.tag} in steady sun, bank not full: {amps:.1f} A at {light:.0f} W/m² (other light "
            f"in proportion).",
            minutes=2.0,
            about=(one.tag,),
            outcomes=(
                Outcome(GOOD, f"{SUN_LOW * amps:.1f} A and more"),
                Outcome("low", f"less than {SUN_LOW * amps:.1f} A"),
                Outcome("none", "nothing"),
            ),
            unit="A",
            low=SUN_LOW * amps,
            none_below=0.05 * amps,
            amps=amps,
            expected=amps,
        )
        yield Measure(
            key=f"isolator {one.tag}",
            do=f"The isolator of {one.tag}.",
            minutes=1.0,
            about=(one.tag,),
            live=False,
            outcomes=(Outcome(GOOD, "on"), Outcome("off", "off")),
        )
        yield _looked(one.tag)
    for controller in design.job.roof.controllers:
        tag = controller.tag
        watts = sum(spec.pmp_w for spec in modules_of(design, tag)) * light / 1000
        amps = min(controller.spec.output_a, watts * PATH_SHARE / design.bank.nominal_v.value)
        yield _looked(tag)
        yield Measure(
            key=f"screen {tag}",
            do=f"Whether {tag} shows a sign of life in daylight.",
            minutes=1.0,
            about=(tag,),
            live=False,
            outcomes=(Outcome(GOOD, "alive"), Outcome("dark", "dark, or a fault")),
        )
        yield Measure(
            key=f"into {tag}",
            do=f"Current of {tag} into the bank in steady sun, bank not full: {amps:.0f} A at {light:.0f} W/m² "
            f"(other light "
            "in proportion).",
            minutes=2.0,
            about=(tag,),
            outcomes=(
                Outcome(GOOD, f"{SUN_LOW * amps:.0f} A and more"),
                Outcome("low", f"less than {SUN_LOW * amps:.0f} A"),
                Outcome("none", "nothing"),
            ),
            unit="A",
            low=SUN_LOW * amps,
            none_below=0.05 * amps,
            expected=amps,
        )


def _looked(tag: str) -> Measure:
    return Measure(
        key=f"look {tag}",
        do=f"Look at the modules of {tag}, from the roof's edge with a foothold, not from the roof.",
        minutes=3.0,
        about=(tag,),
        live=False,
        outcomes=(Outcome(GOOD, "clean and lit"), Outcome("dirt", "dirty"), Outcome("shade", "something shades them")),
    )


def charger_measures(design: Design) -> Iterator[Measure]:
    """What charges by the engine, the voltage every charger holds, and what comes from outside."""
    chargers = [unit.tag for unit in design.job.inverters.units if design.job.inverters.spec.charge_a]
    chargers += [one.tag for one in design.job.roof.controllers]
    most = design.bank.max_v.value
    sheets = {one.key: one.said for one in all_settings(design)}
    for end in design.ends:
        if end.by_engine and not end.starts_here:
            tag = end.converter.tag
            chargers.append(tag)
            said = number_of(sheets.get(f"{tag} charge_a", ""))
            amps = end.gives_a.value if said is None else min(said, end.gives_a.value)
            yield Measure(
                key=f"engine amps {tag}",
                do=f"Engine at a fast idle, bank not full: what {tag} puts in; {amps:.0f} A is sound.",
                minutes=4.0,
                about=(tag,),
                outcomes=(
                    Outcome(GOOD, f"{ENGINE_LOW * amps:.0f} A and more"),
                    Outcome("low", f"less than {ENGINE_LOW * amps:.0f} A"),
                    Outcome("none", "nothing"),
                ),
                unit="A",
                low=ENGINE_LOW * amps,
                none_below=0.05 * amps,
                amps=amps,
                expected=amps,
            )
            yield Measure(
                key=f"signal {tag}",
                do=f"Voltage on the wire that tells {tag} of the engine, engine running.",
                minutes=3.0,
                about=(tag,),
                outcomes=(Outcome(GOOD, "there"), Outcome("none", "none")),
            )
            yield Measure(
                key=f"alternator {tag}",
                do=f"Voltage at the alternator while {tag} charges, engine at a fast idle.",
                minutes=4.0,
                about=(tag,),
                outcomes=(Outcome(GOOD, "holds"), Outcome("low", "falls under its charging voltage")),
            )
    for tag in dict.fromkeys(chargers):
        yield Measure(
            key=f"holds {tag}",
            do=f"The voltage {tag} holds at the end of charging, all other chargers off. More than {most + 0.2:.1f} V "
            "is too much.",
            minutes=10.0,
            about=(tag,),
            outcomes=(Outcome(GOOD, f"up to {most + 0.2:.1f} V"), Outcome("high", f"more than {most + 0.2:.1f} V")),
            unit="V",
            high=most + 0.2,
        )
    if design.job.inverters.sources and design.job.inverters.spec.charge_a:
        shore = sum(number_of(sheets.get(f"{one.tag} charge_a", "")) or 0.0 for one in design.job.inverters.units)
        yield Measure(
            key="shore amps",
            do=f"Plugged in, bank not full: what the inverters' chargers put in; {shore:.0f} A by their sheets.",
            minutes=3.0,
            about=(),
            outcomes=(
                Outcome(GOOD, f"{ENGINE_LOW * shore:.0f} A and more"),
                Outcome("low", f"less than {ENGINE_LOW * shore:.0f} A"),
            ),
            unit="A",
            low=ENGINE_LOW * shore,
            expected=shore,
        )
