"""Rules of the checks before power. Silent until somebody begins them."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.rules.readings import left_open, of_verdict
from weighty_axle.rules.registry import Hit, rule


def _begun(design: Design) -> tuple[Check, ...]:
    """The checks of the whole job; none before the first is made."""
    return checks(design) if not design.system.key and design.whole.proving.readings else ()


@rule(
    "first_power.reading-bad",
    "stop",
    "{check}: {says}.",
    "IEC 60364-6 table 6A (recalled) for isolation; voltages from the design",
    "Nothing is energised before this is found.",
)
def reading_bad(design: Design) -> Iterator[Hit]:
    """A reading before power that cannot be right."""
    yield from of_verdict(_begun(design), "bad")


@rule("first_power.reading-asked", "check", "{check}: {says}", PRACTICE, "Look at the meter and its range, read again.")
def reading_asked(design: Design) -> Iterator[Hit]:
    """A reading that looks like a slip of the hand."""
    yield from of_verdict(_begun(design), "asked")


@rule(
    "first_power.open",
    "stop",
    "First power is said to be done, and {count} checks before it are open: {first}.",
    PRACTICE,
    "Switch off and make them, or say that it is not done.",
)
def open_before(design: Design) -> Iterator[Hit]:
    """Power before the checks are done, once anybody has begun them."""
    yield from left_open(design, "first power", _begun(design))
