"""Rules of acceptance tests. Silent until somebody makes one."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.proving.trials import trials
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule


def _begun(design: Design) -> bool:
    return not design.system.key and bool(design.whole.proving.trials)


@rule("proving.out-of-band", "stop", "{test}: {says}.", PRACTICE, "Find it, put it right, and make the test again.")
def out_of_band(design: Design) -> Iterator[Hit]:
    """A test whose last reading is out of what is predicted."""
    if _begun(design):
        for one in trials(design):
            if one.verdict == "bad":
                yield hit(*one.tags, test=one.words.partition(":")[0], says=one.says)


@rule("proving.asked", "check", "{test}: {says}", PRACTICE, "Look at the meter and its range, read again.")
def asked(design: Design) -> Iterator[Hit]:
    """A reading that looks like a slip of the hand."""
    if _begun(design):
        for one in trials(design):
            if one.verdict == "asked":
                yield hit(*one.tags, test=one.words.partition(":")[0], says=one.says)


@rule(
    "proving.left-open",
    "check",
    "Acceptance is said to be done, and {count} tests are open: {first}.",
    PRACTICE,
    "Make them, or hand over with what is open written down.",
)
def left_open(design: Design) -> Iterator[Hit]:
    """Acceptance with tests left open: what cannot be done today stays a finding."""
    done = any(one.task == "acceptance" and one.done_on for one in design.whole.build.said)
    if _begun(design) and done:
        open_ = [one for one in trials(design) if one.verdict == "open"]
        if open_:
            first = "; ".join(one.words.partition(":")[0] for one in open_[:3]) + (" …" if len(open_) > 3 else "")
            yield hit(*open_[0].tags, count=str(len(open_)), first=first)
