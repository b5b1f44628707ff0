"""Cards that hang where they are needed: at the inlet door, what to set for every place to plug in; at a selector, its
contacts and the order of change.
"""

from __future__ import annotations

import math
from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.design.inverters.selectors import accepted_at, change_order
from weighty_axle.design.inverters.sources import unit_limits
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import Pages, write_pdf
from weighty_axle.job.edits.inverters import STACKING_WORDS
from weighty_axle.job.models.inverters import Selector
from weighty_axle.units import System, show


class NoSelectorError(RuntimeError):
    """A selector's card of a job that has none; the message is a sentence."""


BEFORE_PLUGGING_IN = (
    "Look at plug, lead and inlet: no burnt pins, no cracks. Unroll the lead whole.",
    "Test the socket: voltage, polarity, earth, residual-current device.",
    "Set the limit below for this place before plugging in, and check it again after.",
    "Never plug a generator and shore in at once; never feed the vehicle from an inverter's socket.",
    "A lost neutral can put twice the voltage on a socket: lamps far too bright or dim, unplug at once.",
)


def write_inlet_card(design: Design, path: Path, *, today: date, system: System) -> Path:
    """Write the card for the inlet door and return its path. Raises OSError."""

    def story(width: float) -> list[Any]:
        pages = Pages(width)
        return [
            pages.text("Before plugging in", pages.head),
            *(pages.text(f"{n}. {line}") for n, line in enumerate(BEFORE_PLUGGING_IN, 1)),
            *sources_part(pages, design, system),
            *(
                part
                for other in design.others
                if other.sources
                for part in (_whose(pages, other), *sources_part(pages, other, system))
            ),
        ]

    write_pdf(
        path, f"{design.job.name}: inlet card", f"{design.job.name} · {today.isoformat()}", design.job.practice, story
    )
    return path


def _whose(pages: Pages, other: Design) -> Any:
    """Title over what belongs to another system of the job."""
    return pages.text(f"System {other.system.key}: {other.system.name}", pages.head)


def sources_part(pages: Pages, design: Design, system: System) -> list[Any]:
    """Table of sources: the limit to set, what it gives, what does not run, how long the bank helps."""
    names = {load.tag: load.name for load in design.job.loads}
    rows = [
        [
            "Where",
            "Limit of the line",
            "Set in each unit",
            "Gives",
            "Bank adds at the peak",
            "Left to charge",
            "Does not run there",
        ]
    ]
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        lasts = (
            ""
            if not row.bank_adds_w.value
            else " for ever"
            if math.isinf(row.bank_lasts_h.value)
            else f" for {show(row.bank_lasts_h.value, 'h', system)}"
        )
        limit = min(source.limit_a, row.recommended_limit_a.value)
        dark = ", ".join(names[tag] for tag in row.dead) or "–"
        rows.append(
            [
                source.name,
                show(limit, "A", system) if row.accepted else "not taken as set",
                unit_limits(row, limit, system) if row.accepted else "–",
                show(row.continuous_w.value, "W", system),
                show(row.bank_adds_w.value, "W", system) + lasts,
                show(row.charge_left_a.value, "A", system),
                dark,
            ]
        )
    table = pages.table(rows, (0.2, 0.1, 0.19, 0.1, 0.16, 0.1, 0.15))
    note = (
        "Units on one line of a source take the sum of what each is set to: set in each unit what stands under it. The "
        "limit is the smaller of what is set in the job and what socket, adapter, inlet and generator stand for hours."
    )
    return [pages.text("Places to plug in", pages.head), table, pages.text(note, pages.small)]


def write_selector_cards(design: Design, path: Path, *, today: date) -> Path:
    """Write a card for every selector and return the path. Raises OSError; NoSelectorError when the job has none."""
    having = [one for one in (design, *design.others) if one.job.ac.selectors]
    if not having:
        raise NoSelectorError("This job has no selector, so there is no card for one.")

    def story(width: float) -> list[Any]:
        pages = Pages(width)
        flow: list[Any] = []
        for one in having:
            flow += [] if one is design else [_whose(pages, one)]
            for selector in one.job.ac.selectors:
                flow += selector_part(pages, one, selector)
        return flow

    write_pdf(
        path,
        f"{design.job.name}: selector card",
        f"{design.job.name} · {today.isoformat()}",
        design.job.practice,
        story,
    )
    return path


def selector_part(pages: Pages, design: Design, selector: Selector) -> list[Any]:
    """Contact chart of a selector and, for every position, the safe order of change."""
    contacts = list(dict.fromkeys(contact for position in selector.positions for contact in position.contacts))
    rows = [["Contact", *(position.name for position in selector.positions)]]
    rows += [
        [
            f"{one.start} – {one.end}",
            *("closed" if one in position.contacts else "·" for position in selector.positions),
        ]
        for one in contacts
    ]
    taken = {
        position.name: accepted_at(design.states, selector, position.name, design.job.inverters.sources)
        for position in selector.positions
    }
    rows.append(["Accepts", *(", ".join(taken[position.name]) or "nothing" for position in selector.positions)])
    rows.append(
        [
            "Inverters set",
            *(STACKING_WORDS[position.stacking] if position.stacking else "any" for position in selector.positions),
        ]
    )
    count = len(selector.positions)
    flow = [pages.text(selector.name, pages.head), pages.table(rows, (0.28, *([0.72 / count] * count)))]
    for position in selector.positions:
        if position.contacts:
            flow.append(pages.text(f"To {position.name}", pages.head))
            flow += [
                pages.text(f"{number}. {step}")
                for number, step in enumerate(change_order(selector, position.name, design.job.inverters), 1)
            ]
    return flow
