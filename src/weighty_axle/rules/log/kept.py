"""Rules of the log: faults that are open, a handover whose state is not kept, entries about things that are gone."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.log.timeline import entry_words
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.job.tags import used_tags
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "log.fault-open",
    "check",
    "A fault is open{since}: {words}.",
    PRACTICE,
    "Find its cause (Log, Find), mend it, prove it under load, and say when.",
)
def fault_open(design: Design) -> Iterator[Hit]:
    """A fault that nobody has mended yet."""
    if design.system.key:
        return
    known: set[str] = set()
    for one in design.whole.log.entries:
        if one.kind != "fault" or one.mended_on:
            continue
        known = known or used_tags(design.whole)
        words = entry_words(one).removesuffix(" (open)") or "nothing more is said"
        yield hit(
            *(tag for tag in one.about if tag in known), words=words[:120], since=f" since {one.on}" if one.on else ""
        )


@rule(
    "log.handover-unrecorded",
    "note",
    "It was handed over on {on}, and no state of that day is kept: later nobody can tell what has changed since.",
    PRACTICE,
    "Record the handover's state (Log, States).",
)
def handover_unrecorded(design: Design) -> Iterator[Hit]:
    """A handover without its state."""
    on, log = design.whole.proving.handover.on, design.whole.log
    if on and not design.system.key and not any(one.handover for one in log.states):
        yield hit(on=on)


@rule(
    "log.about-gone",
    "note",
    "{count} entries of the log are about things this job has no more: {first}.",
    PRACTICE,
    "Nothing is lost; a recorded state may still have them.",
)
def about_gone(design: Design) -> Iterator[Hit]:
    """Entries about things that are gone."""
    if design.system.key or not design.whole.log.entries:
        return
    known = used_tags(design.whole)
    gone = [tag for one in design.whole.log.entries for tag in one.about if tag not in known]
    if gone:
        yield hit(count=str(len(gone)), first=", ".join(list(dict.fromkeys(gone))[:4]))
