"""What charges: every state of the sources with its time to full, what each unit is told, alternators, engine
detection, generators.
"""

from __future__ import annotations

import math
from typing import Any

from weighty_axle.answers.charging.filling import filling
from weighty_axle.design.charging.budget import SPEED_WORDS, SPEEDS
from weighty_axle.design.charging.states import KIND_WORDS
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import show

FROM = 0.2
MOST_STATES = 24
SENSED = {"wire": "an ignition wire", "voltage": "the voltage it sees", "unsaid": "nobody has said"}


def pages(on: PackPages) -> list[Any]:
    """States of the sources, told currents, and what follows for alternator and generator; nothing for a bank that
    nothing charges.
    """
    design = on.design
    if not any(state.parts for state in design.source_states.states):
        return []
    return [on.text("Charging", on.head), *_states(on), *_told(on), *_budgets(on), *_detections(on), *_generators(on)]


def _states(on: PackPages) -> list[Any]:
    found = on.design.source_states
    states = [state for state in found.states if state.parts]
    rows = [["State of the sources", "Gives", "At its most", f"{FROM:.0%} to full", "Of it"]]
    for state in states[:MOST_STATES]:
        hours = filling(on.design, state, FROM).hours_h.value
        parts = ", ".join(f"{KIND_WORDS[part.kind].lower()} {show(part.amps, 'A')}" for part in state.parts)
        rows.append(
            [
                state.name,
                show(state.total_a, "A"),
                show(state.most_a, "A"),
                "never" if math.isinf(hours) else show(hours, "h"),
                parts,
            ]
        )
    limit = show(on.design.bank.charge_limit_a.value, "A")
    held = show(found.held_to_a.value, "A")
    said = f"The bank takes {limit}; all charging together is held to {held}. Loads off; sun at its best throughout."
    more = len(states) - MOST_STATES
    return [
        on.text(said),
        on.table(rows, (0.3, 0.11, 0.13, 0.13, 0.33)),
        *([on.text(f"And {more} more states.")] if more > 0 else []),
    ]


def _told(on: PackPages) -> list[Any]:
    rows = [["Unit", "Kind", "Its most", "Told"]]
    rows += [
        [one.tag, KIND_WORDS[one.kind], show(one.most_a, "A"), show(one.told_a.value, "A")]
        for one in on.design.source_states.told
    ]
    order = ", ".join(KIND_WORDS[kind].lower() for kind in on.design.job.charging.gives_way)
    return [
        on.text(f"Told to each unit, so that no state passes the limit; first to give way: {order}."),
        on.table(rows, (0.25, 0.25, 0.25, 0.25)),
    ]


def _budgets(on: PackPages) -> list[Any]:
    flow: list[Any] = []
    for budget in on.design.budgets:
        rows = [["Engine", "Gives hot", "Vehicle takes", "To spare", "Chargers ask", "Wait"]]
        rows += [
            [
                SPEED_WORDS[speed],
                show(budget.spare.gives_a[speed].value, "A"),
                show(budget.spare.vehicle_a.value, "A"),
                show(budget.spare.spare_a[speed].value, "A"),
                show(budget.asked_a.value, "A"),
                " ".join(budget.waits[speed]) or "none",
            ]
            for speed in SPEEDS
        ]
        flow += [
            on.text(f"Alternators {' '.join(budget.spare.tags)} on {budget.spare.name}"),
            on.table(rows, (0.2, 0.15, 0.16, 0.15, 0.16, 0.18)),
        ]
    return flow


def _detections(on: PackPages) -> list[Any]:
    if not on.design.detections:
        return []
    rows = [["Charger", "Sees the engine by", "On above", "Off below", "Off after", "What works"]]
    for one in on.design.detections:
        good = one.settings
        after = next(each.delay_s for each in on.design.whole.converters if each.tag == one.tag)
        volts = [
            show(value, "V") if value is not None and one.senses != "wire" else "–" for value in (one.on_v, one.off_v)
        ]
        works = f"{good[0]:.1f} V, {good[1]:.1f} V" if good is not None else "only an ignition wire"
        rows.append([one.tag, SENSED[one.senses], *volts, show(after, "s"), works])
    return [on.text("How chargers see the engine"), on.table(rows, (0.12, 0.24, 0.14, 0.14, 0.12, 0.24))]


def _generators(on: PackPages) -> list[Any]:
    if not on.design.generators:
        return []
    rows = [["Generator", "Gives", "Into the bank", "Loaded to", "Start to stop", "A design day", "Burns a day"]]
    rows += [
        [
            f"{one.tag} {one.name}",
            show(one.gives_w.value, "W"),
            show(one.charge_w.value, "W"),
            show(one.load_share.value, "1"),
            *("for ever" if math.isinf(each.value) else show(each.value, "h") for each in (one.run_h, one.day_h)),
            "–" if math.isinf(one.day_l.value) else show(one.day_l.value, "l"),
        ]
        for one in on.design.generators
    ]
    return [on.text("Generators"), on.table(rows, (0.25, 0.11, 0.14, 0.12, 0.13, 0.13, 0.12))]
