"""Time and counters put right: zones and summer time, order, doubled times, gaps, counters that roll over."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta, timezone, tzinfo

import numpy as np
from numpy.typing import NDArray

from weighty_axle.answers.log.layout import RecordingError

Floats = NDArray[np.float64]
Times = NDArray[np.int64]
Table = NDArray[np.float32]

GAP_TIMES = 3.0
"""Rows so many times farther apart than usual leave a gap between them. Source: judgement."""
NEAR_FULL_SHARE = 0.9
"""A counter that falls back from beyond this share of where counters end has rolled over, else it was put to zero.
Source: judgement.
"""


def zone_of(name: str) -> tzinfo:
    """The time zone of a name: `Europe/Oslo`, `+02:00`, empty for UTC. Raises RecordingError."""
    from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

    if not name or name.upper() in ("UTC", "Z"):
        return UTC
    if name[0] in "+-" and name[1:].replace(":", "").isdigit():
        digits = name[1:].replace(":", "").ljust(4, "0") if ":" in name else name[1:].zfill(2).ljust(4, "0")
        ahead = timedelta(hours=int(digits[:2]), minutes=int(digits[2:4]))
        if ahead < timedelta(hours=24):
            return timezone(ahead if name[0] == "+" else -ahead)
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise RecordingError(f"There is no time zone {name!r}: as Europe/Oslo, or +02:00.") from None


def in_utc(local: Times, ahead: list[Floats], zone: str, told: list[str]) -> Times:
    """Local seconds as seconds in UTC: by what each row says itself, else by the zone; the hour that comes twice in
    autumn is told apart by the order of rows.

    Raises RecordingError for a zone there is none of.
    """
    said = np.concatenate(ahead) if ahead else np.full(len(local), np.nan)
    if len(said) == len(local) and np.isfinite(said).all():
        return local - said.astype(np.int64)
    where = zone_of(zone)
    if isinstance(where, timezone):
        fixed = where.utcoffset(None)
        return local - (fixed.days * 86400 + fixed.seconds)
    hours, row_hour = np.unique(local // 3600, return_inverse=True)
    start = datetime(1970, 1, 1)
    first, second = np.empty(len(hours), np.int64), np.empty(len(hours), np.int64)
    for at, hour in enumerate(hours.tolist()):
        clock = start + timedelta(hours=hour)
        for fold, into in ((0, first), (1, second)):
            offset = clock.replace(tzinfo=where, fold=fold).utcoffset()
            into[at] = int(offset.total_seconds()) if offset is not None else 0
    shift = first[row_hour]
    # Where the clock goes back the first shift is the larger: the hour comes twice. Where it leaps it is the smaller.
    doubled = np.flatnonzero((first > second)[row_hour])
    leapt = int((first < second)[row_hour].sum())
    if len(doubled):
        back = np.concatenate([[False], np.diff(local[doubled]) < -1200])
        new_day = np.concatenate([[True], np.diff(local[doubled]) > 86400])
        passes = np.cumsum(back) - np.maximum.accumulate(np.where(new_day, np.cumsum(back), 0))
        shift = shift.copy()
        shift[doubled[passes > 0]] = second[row_hour][doubled[passes > 0]]
        told.append(
            "The hour that comes twice in autumn was told apart by the order of rows."
            if bool((passes > 0).any())
            else "The hour that comes twice in autumn is there once: it was taken for the first."
        )
    if leapt:
        told.append(
            f"{leapt} rows have a time that no clock of {zone} shows (it leaps to summer time): perhaps the recorder "
            "keeps winter time all year."
        )
    utc: Times = local - shift
    return utc


def in_order(utc: Times, values: Table, told: list[str]) -> tuple[Times, Table, float]:
    """Rows in the order of time, each time once (the last one counts), and the usual seconds between them; gaps are
    told.
    """
    if len(utc) > 1 and bool((np.diff(utc) < 0).any()):
        order = np.argsort(utc, kind="stable")
        told.append(f"{int((np.diff(utc) < 0).sum())} times the rows went back in time: they were put in order.")
        utc, values = utc[order], values[order]
    if len(utc) > 1:
        last = np.concatenate([utc[1:] != utc[:-1], [True]])
        if not last.all():
            told.append(f"{int((~last).sum())} rows had the time of another: the last of each counts.")
            utc, values = utc[last], values[last]
    if len(utc) < 2:
        return utc, values, 60.0
    apart = np.diff(utc)
    step_s = float(np.median(apart))
    gaps = apart > GAP_TIMES * step_s
    if bool(gaps.any()):
        missing_h = float((apart[gaps] - step_s).sum()) / 3600
        longest = int(apart[gaps].max())
        at = int(utc[int(np.flatnonzero(apart == longest)[0])])
        told.append(
            f"{int(gaps.sum())} gaps, together {missing_h:.0f} h; the longest of {longest / 3600:.1f} h from "
            f"{datetime.fromtimestamp(at, UTC):%Y-%m-%d %H:%M} UTC."
        )
    return utc, values, step_s


def unrolled(counter: Floats, name: str, told: list[str]) -> Floats:
    """A counter that goes on over its ends: where it falls back it has rolled over (it stood near a power of two or
    ten),
    or was put to zero.
    """
    there = np.flatnonzero(np.isfinite(counter))
    if len(there) < 2:
        return counter
    steps = np.diff(counter[there])
    falls = np.flatnonzero(steps < 0)
    if not len(falls):
        return counter
    rolled = reset = 0
    steps = steps.copy()
    for at in falls.tolist():
        before, after = float(counter[there[at]]), float(counter[there[at + 1]])
        end = _end_of(before)
        if end is not None and before >= NEAR_FULL_SHARE * end and after <= (1 - NEAR_FULL_SHARE) * end:
            steps[at] = end - before + after
            rolled += 1
        else:
            steps[at] = max(0.0, after)
            reset += 1
    whole = counter.copy()
    whole[there] = counter[there[0]] + np.concatenate([[0.0], np.cumsum(steps)])
    words = " and ".join(
        part
        for part in (f"rolled over {rolled} times" if rolled else "", f"began anew {reset} times" if reset else "")
        if part
    )
    told.append(f"{name} {words}: it was counted on.")
    return whole


def _end_of(value: float) -> float | None:
    """Where a counter that stood at a value ends: the least power of two or ten beyond it."""
    ends = [2.0**bits / share for bits in (16, 24, 32) for share in (1, 10, 100)] + [
        10.0**power for power in range(3, 10)
    ]
    return min((end for end in ends if end > value * 0.999), default=None)
