"""judge(design) -> findings: every rule of every step, worst first."""

from __future__ import annotations

from importlib import import_module

from msgspec.structs import replace

from weighty_axle.design.brief.equipment import LEAVES
from weighty_axle.design.derive import OF_THE_WHOLE
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, value_at
from weighty_axle.job.systems import HOUSE
from weighty_axle.rules.registry import SEVERITIES, Finding, Rule
from weighty_axle.steps import STEPS, order_of

# Each step's folder names its rules; the table of steps gives their order.
RULES: tuple[Rule, ...] = tuple(one for step in STEPS for one in import_module(f"weighty_axle.rules.{step.key}").RULES)


OF_GROUPS = {
    "bank.under-inverter-voltage",
    "bank.over-inverter-voltage",
    "bank.sag-at-surge",
    "wiring.inverter-cannot-trip",
    "wiring.shore-cannot-trip",
    "wiring.earth-over-line",
    "wiring.cord-thin",
    "wiring.cord-unknown",
    "wiring.cord-drop",
}
"""Rules of other steps that are about inverters and their AC side: a group that only shares a bank is judged by them
too.
"""


def judge(design: Design, before: Judged | None = None) -> tuple[Finding, ...]:
    """All findings of every system, Stop before Check before Note, within each in the order of the work.

    What another system says in the same words as the house is said once. `before` keeps what other systems said last:
    one of which nothing has changed is not judged again.
    """
    found = _of_one(design)
    if design.others:
        said = {(one.rule.id, one.tags): one.values for one in found}
        found = [replace(one, system=design.system) for one in found]
        for other in design.others:
            own = before.of(other) if before is not None else tuple(_of_one(other))
            found += [
                replace(one, system=other.system) for one in own if said.get((one.rule.id, one.tags)) != one.values
            ]
    found.sort(key=lambda one: (SEVERITIES.index(one.rule.severity), order_of(one.rule.step)))
    return tuple(found)


class Judged:
    """Findings of systems beside the house, each kept with the very answers it was judged by."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[tuple[object, ...], tuple[Finding, ...]]] = {}

    def of(self, other: Design) -> tuple[Finding, ...]:
        """Findings of a system, judged anew only where any of its answers is another."""
        answers = tuple(getattr(other, name) for name in _ANSWERS)
        kept = self._kept.get(other.system.key)
        if kept is None or any(one is not now for one, now in zip(kept[0], answers, strict=True)):
            kept = self._kept[other.system.key] = (answers, tuple(_of_one(other)))
        return kept[1]


_ANSWERS = tuple(name for name in Design.__struct_fields__ if name not in ("whole", "others", *OF_THE_WHOLE))
"""What a system's own findings follow from; what is about the whole vehicle is the house's to judge."""


def _of_one(design: Design) -> list[Finding]:
    """Findings of one system, as if it were alone; of a group that shares a bank only what is about its inverters and
    their AC side. Where things stand is judged once, with the house.
    """
    shares, house = design.system.shares_bank, design.system.key == HOUSE
    rules = [
        one
        for one in RULES
        if (not shares or one.step == "inverters" or one.id in OF_GROUPS) and (house or one.step != "place")
    ]
    found = [Finding(rule, hit.tags, hit.values, hit.remedy) for rule in rules for hit in rule.check(design)]
    return list(_with_choices(found, design))


def _with_choices(found: list[Finding], design: Design) -> tuple[Finding, ...]:
    """Findings whose remedies would undo each other, since they set one thing to different values, become one with the
    choice.
    """
    at: dict[str, list[Finding]] = {}
    for one in found:
        if one.remedy is not None and one.remedy.path:
            at.setdefault(one.remedy.path, []).append(one)
    merged: dict[int, Finding] = {}
    gone = set[int]()
    for path, several in at.items():
        labels = {one.remedy.label: one.remedy for one in several if one.remedy is not None}
        if len(labels) > 1:
            first, *others = several
            choices = _settling(tuple(labels.values()), path, design)
            merged[id(first)] = replace(
                first, also=tuple(others), choices=choices, remedy=choices[0], tags=_tags(several)
            )
            gone |= {id(one) for one in others}
    return tuple(merged.get(id(one), one) for one in found if id(one) not in gone)


def _settling(remedies: tuple[Edit, ...], path: str, design: Design) -> tuple[Edit, ...]:
    """Of opposite remedies those after which nothing is left: for equipment on board, those that take it out of use."""
    if not path.endswith(".disposition"):
        return remedies
    leaving = tuple(remedy for remedy in remedies if value_at(remedy.apply(design.job), path) in LEAVES)
    return leaving or remedies


def _tags(several: list[Finding]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(tag for one in several for tag in one.tags))
