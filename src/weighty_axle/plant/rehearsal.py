"""Rehearsal: the vehicle's switches turned in any order, scored against the card, with the reason for every point lost;
lessons from easy to hard, faults hidden in some, found with a meter between any two points.
"""

from __future__ import annotations

import random
from typing import NamedTuple

from weighty_axle.answers.first_power.cards import cards
from weighty_axle.design.table import Design
from weighty_axle.plant.controls import Control, controls
from weighty_axle.plant.faults import KINDS, Fault, faults_of
from weighty_axle.plant.plant import Event, Plant

HARM_POINTS, ORDER_POINTS, MISSING_POINTS, GUESS_POINTS = 15, 5, 3, 10
"""Points lost for what is broken or could have hurt, a step before its time, one left out, a wrong guess."""


class Lesson(NamedTuple):
    """A lesson: its title, what is to be done, the card it is held against (its key; empty: none), the sun, the load,
    whether the plant is running at first, the kinds of fault one of which is hidden, and the bank's charge.
    """

    key: str
    title: str
    task: str
    card: str
    sun_w_per_m2: float = 0.0
    heater_w: float = 0.0
    running: bool = False
    hidden: tuple[str, ...] = ()
    soc: float = 0.6


STORED_SHARES = (0.4, 0.6)
"""A lithium bank is stored between these shares of its charge. Source: common practice, no source."""

HOT, DARK, TIRED = ("bad joint", "washer"), ("dead string", "shaded string"), ("pack off", "unequal pack")
"""Faults that are hidden in lessons."""

LESSONS = (
    Lesson("start", "Starting up at night", "Bring everything to life by the card.", "start"),
    Lesson("sun start", "Starting up in the sun", "The same with light on the roof.", "start", 800.0),
    Lesson("stop", "Shutting down", "Make it dead for work on the boards.", "stop", 800.0, 1500.0, True),
    Lesson(
        "storage",
        "Putting to sleep",
        "Use the bank down to about half, then make it dead.",
        "stop",
        0.0,
        8000.0,
        True,
        soc=STORED_SHARES[1] + 0.02,
    ),
    Lesson("shore", "To another place", "Change the place it is plugged into.", "", 0.0, 2000.0, True),
    Lesson("joint", "A joint that runs hot", "Find it: measure with a load on.", "", 0.0, 4000.0, True, HOT),
    Lesson("sun", "Too little sun", "Find the string that gives nothing, or little.", "", 800.0, 0.0, True, DARK),
    Lesson("packs", "One pack does too little", "Find the pack.", "", 0.0, 6000.0, True, TIRED),
)
"""Lessons from easy to hard."""


class Lost(NamedTuple):
    """Points that were lost, and why."""

    points: int
    why: str


class Rehearsal:
    """One go at a lesson. The same seed hides the same fault."""

    def __init__(self, design: Design, lesson: Lesson, seed: int = 0) -> None:
        self.design, self.lesson = design, lesson
        possible = [one for one in faults_of(design) if one.kind in lesson.hidden]
        self.hidden: Fault | None = random.Random(seed).choice(possible) if possible else None
        self.plant = Plant(design, (self.hidden,) if self.hidden is not None else (), lesson.soc)
        self.turned: list[tuple[str, str]] = []
        self.guesses: list[Fault] = []
        self.finished = False
        if lesson.running:
            self._start()
        self.plant.sun_w_per_m2, self.plant.heater_w = lesson.sun_w_per_m2, lesson.heater_w
        self.plant.run(1.0)
        self.plant.events.clear()
        # What is so already need not be done.
        wanted = wanted_order(design, lesson.card)
        self.order = tuple((key, position) for key, position in wanted if self.plant.at[key] != position)

    def _start(self) -> None:
        for key, position in wanted_order(self.design, "start"):
            if key == "main":
                self.plant.cap_v = self.plant.packs.behind(self.plant.packs.strings)[0]
            if key != "pre-charge":
                self.plant.turn(key, position)
        sources = self.plant.controls.get("plug")
        if self.lesson.key == "shore" and sources is not None:
            self.plant.turn("plug", sources.positions[1])

    def turn(self, key: str, position: str) -> tuple[Event, ...]:
        """Turn a switch and let a moment pass; what happened at once."""
        self.turned.append((key, position))
        first = len(self.plant.events)
        self.plant.turn(key, position)
        self.plant.run(0.2)
        return tuple(self.plant.events[first:])

    def guess(self, fault: Fault) -> bool:
        """Say which fault it is; whether that is so."""
        self.guesses.append(fault)
        return fault == self.hidden

    @property
    def lost(self) -> tuple[Lost, ...]:
        """Every point lost so far, with its reason; what was left out counts once the lesson is finished."""
        found = [
            Lost(HARM_POINTS, f"{one.tag}: {one.what}; because {one.cause}") for one in self.plant.events if one.harm
        ]
        found += [Lost(ORDER_POINTS, why) for why in out_of_order(self.order, self.turned)]
        found += [
            Lost(MISSING_POINTS, f"{key} was not turned {position}")
            for key, position in self.order
            if self.finished and (key, position) not in self.turned
        ]
        if self.finished and self.lesson.card == "stop" and self.plant.flow.bar_v > 1:
            live = f"the bars still stand at {self.plant.flow.bar_v:.0f} V: hands would go in there now"
            found.append(Lost(HARM_POINTS, live))
        soc = self.plant.packs.soc
        if self.finished and self.lesson.key == "storage" and not STORED_SHARES[0] <= soc <= STORED_SHARES[1]:
            found.append(Lost(HARM_POINTS, f"stored at {100 * soc:.0f} %: full it ages fast, empty it dies"))
        if self.hidden is not None:
            wrong = [one for one in self.guesses if one != self.hidden]
            found += [Lost(GUESS_POINTS, f"{KINDS[one.kind].words} at {one.place}: it is not") for one in wrong]
            if self.finished and self.hidden not in self.guesses:
                found.append(
                    Lost(GUESS_POINTS, f"{KINDS[self.hidden.kind].words} at {self.hidden.place} was not found")
                )
        return tuple(found)

    @property
    def points(self) -> int:
        """What is left of a hundred."""
        return max(0, 100 - sum(one.points for one in self.lost))


def wanted_order(design: Design, card_key: str) -> tuple[tuple[str, str], ...]:
    """The card of the house as switches with their positions.

    Source: the card.
    """
    card = next((one for one in cards(design) if one.key == card_key), None)
    if card is None:
        return ()
    known = {one.key: one for one in controls(design)}
    board = design.job.wiring.board.tag
    up = card_key == "start"
    found: list[tuple[str, str]] = []
    for step in card.steps:
        if step.tag == board:
            key = "pre-charge" if "pre-charge" in step.do else "main"
            found += [(key, "on" if up else "off")] if key in known else []
        elif step.tag in known:
            found.append((step.tag, _position(known[step.tag], up)))
        elif not step.tag and not up:
            found += [(key, known[key].positions[0]) for key in ("plug", "engine") if key in known]
    return tuple(dict.fromkeys(found))


def _position(control: Control, up: bool) -> str:
    return control.up if up else control.positions[0]


def out_of_order(order: tuple[tuple[str, str], ...], turned: list[tuple[str, str]]) -> tuple[str, ...]:
    """Steps that were made while one the card has before them was not; switches of one kind may go in any order.

    Source: the card.
    """
    kinds = {step: _kind(step[0]) for step in order}
    place = {step: at for at, step in enumerate(order)}
    first = {kind: min(place[step] for step in order if kinds[step] == kind) for kind in kinds.values()}
    done: set[tuple[str, str]] = set()
    found = []
    for step in turned:
        if step in place and step not in done:
            before = [one for one in order if first[kinds[one]] < first[kinds[step]] and one not in done]
            if before:
                found.append(f"{step[0]} {step[1]} came before {before[0][0]} {before[0][1]}")
        done.add(step)
    return tuple(found)


def _kind(key: str) -> str:
    """Switches of one kind: the letters of their tag."""
    return key.rstrip("0123456789")


# ---- the meter ------------------------------------------------------------------------------------------------


def points_of(plant: Plant) -> dict[str, float]:
    """Where the tips of a voltmeter can be put, with the voltage there against the bank's minus [V]."""
    flow, design = plant.flow, plant.design
    live = plant.live()
    bank_v = flow.bank_v or (plant.packs.behind(live)[0] if live else 0.0)
    found = {"bank −": 0.0, "bank +": bank_v, "bars +": flow.bar_v or plant.cap_v}
    for tag, way in flow.ways.items():
        if tag.startswith("W-") and tag != "W-MAIN":
            found[f"{tag.removeprefix('W-')} +"] = way.end_v
    for one in design.roof.strings:
        if one.modules:
            lit = plant.sun_w_per_m2 > 50 and tag_gives(plant, one.tag)
            found[f"{one.tag} open"] = one.cold_voc_v.value * 0.85 if lit else 0.0
    return found


def tag_gives(plant: Plant, string: str) -> bool:
    """Whether a string has a voltage at its isolator."""
    return string not in plant.off_places


def clamps_of(plant: Plant) -> dict[str, float]:
    """Where a clamp can be put, with the current there [A]."""
    found = {tag: way.amps for tag, way in plant.flow.ways.items() if tag.startswith("W-")}
    found |= {"–".join(one.tags): one.amps for one in plant.packs.strings}
    return found
