"""Prints of their own, written by the background: survey sheet, cards, the owner's page."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

from msgspec import Struct

from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import today
from weighty_axle.desk.work.session import Shown
from weighty_axle.units import System

Progress = Callable[[float, str], None]


class Refused(Struct, frozen=True):
    """Work that was not done, and the sentence of why."""

    sentence: str


def write_survey_file(
    shown: Shown, path: Path, blank: bool, on: date, units: System, progress: Callable[[float, str], None]
) -> Path:
    """Write a survey sheet."""
    from weighty_axle.exports.pages.survey_sheet import write_survey_sheet

    progress(0.2, tr("Pages"))
    return write_survey_sheet(shown.house, path, blank=blank, today=on, system=units)


def write_inlet_card_file(
    shown: Shown, path: Path, on: date, units: System, progress: Callable[[float, str], None]
) -> Path:
    """Write the card for the inlet door."""
    from weighty_axle.exports.pages.cards import write_inlet_card

    progress(0.2, tr("Pages"))
    return write_inlet_card(shown.house, path, today=on, system=units)


def write_selector_card_file(
    shown: Shown, path: Path, on: date, progress: Callable[[float, str], None]
) -> Path | Refused:
    """Write a card for every selector, or why there is none."""
    from weighty_axle.exports.pages.cards import NoSelectorError, write_selector_cards

    progress(0.2, tr("Pages"))
    try:
        return write_selector_cards(shown.house, path, today=on)
    except NoSelectorError as error:
        return Refused(str(error))


def write_switch_cards(shown: Shown, path: Path, units: System, progress: Progress) -> Path:
    """Write the cards for starting up, shutting down, storage and emergency."""
    from weighty_axle.exports.pages.first_power import write_cards

    progress(0.2, tr("Pages"))
    return write_cards(shown.house, path, today=today(), system=units)


def write_lesson_page(shown: Shown, path: Path, units: System, progress: Progress) -> Path:
    """Write the owner's page."""
    from weighty_axle.exports.pages.lesson import write_lesson

    progress(0.2, tr("Pages"))
    return write_lesson(shown.house, path, today=today(), system=units)
