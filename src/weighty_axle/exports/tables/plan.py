"""The work plan as a table."""

from __future__ import annotations

from weighty_axle.answers.plan.plan import Plan
from weighty_axle.answers.plan.task import PHASE_WORDS
from weighty_axle.exports.tables.cells import csv_bytes

HEADER = ("key", "task", "phase", "skill", "who", "hours", "starts", "ends", "critical", "after", "waits_for")


def plan_csv(plan: Plan) -> bytes:
    """Every task with who does it when, in the order they start."""
    rows: list[tuple[object, ...]] = [
        (
            one.task.key,
            one.task.words,
            PHASE_WORDS[one.task.phase],
            one.task.skill,
            one.who,
            one.task.hours_h.value,
            one.starts.isoformat(sep=" ", timespec="minutes"),
            one.ends.isoformat(sep=" ", timespec="minutes"),
            "yes" if one.critical else "no",
            "; ".join(one.task.after),
            one.waits_for,
            one.waits_until.isoformat() if one.waits_until is not None else "",
            one.booked_h,
            "done" if one.done else "open",
        )
        for one in plan.planned
    ]
    return csv_bytes((*HEADER, "comes_on", "booked_h", "state"), rows)
