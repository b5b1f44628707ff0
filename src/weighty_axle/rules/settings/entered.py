"""Rules of what stands in the units. Silent until the first setting is entered."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.settings.setting import Setting
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.rules.readings import left_open, of_verdict
from weighty_axle.rules.registry import Hit, rule


def _begun(design: Design) -> tuple[Setting, ...]:
    """Settings of all units, told with the house; none before the first is entered."""
    return all_settings(design) if not design.system.key and design.whole.proving.entries else ()


@rule(
    "settings.entered-dangerous", "stop", "{check}: {says}.", PRACTICE, "Enter it, read it back, write it down again."
)
def dangerous(design: Design) -> Iterator[Hit]:
    """A unit set otherwise than its sheet, the way that hurts."""
    yield from of_verdict([one for one in _begun(design) if one.dangerous], "bad")


@rule(
    "settings.entered-otherwise",
    "check",
    "{check}: {says}.",
    PRACTICE,
    "Enter it, or make it an own value of the design with its reason.",
)
def otherwise(design: Design) -> Iterator[Hit]:
    """A unit set otherwise than its sheet."""
    yield from of_verdict([one for one in _begun(design) if not one.dangerous], "bad")


@rule("settings.entered-asked", "check", "{check}: {says}", PRACTICE, "Look at the unit again.")
def asked(design: Design) -> Iterator[Hit]:
    """A value that looks like a slip of the hand."""
    yield from of_verdict(_begun(design), "asked")


@rule(
    "settings.left-open",
    "check",
    "Settings are said to be entered, and {count} are open: {first}.",
    PRACTICE,
    "Enter them, or read them back.",
)
def open_settings(design: Design) -> Iterator[Hit]:
    """Settings left open once the task is said to be done."""
    yield from left_open(design, "settings", _begun(design))
