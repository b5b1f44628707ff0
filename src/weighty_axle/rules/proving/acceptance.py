"""Rules of acceptance tests. Silent until somebody makes one."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.proving.trials import trials
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.rules.readings import left_open, of_verdict
from weighty_axle.rules.registry import Hit, rule


def _begun(design: Design) -> tuple[Check, ...]:
    """The tests of the house's system; none before the first is made."""
    return trials(design) if not design.system.key and design.whole.proving.trials else ()


@rule("proving.out-of-band", "stop", "{check}: {says}.", PRACTICE, "Find it, put it right, and make the test again.")
def out_of_band(design: Design) -> Iterator[Hit]:
    """A test whose last reading is out of what is predicted."""
    yield from of_verdict(_begun(design), "bad")


@rule("proving.asked", "check", "{check}: {says}", PRACTICE, "Look at the meter and its range, read again.")
def asked(design: Design) -> Iterator[Hit]:
    """A reading that looks like a slip of the hand."""
    yield from of_verdict(_begun(design), "asked")


@rule(
    "proving.left-open",
    "check",
    "Acceptance is said to be done, and {count} tests are open: {first}.",
    PRACTICE,
    "Make them, or hand over with what is open written down.",
)
def left_open_tests(design: Design) -> Iterator[Hit]:
    """Acceptance with tests left open: what cannot be done today stays a finding."""
    yield from left_open(design, "acceptance", _begun(design))
