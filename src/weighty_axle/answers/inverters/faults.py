"""What a lost neutral does, and what reaches the far end: voltages by networks of impedances."""

from __future__ import annotations

import math
from operator import mul

from msgspec import Struct

from weighty_axle.design.brief.day import when
from weighty_axle.design.brief.draws import FEEDS
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.cables import AC_FEEDER_M
from weighty_axle.design.conductors import AC_COPPER_C, ohm_per_m
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import AcWiring
from weighty_axle.design.inverters.duty import start_extra_va
from weighty_axle.design.inverters.legs import line_phasors
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import LINES, Source, line_v
from weighty_axle.physics.electric.phasors import Drawn, WireBranch, network

START_POWER_FACTOR = 0.4
"""Power factor of a motor while it starts. Source: common practice, no source."""


class OpenNeutral(Struct, frozen=True):
    """Highest voltage each line's loads would see with the neutral lost, over all painted steps."""

    lines_v: tuple[Figure, ...]

    @property
    def worst(self) -> Figure:
        """The highest of all lines."""
        return max(self.lines_v, key=lambda one: one.value)


def open_neutral(design: Design) -> OpenNeutral | None:
    """Voltages with the neutral open; None where no two lines share one.

    Source: Millman's theorem: the lost point settles at Σ V Y ÷ Σ Y, loads counted as impedances.
    """
    stated = design.job.inverters
    lines = LINES[stated.stacking]
    if len(lines) < 2 or stated.stacking == "independent":
        return None
    phasors, volts = line_phasors(stated), line_v(stated)
    best: dict[str, tuple[float, Profile | None, int, tuple[complex, ...]]] = dict.fromkeys(lines, (0.0, None, 0, ()))
    for profile in design.brief.profiles.values():
        # Admittances go as the conjugates of the powers; the line voltage cancels.
        for step, own in enumerate(zip(*_own_va(profile, lines), strict=True)):
            total = sum(own)
            if total:
                point = sum(map(mul, phasors, own)) / total
                for line, phasor in zip(lines, phasors, strict=True):
                    size = abs(phasor - point)
                    if size > best[line][0] + 1e-9:
                        best[line] = (size, profile, step, own)

    def words(profile: Profile | None, step: int) -> str:
        return (
            when(design.brief, profile, profile.running_w.times_min[step]) if profile is not None else "nothing painted"
        )

    return OpenNeutral(
        tuple(
            Figure(
                name=f"{line} with the neutral lost",
                value=size,
                unit="V",
                formula="| V of the line − Σ V Y ÷ Σ Y |, Y = conj(S) ÷ V²",
                inputs=(
                    Given("Line voltage", volts, "V"),
                    *(Given(f"On {name}", abs(va), "VA") for name, va in zip(lines, own, strict=False)),
                ),
                source=TEXTBOOK,
                limit=words(profile, step),
            )
            for line, (size, profile, step, own) in best.items()
        )
    )


def _own_va(profile: Profile, lines: tuple[str, ...]) -> list[list[complex]]:
    """Conjugate power of each line's own loads in every step [VA]."""
    channels = [FEEDS.index(line) for line in lines]
    return [
        [complex(w, -var) for w, var in zip(profile.running_w.values[at], profile.running_var.values[at], strict=True)]
        for at in channels
    ]


class FarEnd(Struct, frozen=True, kw_only=True):
    """The panel with the lowest voltage on a source: running in the worst minute, and while the largest motor starts
    there as well.
    """

    panel: str
    running_v: Figure
    starting_v: Figure
    starter: str


def far_end(design: Design, source: Source) -> FarEnd | None:
    """Voltage at the farthest panel with a source's lead, feeders and neutrals in the way; None when no panel hangs on
    it or the source collapses.

    Every circuit draws what it draws at its worst, all at once (the safe side). Source: physics.phasors.network.
    """
    wiring, job = design.ac, design.job
    volts = line_v(job.inverters)
    phasors = dict(
        zip(
            wiring.lines,
            line_phasors(job.inverters) if not source.legs_in_phase else (complex(source.volts),) * 3,
            strict=False,
        )
    )
    branches = [
        WireBranch("earth", f"IN.{line}", complex(source.loop_ohm / 2), phasors[line] / volts * source.volts)
        for line in wiring.lines
    ]
    branches.append(WireBranch("earth", "IN.N", complex(source.loop_ohm / 2)))
    for panel in wiring.panels:
        feed = _upstream(wiring, panel.tag)
        ohm = complex(design.house.length_m(panel.tag, AC_FEEDER_M).value * ohm_per_m(panel.size, AC_COPPER_C))
        if math.isnan(ohm.real):
            return None
        branches += [WireBranch(f"{feed}.{line}", f"{panel.tag}.{line}", ohm) for line in ("N", *wiring.lines)]
    loads: list[Drawn] = []
    extra_va, starter, where, lines = 0.0, "", "", wiring.lines
    by_tag = {load.tag: load for load in job.loads}
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        va = complex(result.running_a.value * volts)
        loads += [Drawn(f"{circuit.panel}.{line}", f"{circuit.panel}.N", va, volts) for line in circuit.lines]
        for load in (by_tag[tag] for tag in circuit.loads):
            if start_extra_va(load) > extra_va:
                extra_va, starter, where, lines = start_extra_va(load), load.name, circuit.panel, circuit.lines
    angle = START_POWER_FACTOR + 1j * (1 - START_POWER_FACTOR**2) ** 0.5
    start = [
        Drawn(f"{where}.{line}", f"{where}.N", extra_va / len(lines) * angle, volts, steady=False)
        for line in lines
        if starter
    ]
    try:
        running = network(branches, loads, ground="earth")
        starting = network(branches, [*loads, *start], ground="earth") if start else running
    except ValueError:
        return None
    at = [
        (running.between_v(f"{panel.tag}.{line}", f"{panel.tag}.N"), panel)
        for panel in wiring.panels
        for line in wiring.lines
    ]
    low, panel = min(at, key=lambda one: one[0])
    low_start = min(
        starting.between_v(f"{one.tag}.{line}", f"{one.tag}.N") for one in wiring.panels for line in wiring.lines
    )
    given: tuple[Given | Figure, ...] = (
        Given("Voltage of the source", source.volts, "V"),
        Given("Lead and supply, out and back", source.loop_ohm, "ohm"),
        *(one.running_a for one in design.panels.circuits),
    )
    formula = "node voltages: source, lead, feeders and neutrals as impedances, loads of constant power"
    return FarEnd(
        panel=panel.tag,
        running_v=Figure(
            name=f"Lowest voltage in {panel.name}, {source.name}",
            value=low,
            unit="V",
            formula=formula,
            inputs=given,
            source=TEXTBOOK,
            limit="every circuit at its worst at once",
        ),
        starting_v=Figure(
            name=f"Lowest anywhere while {starter or 'nothing'} starts",
            value=low_start,
            unit="V",
            formula=formula + "; the start as an impedance",
            inputs=(
                *given,
                Given("Extra at the start", extra_va, "VA"),
                Given("Power factor of the start", START_POWER_FACTOR, "1"),
            ),
            source=PRACTICE,
        ),
        starter=starter,
    )


def _upstream(wiring: AcWiring, tag: str) -> str:
    """Panel that feeds a panel, or IN: an inverter's relay passes on what comes in without a resistance worth
    counting.
    """
    panels = {panel.tag: panel for panel in wiring.panels}
    feed = panels[tag].fed_from
    return feed if feed in panels else "IN"
