"""How a charger knows that the engine runs: voltages it sees, the band in which it hunts, settings that work."""

from __future__ import annotations

import math
from typing import Literal

from msgspec import Struct

from weighty_axle.design.charging.budget import Budget
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.bank import Chemistry
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import bar_of, bar_tag
from weighty_axle.reference.tables import open_circuit

SURFACE_V = 0.02
"""A full lead-acid cell rests so much higher for some hours after charging [V]. Source: common practice, no source."""
APART_SHARE = 0.01
"""A threshold keeps this share of the voltage from what it must not meet. Source: common practice, no source."""

Verdict = Literal["works", "hunts", "never_on", "drops", "empties", "unsaid", "wire"]


class Detection(Struct, frozen=True, kw_only=True):
    """One charger that works by the engine: the voltages at its terminals, and what its thresholds make of them.

    `hunts_v` is the band of the alternator's voltage in which it switches on and off for ever; `good_on_v` and
    `good_off_v` are the windows in which thresholds work (low, high), None where there is none: then only an ignition
    wire will do.
    """

    tag: str
    name: str
    senses: str
    on_v: float | None
    off_v: float | None
    running_high_v: Figure
    running_low_v: Figure
    loaded_low_v: Figure
    resting_high_v: Figure
    resting_loaded_v: Figure
    drop_v: Figure
    hunts_v: tuple[float, float] | None
    good_on_v: tuple[float, float] | None
    good_off_v: tuple[float, float] | None
    bridged: bool
    verdict: Verdict

    @property
    def settings(self) -> tuple[float, float] | None:
        """On and off voltages to set, in the middle of their windows; None where only a wire will do."""
        if self.good_on_v is None or self.good_off_v is None:
            return None
        return (round(sum(self.good_on_v) / 2, 1), round(sum(self.good_off_v) / 2, 1))


def detections(whole: Job, budgets: tuple[Budget, ...]) -> tuple[Detection, ...]:
    """Every charger that works by the engine on a bar with an alternator.

    Source: textbook relations; rest voltages of reference/; common practice.
    """
    found = []
    for budget in budgets:
        bar = budget.spare.bar
        asks = {one.tag: one for one in budget.chargers}
        for one in whole.converters:
            if one.works == "engine" and bar_tag(whole, one.start) == bar and one.tag in asks:
                ask = asks[one.tag]
                found.append(_detection(whole, one, bar, ask.takes_a, ask.loop_ohm))
    return tuple(found)


def _starting(whole: Job, bar: str) -> tuple[Chemistry, int, float]:
    """Chemistry, cells in series and resistance of the battery on an alternator's bar."""
    stated = bar_of(whole, bar)
    if stated is not None and stated.bank is not None:
        bank = stated.bank
        strings = max(1, len(bank.packs) // bank.series)
        ohm = bank.spec.resistance_ohm * bank.series / strings
        return bank.spec.chemistry, bank.spec.cells_in_series * bank.series, ohm
    if bar != VEHICLE and stated is None:
        bank = whole.bank
        strings = max(1, len(bank.packs) // bank.series)
        ohm = bank.spec.resistance_ohm * bank.series / strings
        return bank.spec.chemistry, bank.spec.cells_in_series * bank.series, ohm
    starter = whole.charging.starter
    volts = max((one.volts for one in whole.charging.alternators if one.bar == bar), default=28.0)
    cells = {"lfp": 4, "nmc": 3}.get(starter.chemistry, 6) * (2 if volts > 20 else 1)
    return starter.chemistry, cells, starter.resistance_ohm


def _detection(whole: Job, one: Converter, bar: str, takes: Figure, loop_ohm: float) -> Detection:
    several = tuple(alternator for alternator in whole.charging.alternators if alternator.bar == bar)
    high = Given("Alternator holds", max(alternator.volts for alternator in several), "V")
    sag_s = max((alternator.sag_s for alternator in several if alternator.low_v is not None), default=0.0)
    sags = min(alternator.low_v or alternator.volts for alternator in several)
    bridged = sags < high.value and one.delay_s >= sag_s
    running_high = Figure.total(
        name="Engine running, at most",
        unit="V",
        formula="what the alternator holds, no current in the cable",
        inputs=(high,),
        source="as stated",
    )
    running_low = Figure(
        name="Engine running, at least",
        value=high.value if bridged else sags,
        unit="V",
        formula="what it sags to; what it holds where the delay outlasts the sag",
        inputs=(
            high,
            Given("Sags to", sags, "V"),
            Given("Longest sag", sag_s, "s"),
            Given("Off after", one.delay_s, "s"),
        ),
        source="as stated",
    )
    drop = Figure.product(
        name=f"Drop to {one.tag} at full current",
        unit="V",
        formula="current it takes × resistance of its cables",
        inputs=(takes, Given("Cables, out and back", loop_ohm, "ohm")),
        source=TEXTBOOK,
    )
    loaded_low = _less("Engine running, at full current", running_low, drop)
    chemistry, cells, ohm = _starting(whole, bar)
    row = next(row for row in open_circuit().rows if row.chemistry == chemistry)
    lead_acid = chemistry in ("flooded", "agm")
    rest = Figure(
        name="Engine off, resting",
        value=cells * (row.cell_v[-1] + (SURFACE_V if lead_acid else 0.0)),
        unit="V",
        formula="cells × (rest voltage when full + surface charge)",
        inputs=(
            Given("Cells in series", cells, "count"),
            Given("Rest voltage when full", row.cell_v[-1], "V"),
            Given("Surface charge", SURFACE_V if lead_acid else 0.0, "V"),
        ),
        source=PRACTICE,
    )
    sag = Figure(
        name="Engine off, charger drawing",
        value=rest.value - takes.value * ohm - drop.value,
        unit="V",
        formula="resting − current × resistance of the battery − drop of the cable",
        inputs=(rest, takes, Given("Resistance of the battery", ohm, "ohm"), drop),
        source=TEXTBOOK,
    )
    apart = APART_SHARE * high.value
    good_on = _window(rest.value + apart, running_high.value - apart / 2)
    below_on = good_on[0] if good_on else math.inf
    good_off = _window(sag.value + apart / 2, min(loaded_low.value - apart / 2, below_on))
    on_v, off_v = one.on_v, one.off_v
    hunts, verdict = None, _plain_verdict(one)
    if verdict == "works" and on_v is not None and off_v is not None:
        low, top = max(on_v, running_low.value), min(off_v + drop.value, running_high.value)
        hunts = (low, top) if low <= running_high.value and low - drop.value < off_v - 1e-9 else None
        if rest.value >= on_v and sag.value >= off_v:
            verdict = "empties"
        elif hunts is not None or rest.value >= on_v:
            verdict = "hunts"
            hunts = hunts or (on_v, rest.value)
        elif running_high.value < on_v:
            verdict = "never_on"
        elif loaded_low.value < off_v:
            verdict = "drops"
    return Detection(
        tag=one.tag,
        name=one.spec.name,
        senses=one.senses,
        on_v=on_v,
        off_v=off_v,
        running_high_v=running_high,
        running_low_v=running_low,
        loaded_low_v=loaded_low,
        resting_high_v=rest,
        resting_loaded_v=sag,
        drop_v=drop,
        hunts_v=hunts,
        good_on_v=good_on,
        good_off_v=good_off,
        bridged=bridged,
        verdict=verdict,
    )


def _plain_verdict(one: Converter) -> Verdict:
    """What can be said before any voltage is looked at."""
    if one.senses == "wire":
        return "wire"
    if one.senses == "unsaid" or one.on_v is None or one.off_v is None:
        return "unsaid"
    return "works"


def _less(name: str, whole: Figure, part: Figure) -> Figure:
    return Figure.difference(
        name=name, unit="V", formula="at no current − drop of the cable", inputs=(whole, part), source=TEXTBOOK
    )


def _window(low: float, high: float) -> tuple[float, float] | None:
    return (low, high) if low <= high else None
