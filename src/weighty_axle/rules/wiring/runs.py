"""Rules of step Wiring."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.wiring.abreast import sides_of
from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.choices import choice_name
from weighty_axle.design.wiring.runs import Run
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.reference.tables import ampacity_tables, fuse_kinds, fuse_ratings
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts
from weighty_axle.units import conductor_words

MARGINAL_V = 1.15
"""Fuse voltage over highest bank voltage below which it is marginal. Source: common practice, no source."""


def _fit(design: Design, run: Run) -> Edit | None:
    """Remedy that picks the mildest kind of fuse good for every run of the same group."""
    main = run is design.wiring.main
    runs = [one for one in design.wiring.runs if (one is design.wiring.main) == main]
    need_v = design.bank.max_v.value * MARGINAL_V
    need_a, largest = max(one.prospective_a.value for one in runs), max(one.fuse_a.value for one in runs)
    good = [
        kind
        for kind in fuse_kinds().values()
        if kind.volts >= need_v and kind.breaks_a >= need_a and kind.largest_a >= largest
    ]
    if not good:
        return None
    best = min(good, key=lambda kind: kind.breaks_a)
    where = "Main fuse" if main else "Branch fuses"
    return set_value("wiring.main_fuse" if main else "wiring.branch_fuse", best.key, f"{where}: {best.name}")


def _first_of_groups(design: Design) -> Iterator[tuple[Run, tuple[str, ...]]]:
    """The main run, and of the branches (one kind of fuse for all) the one with the largest fault current."""
    main = design.wiring.main
    branches = [run for run in design.wiring.runs if run is not main]
    yield main, (main.tag,)
    if branches:
        yield max(branches, key=lambda run: run.prospective_a.value), tuple(run.tag for run in branches)


@rule(
    "wiring.fuse-voltage",
    "stop",
    "{runs}: a fuse for {rating} stands on a bank that reaches {highest}; it may not break the arc.",
    PRACTICE,
)
def fuse_voltage(design: Design) -> Iterator[Hit]:
    """Fuse voltage well under the bank's highest."""
    for run, tags in _first_of_groups(design):
        if run.fuse_kind.volts < 0.98 * design.bank.max_v.value:
            yield hit(
                *tags,
                runs=_words(tags),
                rating=volts(run.fuse_kind.volts),
                highest=design.bank.max_v,
                remedy=_fit(design, run),
            )


@rule(
    "wiring.fuse-voltage-marginal",
    "check",
    "{runs}: fuses for {rating} are marginal on a bank that reaches {highest}; prefer 70 V and more.",
    PRACTICE,
)
def fuse_voltage_marginal(design: Design) -> Iterator[Hit]:
    """Fuse voltage about the bank's highest."""
    highest = design.bank.max_v
    for run, tags in _first_of_groups(design):
        if 0.98 * highest.value <= run.fuse_kind.volts < MARGINAL_V * highest.value and highest.value > 32:
            yield hit(
                *tags, runs=_words(tags), rating=volts(run.fuse_kind.volts), highest=highest, remedy=_fit(design, run)
            )


@rule(
    "wiring.fuse-breaking",
    "stop",
    "{runs}: up to {prospective} can flow into a short; a {kind} breaks {breaks}.",
    PRACTICE,
)
def fuse_breaking(design: Design) -> Iterator[Hit]:
    """Breaking capacity under the prospective current."""
    for run, tags in _first_of_groups(design):
        if over(run.prospective_a.value, run.fuse_kind.breaks_a):
            yield hit(
                *tags,
                runs=_words(tags),
                prospective=run.prospective_a,
                kind=run.fuse_kind.name,
                breaks=amps(run.fuse_kind.breaks_a),
                remedy=_fit(design, run),
            )


def _words(tags: tuple[str, ...]) -> str:
    return tags[0] if len(tags) == 1 else f"{tags[0]} and {len(tags) - 1} more"


@rule(
    "wiring.fuse-too-large-for-kind",
    "stop",
    "{run} needs a fuse of {fuse}; a {kind} is made up to {largest}.",
    PRACTICE,
)
def fuse_too_large_for_kind(design: Design) -> Iterator[Hit]:
    """Rating above what the kind is made in."""
    for run in design.wiring.runs:
        if over(run.fuse_a.value, run.fuse_kind.largest_a):
            yield hit(
                run.tag,
                run=run.tag,
                fuse=run.fuse_a,
                kind=run.fuse_kind.name,
                largest=amps(run.fuse_kind.largest_a),
                remedy=_fit(design, run),
            )


@rule(
    "wiring.no-standard-fuse",
    "stop",
    "{run} carries {current}; that is beyond the largest standard fuse of {largest}.",
    "NEC 240.6(A) / IEC 60269, recalled",
)
def no_standard_fuse(design: Design) -> Iterator[Hit]:
    """Beyond the list of standard ratings."""
    largest = fuse_ratings(design.job.practice).amps[-1]
    for run in design.wiring.runs:
        if over(run.fuse_a.value, largest):
            yield hit(run.tag, run=run.tag, current=run.current_a, largest=amps(largest))


@rule(
    "wiring.no-conductor",
    "stop",
    "No conductor of the table carries {fuse} on {run} within the allowed drop.",
    PRACTICE,
)
def no_conductor(design: Design) -> Iterator[Hit]:
    """Nothing in the table fits."""
    for run in design.wiring.runs:
        if run.chosen is None and not run.own_choice:
            yield hit(run.tag, run=run.tag, fuse=run.fuse_a)


@rule("wiring.unknown-size", "stop", "{run}: {size} is not in the ampacity table.", PRACTICE)
def unknown_size(design: Design) -> Iterator[Hit]:
    """An own choice the table does not know."""
    for run in design.wiring.runs:
        if run.chosen is None and run.own_choice:
            yield hit(run.tag, run=run.tag, size=design.job.wiring.conductors[run.tag], remedy=_computed(run))


def _computed(run: Run) -> Edit:
    return set_value(f"wiring.conductors[{run.tag}]", None, f"Use the computed conductor on {run.tag}")


@rule(
    "wiring.fuse-over-ampacity",
    "stop",
    "{run}: {size} carries {ampacity}, but its fuse is {fuse}: the cable burns before the fuse opens.",
    "NEC 240.4 (conductor protected at its ampacity), recalled",
)
def fuse_over_ampacity(design: Design) -> Iterator[Hit]:
    """An own choice too thin for its fuse."""
    for run in design.wiring.runs:
        if run.own_choice and run.chosen is not None and run.chosen.against == "ampacity":
            yield hit(
                run.tag,
                run=run.tag,
                size=conductor_words(choice_name(run.chosen)),
                ampacity=run.ampacity_a,
                fuse=run.fuse_a,
                remedy=_computed(run),
            )


@rule(
    "wiring.next-size-up",
    "note",
    "{run}: {size} carries {ampacity}; its fuse of {fuse} is the next rating above, as permitted.",
    "NEC (NFPA 70) 2023 240.4(B), recalled",
)
def next_size_up(design: Design) -> Iterator[Hit]:
    """A fuse one rating above its conductor's ampacity, where the practice has that."""
    for run in design.wiring.runs:
        if run.chosen is not None and run.chosen.next_up:
            size = conductor_words(choice_name(run.chosen))
            yield hit(run.tag, run=run.tag, size=size, ampacity=run.ampacity_a, fuse=run.fuse_a)


@rule("wiring.drop-over", "check", "{run} drops {drop} with {size}; {allowed} is allowed.", PRACTICE)
def drop_over(design: Design) -> Iterator[Hit]:
    """An own choice that drops too much."""
    allowed = Given("", design.job.wiring.drop_allowed, "1")
    for run in design.wiring.runs:
        if run.own_choice and run.chosen is not None and over(run.chosen.drop_share, allowed.value):
            yield hit(
                run.tag,
                run=run.tag,
                drop=run.drop_share,
                size=conductor_words(choice_name(run.chosen)),
                allowed=allowed,
                remedy=_computed(run),
            )


@rule(
    "wiring.hot-air",
    "stop",
    "Cable insulation for {insulation} lies in air of {air}: nothing is left to carry current.",
    "NEC (NFPA 70) 2023 equation 310.15(B)(1), recalled",
)
def hot_air(design: Design) -> Iterator[Hit]:
    """Air as hot as the insulation may get."""
    stated = design.job.wiring
    if stated.ambient_c >= stated.insulation_c:
        yield hit(insulation=Given("", stated.insulation_c, "degC"), air=Given("", stated.ambient_c, "degC"))


@rule("wiring.table-practice", "check", "The ampacity table “{table}” belongs to the other practice.", PRACTICE)
def table_practice(design: Design) -> Iterator[Hit]:
    """A table of the other practice."""
    table = ampacity_tables()[design.job.wiring.ampacity_table]
    if table.practice != design.job.practice:
        same = next(one for one in ampacity_tables().values() if one.practice == design.job.practice)
        yield hit(
            table=table.title, remedy=set_value("wiring.ampacity_table", same.key, "Use the table of this practice")
        )


@rule(
    "wiring.parallel-conductors",
    "check",
    "{run} uses {size}: cut all to one length and land them alike, or one carries the most.",
    PRACTICE,
)
def parallel_conductors(design: Design) -> Iterator[Hit]:
    """Conductors in parallel."""
    for run in design.wiring.runs:
        if run.chosen is not None and run.chosen.count > 1:
            yield hit(run.tag, run=run.tag, size=conductor_words(choice_name(run.chosen)))


@rule(
    "wiring.abreast-over",
    "stop",
    "{run}: cut to {length}, one conductor carries {current} of the {limit} it may.",
    "textbook relation (conductances in parallel)",
    "Cut them alike; the shortest carries the most.",
)
def abreast_over(design: Design) -> Iterator[Hit]:
    """A conductor side by side with longer ones that carries more than it may."""
    for run in design.wiring.runs:
        most = max(sides_of(design, run), key=lambda one: one.carries_a.value, default=None)
        if most is not None and over(most.carries_a.value, most.may_a):
            length = Given("", most.length_m, "m")
            yield hit(run.tag, run=run.tag, length=length, current=most.carries_a, limit=amps(most.may_a))


@rule(
    "wiring.abreast-unlike",
    "check",
    "{run} is of {count} conductors, and lengths of {stated} are stated: nothing is told of how they share.",
    PRACTICE,
)
def abreast_unlike(design: Design) -> Iterator[Hit]:
    """Lengths stated for another number of conductors than a run has."""
    counts = {run.tag: run.chosen.count for run in design.wiring.runs if run.chosen is not None}
    for one in design.job.wiring.abreast:
        if one.run in counts and counts[one.run] != len(one.lengths_m):
            yield hit(one.run, run=one.run, count=str(counts[one.run]), stated=str(len(one.lengths_m)))


@rule(
    "wiring.ripple",
    "check",
    "Up to {ripple} of ripple reaches the inverters' terminals; {allowed} needs no question.",
    PRACTICE,
    "Shorter, thicker, paired leads, or more packs; measure it with an oscilloscope on commissioning.",
)
def ripple_over(design: Design) -> Iterator[Hit]:
    """Voltage that swings at twice the mains frequency at the end of the DC leads."""
    if over(design.ripple.inverter_v.value, design.ripple.allowed_v.value):
        yield hit(
            *(unit.tag for unit in design.job.inverters.units),
            ripple=design.ripple.inverter_v,
            allowed=design.ripple.allowed_v,
        )
