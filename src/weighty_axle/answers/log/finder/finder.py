"""From a symptom to its cause: every cause at every place it can sit, weighed by Bayes' rule, and the measurement next
that tells most a minute.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from msgspec import Struct

from weighty_axle.answers.log.finder.cause import SYMPTOMS, Cause
from weighty_axle.answers.log.finder.causes import CAUSES, cause_of
from weighty_axle.answers.log.finder.measure import GOOD, Measure
from weighty_axle.answers.log.finder.measures import measures
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.inverters import Inverters

RELIABLE, SEEN = 0.97, 0.985
"""So often a reading shows what a cause makes it show, and so often an eye sees it right. Source: judgement."""
NEAR_TIMES = 6.0
"""A place somebody points at is so many times likelier than another. Source: judgement."""
SURE = 0.85
"""From this probability on a cause counts as found. Source: judgement."""
OTHER_SHARE = 0.04
"""So often, beside all causes that are listed, it is none of them. Source: judgement."""
ALONE_MIN = 2.0
"""What beginning a measurement costs beside its own minutes. Source: judgement."""


class Suspect(Struct, frozen=True, kw_only=True):
    """A cause at a place, with how likely it was by the symptom alone, and is by all answers."""

    key: str
    place: str
    words: str
    before: float
    probability: float

    @property
    def cause(self) -> Cause:
        """The cause."""
        return cause_of(self.key)


class Next(Struct, frozen=True, kw_only=True):
    """A measurement that could come next: what it would tell on average [bit], and that by the minute."""

    measure: Measure
    tells_bit: float

    @property
    def bit_per_min(self) -> float:
        """What it tells a minute."""
        return self.tells_bit / (self.measure.minutes + ALONE_MIN)


class Answer(Struct, frozen=True, kw_only=True):
    """An answer: the measurement, its outcome, the reading where one was typed."""

    measure: str
    outcome: str
    reading: float | None = None


class Hunt(Struct, frozen=True, kw_only=True):
    """How far the search is: suspects, the likeliest first; measurements, the most telling a minute first."""

    symptom: str
    near: str
    answers: tuple[Answer, ...]
    suspects: tuple[Suspect, ...]
    next: tuple[Next, ...]

    @property
    def found(self) -> Suspect | None:
        """The cause that is as good as proved; None as long as there is none: a symptom alone proves nothing."""
        first = self.suspects[0] if self.suspects and self.answers else None
        return first if first is not None and first.probability >= SURE and first.key != "other" else None

    @property
    def reading_of(self) -> dict[str, Answer]:
        """The last answer of each measurement."""
        return {one.measure: one for one in self.answers}


def places(design: Design) -> dict[str, tuple[str, ...]]:
    """Where each cause can sit in a design.

    Source: the design.
    """
    job, stack = design.job, design.job.inverters
    units = tuple(unit.tag for unit in stack.units)
    root = next((one for one in design.tree.roots if not one.converters), None)
    shares = design.system.shares_bank  # packs, sun, engine and monitor are the bank's own system's
    runs = {MAIN_RUN, *(f"W-{tag}" for tag in units)}
    ways = tuple(way.tag for way in root.ways if way.tag in runs) if root is not None else ()
    parts = {way.tag: {part.kind for part in way.parts} for way in root.ways} if root is not None else {}
    fused = tuple(tag for tag in ways if "fuse" in parts[tag])
    banked = (MAIN_RUN,) if not shares else ()
    managed = job.bank.spec.managed
    monitored = banked if managed or job.wiring.board.shunt_a is not None else ()
    packs = tuple(pack.tag for pack in job.bank.packs) if job.bank.series == 1 and len(job.bank.packs) > 1 else ()
    strings = tuple(one.tag for one in design.roof.strings if one.modules)
    solar = tuple(one.tag for one in job.roof.controllers)
    engine = tuple(end.converter.tag for end in design.ends if end.by_engine and not end.starts_here)
    if shares:
        packs = strings = solar = engine = ()
    sources = tuple(one.tag for one in stack.sources)
    charging = units if stack.spec.charge_a and sources else ()
    filled = (job.wiring.board.tag,) if design.precharge is not None and design.precharge.fitted else ()
    return {
        "bad joint": ways,
        "washer": fused[:1],
        "fuse joint": fused,
        "minus lug": ways,
        "broken strands": ways,
        "switch contact": tuple(tag for tag in ways if "switch" in parts[tag] and tag == MAIN_RUN),
        "main fuse open": ways[:1],
        "main switch left": banked if ways and design.switched else (),
        **dict.fromkeys(("packs all off", "packs all opened"), banked if managed else ()),
        "run fuse open": units,
        **dict.fromkeys(("pack off", "pack opened"), packs if managed else ()),
        **dict.fromkeys(("pack fuse open", "pack lug", "unequal pack", "pack apart"), packs),
        "cold cells": banked,
        "pre-charge open": filled,
        **dict.fromkeys(("dead inverter", "charger only", "cut-out high", "fan blocked", "no sleep"), units),
        "charge set low": charging,
        "breaker off": tuple(panel.tag for panel in design.ac.panels) if units else (),
        "leaking load": tuple(one.tag for one in design.circuits if one.circuit.rcd_ma),
        **dict.fromkeys(("weak source", "reversed source", "source limit"), sources),
        **dict.fromkeys(("isolator off", "dead string", "reversed string", "shaded string", "dead section"), strings),
        **dict.fromkeys(("dirty array", "dead controller", "controller set low"), solar),
        **dict.fromkeys(("wrong profile", "equalising"), (*charging, *solar)),
        **dict.fromkeys(("supply mode", "engine wire", "slipping belt"), engine),
        **dict.fromkeys(("bypassed shunt", "swapped sense", "never full", "wrong capacity"), monitored),
        "left on": banked,
        "leg swapped": units[1:] if stack.stacking == "split_phase" else (),
        "selector": tuple(one.tag for one in job.ac.selectors),
        "lost neutral": ("MAIN",) if _lines(stack) > 1 else (),
        "two bonds": units[:1] if sources else (),
    }


def _lines(stack: Inverters) -> int:
    return 2 if stack.stacking in ("split_phase", "one_two_legs") else 1


class Finder:
    """The finder of a design: what its measurements and suspects are is worked out once."""

    def __init__(self, design: Design) -> None:
        self.design = design
        self.measures = measures(design)
        self.places = places(design)
        self._controllers = {one.tag: one.controller for one in design.roof.strings}
        self._signatures: dict[tuple[str, str], dict[str, str]] = {}

    @property
    def symptoms(self) -> tuple[str, ...]:
        """What can be wrong with this system: symptoms behind which any cause has a place."""
        behind = {symptom for key, cause in CAUSES.items() if self.places[key] for symptom in cause.behind}
        return tuple(symptom for symptom in SYMPTOMS if symptom in behind)

    def hunt(self, symptom: str, answers: tuple[Answer, ...] = (), near: str = "") -> Hunt:
        """How far it is after some answers. `near`: a tag somebody points at; empty: none.

        Source: Bayes' rule; expected information of Shannon. Raises KeyError for an answer to what there is not.
        """
        prior = self._prior(symptom, near)
        weights = dict(prior)
        for answer in answers:
            measure = self.measures[answer.measure]
            weights = {who: weight * self._likely(who, measure, answer.outcome) for who, weight in weights.items()}
        whole, first = sum(weights.values()), sum(prior.values())
        suspects = [
            Suspect(
                key=key,
                place=place,
                words=cause_of(key).words.format(p=place),
                before=prior[key, place] / first,
                probability=weight / whole,
            )
            for (key, place), weight in weights.items()
        ]
        suspects.sort(key=lambda one: (-one.probability, one.key, one.place))
        shares = {who: weight / whole for who, weight in weights.items()}
        asked = {one.measure for one in answers}
        ranked = [
            Next(measure=one, tells_bit=self._tells(shares, one))
            for key, one in self.measures.items()
            if key not in asked and self._telling(shares, key)
        ]
        ranked = [one for one in ranked if one.tells_bit > 0.005]
        ranked.sort(key=lambda one: (-one.bit_per_min, one.measure.key))
        return Hunt(symptom=symptom, near=near, answers=answers, suspects=tuple(suspects), next=tuple(ranked))

    def _prior(self, symptom: str, near: str) -> dict[tuple[str, str], float]:
        """Weights by the symptom: a cause's own, shared among its places."""
        found = {}
        for key, cause in CAUSES.items():
            weight, where = cause.behind.get(symptom, 0.0), self.places[key]
            for place in where if weight else ():
                times = NEAR_TIMES if near and near in (place, place.removeprefix("W-")) else 1.0
                found[key, place] = weight * times / len(where)
        if found:
            found["other", ""] = OTHER_SHARE * sum(found.values())
        return found

    def _shows(self, who: tuple[str, str], measure: str) -> str:
        """What a measurement shows of a suspect."""
        return self._signature(who).get(measure, GOOD)

    def _signature(self, who: tuple[str, str]) -> dict[str, str]:
        """What measurements show of a suspect, by the measurement."""
        if who not in self._signatures:
            key, place = who
            owner = self._controllers.get(place, "")
            shown = cause_of(key).shows
            packs = [pack.tag for pack in self.design.job.bank.packs]
            strings = [tag for tag, controller in self._controllers.items() if controller == place]
            self._signatures[who] = {
                name.format(p=place, c=owner, s=string, k=pack): outcome
                for name, outcome in shown.items()
                for string in (strings if "{s}" in name else ("",))
                for pack in (packs if "{k}" in name else ("",))
            }
        return self._signatures[who]

    def _likely(self, who: tuple[str, str], measure: Measure, outcome: str) -> float:
        """How likely an outcome is with a suspect."""
        shown = self._shows(who, measure.key).split("|")
        reliable = RELIABLE if measure.unit else SEEN
        if outcome in shown:
            return reliable / len(shown)
        return (1 - reliable) / max(1, len(measure.outcomes) - len(shown))

    def _telling(self, shares: Mapping[tuple[str, str], float], key: str) -> bool:
        """Whether any likely suspect shows in a measurement."""
        return any(share > 0.002 and key in self._signature(who) for who, share in shares.items())

    def _tells(self, shares: Mapping[tuple[str, str], float], measure: Measure) -> float:
        """How much a measurement tells on average [bit]: entropy before less what is left after each outcome."""
        left = 0.0
        for outcome in measure.outcomes:
            joint = [share * self._likely(who, measure, outcome.key) for who, share in shares.items()]
            chance = sum(joint)
            if chance > 0:
                left += chance * _entropy([one / chance for one in joint])
        return _entropy(list(shares.values())) - left


def _entropy(shares: list[float]) -> float:
    return -sum(one * math.log2(one) for one in shares if one > 0)
