"""The work plan as bars over days."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta

from weighty_axle.answers.plan.plan import Plan, Planned
from weighty_axle.exports.drawings.marks import HIGH_MM, WIDE_MM, Box, Line, Mark, Sheet, Words

_ROW, _LEFT, _TOP = 4.6, 68.0, 14.0


def gantt_sheets(plan: Plan) -> tuple[Sheet, ...]:
    """Sheets of bars in the order tasks start: black what is critical, white the rest."""
    if not plan.planned:
        return ()
    begins = min(one.starts for one in plan.planned).replace(hour=0, minute=0)
    days = max(1, (max(one.ends for one in plan.planned) - begins).days + 1)
    each = int((HIGH_MM - _TOP) // _ROW)
    return tuple(
        Sheet(
            f"Plan, {plan.starts.isoformat()} to {plan.ends.isoformat()}",
            tuple(_marks(plan.planned[first : first + each], begins, days)),
        )
        for first in range(0, len(plan.planned), each)
    )


def _marks(some: tuple[Planned, ...], begins: datetime, days: int) -> Iterator[Mark]:
    scale = (WIDE_MM - _LEFT) / days
    low = _TOP + len(some) * _ROW
    step = 1 if days <= 15 else 7 if days <= 120 else 28
    for day in range(0, days + 1, step):
        x = _LEFT + day * scale
        yield Line(x, _TOP - 4, x, low, 0.1)
        if x < WIDE_MM - 8:
            yield Words(x + 0.5, _TOP - 5, f"{begins + timedelta(days=day):%d %b}", 1.8)
    for row, one in enumerate(some):
        y = _TOP + row * _ROW
        words = one.task.words if len(one.task.words) < 52 else f"{one.task.words[:50]}…"
        yield Words(0, y + 2.8, f"{one.who}  {words}", 1.7)
        for starts, ends in one.stretches:
            left = (starts - begins).total_seconds() / 86400 * scale
            wide = max(0.8, (ends - starts).total_seconds() / 86400 * scale)
            yield Box(_LEFT + left, y + 0.8, wide, _ROW - 1.8, "black" if one.critical else "white")
        if one.done:
            yield Words(_LEFT + left + wide + 1, y + 2.8, "done", 1.7)
