"""First power: the checks before it with lines to fill in, and the cards, each on a side of its own in large type."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.answers.first_power.cards import Card, cards
from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import GROUPS, checks
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import PackPages, Pages, write_pdf
from weighty_axle.units import System, show


def pages(on: PackPages) -> list[Any]:
    """Checks group by group, then the cards."""
    from reportlab.platypus import PageBreak

    flow = [
        on.text("Before power", on.head),
        on.text("Each group is done before the next is taken up. Nothing is energised while anything here is open."),
    ]
    flow += check_tables(on, GROUPS, checks(on.design), on.system)
    for card in cards(on.design, on.system):
        flow += [PageBreak(), *card_flow(on, card)]
    return flow


def check_tables(on: Pages, groups: tuple[str, ...], found: tuple[Check, ...], system: System) -> list[Any]:
    """A table for each group, with room to write in."""
    flow = []
    for group in groups:
        some = [one for one in found if one.group == group]
        if some:
            rows = [["☐", group, "Should be", "Read", "Date, initials"], *(_row(one, system) for one in some)]
            flow.append(on.table(rows, (0.04, 0.5, 0.18, 0.14, 0.14), write_pt=24))
    return flow


def _row(one: Check, system: System) -> list[str]:
    band = ""
    if one.low is not None and one.high is not None:
        low, high = (show(value, one.unit, system) for value in (one.low, one.high))
        band = f"{low} or more" if one.high == float("inf") else f"{low} to {high}"
    read = ""
    if one.reading is not None:
        read = f"{one.reading.value:g}" if one.reading.value is not None else "done"
    signed = f"{one.reading.on} {one.reading.by}" if one.reading is not None else ""
    words = f"{one.words}. {one.says}" if one.says else one.words
    return ["☒" if one.done else "☐", words, band, read, signed]


def card_flow(on: Pages, card: Card) -> list[Any]:
    """A card with its steps."""
    rows = [["", "Switch", "Do", "You should see", "If you do not"]]
    rows += [[str(n), step.tag, step.do, step.see, step.if_not] for n, step in enumerate(card.steps, 1)]
    return [on.text(card.title, on.title), on.text(f"Use: {card.when}."), on.table(rows, (0.05, 0.13, 0.3, 0.25, 0.27))]


def write_cards(design: Design, path: Path, *, today: date, system: System) -> Path:
    """Write the cards for the vehicle, each on a side of its own. Raises OSError."""

    def story(width: float) -> list[Any]:
        from reportlab.platypus import PageBreak

        on = Pages(width)
        on.small.fontSize, on.small.leading = 11, 14.5  # read at arm's length, in a bay
        flow: list[Any] = []
        for card in cards(design, system):
            flow += [*([PageBreak()] if flow else []), *card_flow(on, card)]
        return flow

    foot = f"{design.whole.name} · {today.isoformat()}"
    write_pdf(path, f"{design.whole.name}: cards", foot, design.whole.practice, story)
    return path
