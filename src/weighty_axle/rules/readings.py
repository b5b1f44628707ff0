"""What checks and tests have in common as findings: readings that are wrong, likely slips, and what was left open."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from weighty_axle.answers.first_power.check import Check, Verdict
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit


def of_verdict(found: Sequence[Check], verdict: Verdict) -> Iterator[Hit]:
    """A hit for each check of a verdict that was read."""
    for one in found:
        if one.verdict == verdict and one.reading is not None:
            yield hit(*one.tags, check=one.thing, says=one.says)


def left_open(design: Design, task: str, found: Sequence[Check]) -> Iterator[Hit]:
    """One hit for all that is open, once a task of the plan is said to be done."""
    done = any(one.task == task and one.done_on for one in design.whole.build.said)
    open_ = [one for one in found if one.verdict == "open"]
    if done and open_:
        first = "; ".join(one.thing for one in open_[:3]) + (" …" if len(open_) > 3 else "")
        yield hit(*open_[0].tags, count=str(len(open_)), first=first)
