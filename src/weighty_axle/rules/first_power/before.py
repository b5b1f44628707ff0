"""Rules of the checks before power. Silent until somebody begins them."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.first_power.checks import checks
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule


def _begun(design: Design) -> bool:
    return not design.system.key and bool(design.whole.proving.readings)


@rule(
    "first_power.reading-bad",
    "stop",
    "{check}: {says}.",
    "IEC 60364-6 table 6A (recalled) for isolation; voltages from the design",
    "Nothing is energised before this is found.",
)
def reading_bad(design: Design) -> Iterator[Hit]:
    """A reading before power that cannot be right."""
    if _begun(design):
        for one in checks(design):
            if one.verdict == "bad" and one.reading is not None:
                yield hit(*one.tags, check=one.words.partition(":")[0], says=one.says)


@rule("first_power.reading-asked", "check", "{check}: {says}", PRACTICE, "Look at the meter and its range, read again.")
def reading_asked(design: Design) -> Iterator[Hit]:
    """A reading that looks like a slip of the hand."""
    if _begun(design):
        for one in checks(design):
            if one.verdict == "asked":
                yield hit(*one.tags, check=one.words.partition(":")[0], says=one.says)


@rule(
    "first_power.open",
    "stop",
    "First power is said to be done, and {count} checks before it are open: {first}.",
    PRACTICE,
    "Switch off and make them, or say that it is not done.",
)
def left_open(design: Design) -> Iterator[Hit]:
    """Power before the checks are done, once anybody has begun them."""
    done = any(one.task == "first power" and one.done_on for one in design.whole.build.said)
    if _begun(design) and done:
        open_ = [one for one in checks(design) if one.verdict == "open"]
        if open_:
            first = "; ".join(one.words.partition(":")[0] for one in open_[:3]) + (" …" if len(open_) > 3 else "")
            yield hit(*open_[0].tags, count=str(len(open_)), first=first)
