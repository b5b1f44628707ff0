"""The lesson: how to live with this very system, for its owner: plain words, the owner's own loads and numbers."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.answers.brief.run_together import run_together
from weighty_axle.answers.proving.step_load import step_load
from weighty_axle.design.table import Design
from weighty_axle.units import System, show

LARGE_W = 400.0
"""A load from here on is named where it must be thought of. Source: common practice, no source."""

FEW = 6
"""Large loads that are set against each other: more make a list nobody reads."""


class Chapter(Struct, frozen=True, kw_only=True):
    """A heading and what stands under it."""

    title: str
    lines: tuple[str, ...]


def lesson(design: Design, units: System = "metric") -> tuple[Chapter, ...]:
    """Every chapter that has something to say about this system.

    Source: figures from the design; advice common practice, no source.
    """
    found = (
        ("What may run together", _together(design, units)),
        ("A place to plug in that you do not know", _plugging(design, units)),
        ("A good day and a bad one", _days(design, units)),
        ("When nobody uses it", _storage(design, units)),
        ("On the roof", _roof(design, units)),
        ("What to feel and look at", _seasons()),
        ("Never, and whom to call", _never(design)),
    )
    made = ((title, tuple(lines)) for title, lines in found)
    return tuple(Chapter(title=title, lines=lines) for title, lines in made if lines)


def _together(design: Design, units: System) -> Iterator[str]:
    loads = sorted(
        (one for one in design.job.loads if one.running_w * one.count >= LARGE_W), key=lambda one: -one.running_w
    )[:FEW]
    everything = run_together(design, tuple(one.tag for one in loads)) if loads else None
    if everything is None:
        return
    names = ", ".join(one.name for one in loads)
    first = everything.first
    if first is None:
        lasts = show(everything.lasts_h.value, "h", units)
        yield f"All of {names} may run at once; a full bank lasts {lasts} then."
        return
    soon = show(first.seconds.value, "s", units)
    yield f"Not all at once: {names}. The first to give way: {first.what}, after {soon}."
    running = [loads[0]]
    for one in loads[1:]:
        if run_together(design, tuple(each.tag for each in (*running, one))).first is None:
            running.append(one)
    if len(running) > 1:
        hours = run_together(design, tuple(one.tag for one in running)).lasts_h.value
        lasts = show(hours, "h", units)
        yield f"Together they may: {', '.join(one.name for one in running)}; a full bank lasts {lasts}."
    left = [one.name for one in loads if one not in running]
    if left:
        yield f"Then wait with {', '.join(left)}."


def _plugging(design: Design, units: System) -> Iterator[str]:
    if not design.job.inverters.sources:
        return
    yield "Look at plug and socket, test it with the tester, set the limit, then plug in; unroll the lead whole."
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        if row.accepted:
            limit = min(source.limit_a, row.recommended_limit_a.value)
            yield f"{source.name}: {show(limit, 'A', units)}. It gives {show(row.continuous_w.value, 'W', units)}."
        else:
            yield f"{source.name}: not taken as the inverters are set. Do not plug in."
    yield "Lamps far too bright or far too dim: unplug at once, something is wrong with that socket."


def _days(design: Design, units: System) -> Iterator[str]:
    bank, brief = design.bank, design.brief
    day = show(brief.energy_per_day_wh.value, "Wh", units)
    held = show(bank.usable_energy_wh.value, "Wh", units)
    yield f"Your day that takes most uses {day} from the batteries; they hold {held}."
    days = bank.days.value
    lasts = f"{days:.1f} days" if days < 365 else "far longer than a year"
    yield f"Without sun, plug or driving they last {lasts}."
    low, high = (show(round(volts, 1), "V", units) for volts in (bank.lowest_working_v.value, bank.max_v.value))
    yield f"The display shows between {low} and {high}. Lower under a small load: switch loads off and charge."
    step = step_load(design, 1000.0) if design.job.inverters.units else None
    if step is not None:
        yield f"A heater of 1 kW draws about {show(step.main_a, 'A', units)} from the batteries: so you can check."


def _storage(design: Design, units: System) -> Iterator[str]:
    alive = design.storage
    lasts = show(alive.lasts_days.value, "days", units)
    drawn = show(alive.alive_w.value, "W", units)
    yield f"Leave it about half full and switch off by the card. {drawn} go on being drawn; from full it lasts {lasts}."
    spec = design.job.bank.spec
    cold = show(spec.charge_low_c, "degC", units)
    yield f"Below {cold} in the cells nothing may charge: warm them first. Never leave it empty, not for a week."


def _roof(design: Design, units: System) -> Iterator[str]:
    if not design.job.roof.modules:
        return
    most = max((one.cold_voc_v.value for one in design.roof.strings if one.modules), default=0.0)
    yield f"Up to {show(round(most), 'V', units)} are in the cables whenever there is light, also when all is off."
    yield "Do not step on modules; walk on the lanes. Do not part plugs. Snow off with a soft broom only."
    yield "Wash them with water when it shows. Shade on one module can take the current of its whole string."


def _seasons() -> Iterator[str]:
    yield "Spring and autumn: press the test of every residual-current device; it must trip at once."
    yield "After an hour of full load feel covers and cables: hand-warm is good, too hot to hold is not: call."
    yield "Look for chafed cables, loose plates, water, mice, dust in fans; bolts of boards after the first 1000 km."


def _never(design: Design) -> Iterator[str]:
    yield "Never open a board, never swap a fuse for a larger one, never plug two sources in at once."
    yield "Smell of burning, smoke, a shock, swelling: everybody out, main switch off if you reach it, call."
    who = design.whole.survey.surveyed_by
    yield f"Call {who}." if who else "Whom to call: ____________________"
