"""Rules of alternators, of the cable to their chargers, and of how these see the engine."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.charging.budget import SPEED_WORDS, SPEEDS, Budget, Speed
from weighty_axle.design.charging.engine import Verdict
from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import WHOLE, Edit, set_value
from weighty_axle.job.edits.sheet import remove_entry
from weighty_axle.job.models.charging import VEHICLE
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


def _whole(edit: Edit) -> Edit:
    return Edit(edit.label, edit.apply, path=edit.path, system=WHOLE)


def _leave_out(budget: Budget) -> Edit | None:
    """Leave out the charger that is served last."""
    last = max(budget.chargers, key=lambda one: one.priority, default=None)
    if last is None:
        return None
    last = [one for one in budget.chargers if one.priority == last.priority][-1]
    gone = remove_entry(f"converters[{last.tag}]", last.tag)
    return Edit(f"Leave {last.tag} out", gone.apply, path=gone.path, system=WHOLE)


@rule(
    "charging.alternator-over",
    "stop",
    "The chargers on {bar} take {demand} at {lowest}; {when} the alternator can spare {budget}{more}.",
    PRACTICE,
    "Fewer or smaller chargers, or a larger alternator: a lithium bank takes all that is offered, for hours.",
)
def alternator_over(design: Design) -> Iterator[Hit]:
    """Chargers above what is left of the hot output on the road."""
    for budget in design.budgets:
        asked, spare = budget.asked_a, budget.spare.spare_a
        beaten = [one for one in ("slow", "cruise") if over(asked.value, spare[one].value)]
        if beaten and budget.chargers:
            worst: Speed = "slow" if spare["slow"].value <= spare["cruise"].value else "cruise"
            others = sum(over(asked.value, spare[one].value) for one in SPEEDS if one != worst)
            yield hit(
                *budget.spare.tags,
                *(one.tag for one in budget.chargers),
                bar=budget.spare.name,
                demand=asked,
                lowest=budget.spare.lowest_v,
                when=f"hot and {SPEED_WORDS[worst]}",
                budget=spare[worst],
                more=f", and {others} more engine speed{'s' if others > 1 else ''} falls short" if others else "",
                remedy=_leave_out(budget),
            )


@rule(
    "charging.alternator-idle",
    "check",
    "Idling, the alternator on {bar} can spare {budget}; the chargers take {demand}: the battery makes up the rest.",
    PRACTICE,
    "Do not charge by idling, let chargers wait by their thresholds, or leave one off.",
)
def alternator_idle(design: Design) -> Iterator[Hit]:
    """Chargers above what is left at idle, though not on the road."""
    for budget in design.budgets:
        asked, spare = budget.asked_a, budget.spare.spare_a
        if over(asked.value, spare["idle"].value) and not any(
            over(asked.value, spare[one].value) for one in ("slow", "cruise")
        ):
            yield hit(*budget.spare.tags, bar=budget.spare.name, budget=spare["idle"], demand=asked)


@rule(
    "charging.alternator-vehicle",
    "stop",
    "On {bar} the vehicle itself takes {vehicle}; {when} the alternator gives {gives}.",
    PRACTICE,
)
def alternator_vehicle(design: Design) -> Iterator[Hit]:
    """An alternator that cannot carry the vehicle at some speed on the road."""
    for budget in design.budgets:
        spare = budget.spare
        short = [one for one in ("slow", "cruise") if over(spare.vehicle_a.value, spare.gives_a[one].value)]
        if short:
            worst: Speed = min(("slow", "cruise"), key=lambda one: spare.gives_a[one].value)
            yield hit(
                *spare.tags,
                bar=spare.name,
                vehicle=spare.vehicle_a,
                when=SPEED_WORDS[worst],
                gives=spare.gives_a[worst],
            )


@rule(
    "charging.curve-over-label",
    "check",
    "The hot output of {alternator} reaches {most}; its label says {rated}.",
    PRACTICE,
)
def curve_over_label(design: Design) -> Iterator[Hit]:
    """A hot curve above the nameplate."""
    if design.system.key:
        return
    for one in design.whole.charging.alternators:
        most = max((point.amps for point in one.curve), default=0.0)
        if over(most, one.rated_a):
            yield hit(one.tag, alternator=one.tag, most=amps(most), rated=amps(one.rated_a))


@rule(
    "charging.no-margin",
    "note",
    "{alternator} has a typed curve and no margin: nothing is kept back for a hotter day.",
    PRACTICE,
)
def no_margin(design: Design) -> Iterator[Hit]:
    """A typed curve used to its end."""
    if design.system.key:
        return
    for one in design.whole.charging.alternators:
        if one.curve and not one.margin_a and any(budget.chargers for budget in design.budgets):
            yield hit(one.tag, alternator=one.tag)


@rule(
    "charging.chargers-without-alternator",
    "stop",
    "There are alternator chargers but no alternator is stated.",
    PRACTICE,
)
def chargers_without_alternator(design: Design) -> Iterator[Hit]:
    """Chargers with nothing to feed them."""
    bars = {one.bar for one in design.whole.charging.alternators}
    chargers = [
        one for one in design.whole.converters if one.start == VEHICLE and one.works == "engine" and VEHICLE not in bars
    ]
    if chargers and not design.system.key:
        yield hit(*(charger.tag for charger in chargers))


@rule(
    "charging.feed-collapses",
    "stop",
    "The cable to {charger} cannot carry what it takes: its voltage breaks down.",
    "textbook relation: a constant power behind a resistance",
    "A thicker or shorter cable, or fewer chargers on it.",
)
def feed_collapses(design: Design) -> Iterator[Hit]:
    """A cable with no operating point at full output."""
    for budget in design.budgets:
        for one in budget.chargers:
            if math.isnan(one.device_v.value):
                yield hit(one.tag, charger=one.tag)


@rule(
    "charging.feed-drop",
    "check",
    "{charger} loses {drop} of the voltage on its way: {at} arrive of {bar}.",
    PRACTICE,
    "It takes more current for the same output; engine detection by voltage suffers first.",
)
def feed_drop(design: Design) -> Iterator[Hit]:
    """More drop to a charger than the job allows on a main run."""
    allowed = design.job.wiring.drop_allowed
    for budget in design.budgets:
        for one in budget.chargers:
            if not math.isnan(one.device_v.value) and over(one.drop_share.value, allowed):
                yield hit(one.tag, charger=one.tag, drop=one.drop_share, at=one.device_v, bar=budget.spare.lowest_v)


# ---- seeing the engine ----------------------------------------------------------------------------------------

_WORDS: dict[Verdict, str] = {
    "hunts": "it switches on and off for ever{band}",
    "never_on": "it never goes on: the alternator does not reach its on voltage",
    "drops": "it goes off while driving: the alternator sags below its off voltage",
    "empties": "it stays on with the engine off and empties the starting battery",
}


@rule(
    "charging.engine-hunts",
    "stop",
    "{charger} goes on above {on} and off below {off}: {what}.{settings}",
    "textbook relation: what is seen behind a cable",
)
def engine_hunts(design: Design) -> Iterator[Hit]:
    """Thresholds that hunt, never come on, drop out, or empty the starting battery."""
    for one in design.detections:
        if one.verdict not in _WORDS or one.on_v is None or one.off_v is None:
            continue
        band = (
            f" while the voltage lies between {one.hunts_v[0]:.1f} and {one.hunts_v[1]:.1f} V"
            if one.hunts_v is not None
            else ""
        )
        good, remedy = one.settings, None
        said = " Only an ignition wire will do."
        if good is not None:
            said = f" On above {good[0]:.1f} V and off below {good[1]:.1f} V works."
            remedy = _whole(_thresholds(one.tag, *good))
        else:
            remedy = _whole(set_value(f"converters[{one.tag}].senses", "wire", f"An ignition wire to {one.tag}"))
        yield hit(
            one.tag,
            charger=one.tag,
            on=volts(one.on_v),
            off=volts(one.off_v),
            what=_WORDS[one.verdict].format(band=band),
            settings=said,
            remedy=remedy,
        )


def _thresholds(tag: str, on_v: float, off_v: float) -> Edit:
    on, off = (set_value(f"converters[{tag}].{name}", value, "") for name, value in (("on_v", on_v), ("off_v", off_v)))
    clear = set_value(f"converters[{tag}].off_v", None, "")
    return Edit(
        f"{tag} on above {on_v:g} V, off below {off_v:g} V",
        lambda job: off.apply(on.apply(clear.apply(job))),
        path=f"converters[{tag}].on_v",
    )


@rule(
    "charging.engine-unsaid",
    "note",
    "Nobody has said how {charger} sees the engine: {hint}.",
    PRACTICE,
    "Without it such a charger does nothing, or flattens the starting battery.",
)
def engine_unsaid(design: Design) -> Iterator[Hit]:
    """A charger by the engine whose detection is not stated."""
    for one in design.detections:
        if one.verdict == "unsaid":
            good = one.settings
            hint = (
                f"on above {good[0]:.1f} V and off below {good[1]:.1f} V, or an ignition wire"
                if good is not None
                else "only an ignition wire will do"
            )
            yield hit(one.tag, charger=one.tag, hint=hint)


@rule(
    "charging.sag-unbridged",
    "note",
    "{alternator} sags to {low} for up to {sag}; {charger} goes off after {delay} below its off voltage.",
    PRACTICE,
)
def sag_unbridged(design: Design) -> Iterator[Hit]:
    """Modern management with detection by voltage and a delay shorter than its sags."""
    for one in design.detections:
        stated = next(converter for converter in design.whole.converters if converter.tag == one.tag)
        alternators = [each for each in design.whole.charging.alternators if each.low_v is not None]
        if one.senses == "voltage" and alternators and not one.bridged:
            worst = max(alternators, key=lambda each: each.sag_s)
            yield hit(
                one.tag,
                worst.tag,
                alternator=worst.tag,
                low=volts(worst.low_v or 0.0),
                sag=Given("", worst.sag_s, "s"),
                charger=one.tag,
                delay=Given("", stated.delay_s, "s"),
            )


# ---- the starting battery -------------------------------------------------------------------------------------


@rule(
    "charging.starting-emptied",
    "stop",
    "{charger} can empty the starting battery of {bar}: nothing ties it to a running engine.",
    PRACTICE,
    "An ignition wire, or thresholds above what the battery rests at.",
)
def starting_emptied(design: Design) -> Iterator[Hit]:
    """A starting battery that the house can empty."""
    if design.system.key:
        return
    hunting = {one.tag for own in (design, *design.others) for one in own.detections if one.verdict == "empties"}
    for battery in design.starting:
        for tag in battery.emptied_by:
            if tag not in hunting:  # said with its thresholds already
                yield hit(
                    tag,
                    charger=tag,
                    bar=battery.name,
                    remedy=_whole(set_value(f"converters[{tag}].works", "engine", f"{tag} by the engine only")),
                )


@rule(
    "charging.starting-unsuited",
    "stop",
    "{charger} keeps the battery of {bar} at {held}; {float} suits its {chemistry} cells, {most} is the most.",
    PRACTICE,
)
def starting_unsuited(design: Design) -> Iterator[Hit]:
    """A maintainer whose voltage does not suit the starting battery."""
    if design.system.key:
        return
    for battery in design.starting:
        for one in design.whole.converters:
            if one.tag in battery.unsuited and one.spec.output_v is not None:
                yield hit(
                    one.tag,
                    charger=one.tag,
                    bar=battery.name,
                    held=volts(one.spec.output_v),
                    float=battery.float_v,
                    chemistry=_CHEMISTRY[battery.chemistry],
                    most=battery.highest_v,
                    remedy=_whole(
                        set_value(
                            f"converters[{one.tag}].spec.output_v",
                            round(battery.float_v.value, 1),
                            f"{one.tag} holds {battery.float_v.value:.1f} V",
                        )
                    ),
                )


_CHEMISTRY = {"lfp": "LFP", "nmc": "NMC", "flooded": "flooded lead-acid", "agm": "AGM"}


@rule(
    "charging.starting-alone",
    "note",
    "Nothing keeps the starting battery of {bar} full while the vehicle stands.",
    PRACTICE,
    "A maintainer from the house bank of a few amperes does.",
)
def starting_alone(design: Design) -> Iterator[Hit]:
    """A starting battery without a maintainer."""
    if design.system.key:
        return
    for battery in design.starting:
        if not battery.kept_by and battery.bar != VEHICLE:
            yield hit(battery.bar, bar=battery.name)
