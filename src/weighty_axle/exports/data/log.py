"""A recording beside the model as open data and as lines."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from weighty_axle.answers.log.beside import Beside
from weighty_axle.answers.log.drifts import Drift, Trace


def beside_data(found: Beside) -> dict[str, Any]:
    """Everything a recording tells, as open data; days without a value are left out."""
    return {
        "first": found.first.isoformat(),
        "last": found.last.isoformat(),
        "rows": found.rows,
        "step_s": found.step_s,
        "told": list(found.told),
        "cannot_tell": list(found.unknown),
        "drifts": [_drift(trace, drift) for trace, drift in found.drifts],
        "traces": [
            {
                "key": one.key,
                "title": one.title,
                "unit": one.unit,
                "model": one.model.value * one.times if one.model is not None else None,
                "days": {
                    str(day): round(float(value), 6)
                    for day, value in zip(one.days.astype("datetime64[D]"), one.values, strict=True)
                    if math.isfinite(value)
                },
            }
            for one in found.traces
        ],
        "sun_by_hour": [
            {"hour": one.hour, "recorded_w": one.recorded_w, "clear_w": one.clear_w, "ratio": _finite(one.ratio)}
            for one in found.hours
        ],
        "efficiency_by_load": [one._asdict() for one in found.loads],
    }


def _drift(trace: Trace, drift: Drift) -> dict[str, Any]:
    return {
        "of": trace.key,
        "about": list(trace.about),
        "on": drift.on.isoformat(),
        "between": [drift.first.isoformat(), drift.last.isoformat()],
        "probability": drift.probability,
        "grows": drift.grows,
        "before": drift.before,
        "after": drift.after,
        "unit": trace.unit,
        "sentence": drift.sentence,
        "symptom": trace.hint,
    }


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def beside_lines(found: Beside) -> Iterator[str]:
    """Everything a recording tells, as lines."""
    yield f"{found.rows} rows from {found.first} to {found.last}, {found.step_s:g} s apart"
    for title, some in (
        ("Put right:", found.told),
        ("Drifts:", [drift.sentence for _, drift in found.drifts] or ["none"]),
        ("Beside the model:", [one.sentence for one in found.traces]),
        ("Cannot be told from these columns:", found.unknown),
    ):
        if some:
            yield title
            yield from (f"  {line}" for line in some)
