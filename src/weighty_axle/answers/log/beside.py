"""A recording beside the model: everything it tells, and what its columns cannot."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from msgspec import Struct

from weighty_axle.answers.log.drifts import Drift, Trace, day_of
from weighty_axle.answers.log.recording import Recording
from weighty_axle.answers.log.rows import Rows
from weighty_axle.answers.log.traces_ac import LoadRow, efficiency
from weighty_axle.answers.log.traces_dc import charge, drops, idle, shares
from weighty_axle.answers.log.traces_sun import HourRow, by_hour, sun
from weighty_axle.design.table import Design
from weighty_axle.job.models.log import ColumnMap

Progress = Callable[[float, str], None]


class Beside(Struct, frozen=True, kw_only=True):
    """A recording beside the model: first and last day, rows read, seconds between them, what was put right, traces,
    sun by hour, efficiency by load, and what these columns cannot tell.
    """

    first: date
    last: date
    rows: int
    step_s: float
    told: tuple[str, ...]
    traces: tuple[Trace, ...]
    hours: tuple[HourRow, ...]
    loads: tuple[LoadRow, ...]
    unknown: tuple[str, ...]

    @property
    def drifts(self) -> tuple[tuple[Trace, Drift], ...]:
        """Every drift with what drifts, in the order they came."""
        return tuple(sorted(((t, d) for t in self.traces for d in t.drifts), key=lambda pair: pair[1].on))


def beside_model(
    design: Design, recording: Recording, columns: ColumnMap, progress: Progress = lambda _share, _words: None
) -> Beside:
    """A recording beside the model of a design.

    Source: least squares by day; physics.series.change_points; physics.solar.sun.
    """
    rows = Rows(design, recording, columns)
    traces: list[Trace] = []
    parts = {"Drops": drops, "Sharing": shares, "Sun": sun, "Nights": idle, "Charge": charge}
    for at, (words, part) in enumerate(parts.items()):
        progress(0.1 + 0.8 * at / len(parts), words)
        traces += part(rows)
    progress(0.9, "Efficiency")
    by_day, by_load = efficiency(rows)
    return Beside(
        first=day_of(int(rows.days[0])),
        last=day_of(int(rows.days[-1])),
        rows=recording.rows_read,
        step_s=recording.step_s,
        told=(*recording.told, *rows.told),
        traces=(*traces, *by_day),
        hours=tuple(by_hour(rows)),
        loads=by_load,
        unknown=tuple(rows.unknown),
    )
