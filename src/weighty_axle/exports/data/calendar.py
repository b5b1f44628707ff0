"""Days and tasks for calendar programs (iCalendar, RFC 5545). Times are local to wherever the shop is."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from hashlib import sha256

from weighty_axle.answers.plan.plan import Plan
from weighty_axle.studies.fleet import Vehicle

_LINE_OCTETS = 75


def plan_ics(plan: Plan, job: str, made: datetime) -> bytes:
    """Every stretch of every open task as an event.

    Source: RFC 5545.
    """
    names = {one.tag: one.name for one in plan.workers}
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Weighty Axle//Work plan//EN", "CALSCALE:GREGORIAN"]
    for one in plan.planned:
        if one.done:
            continue
        for at, (starts, ends) in enumerate(one.stretches):
            lines += [
                "BEGIN:VEVENT",
                f"UID:{sha256(f'{job} {one.task.key} {at}'.encode()).hexdigest()[:24]}@weighty-axle.invalid",
                f"DTSTAMP:{made:%Y%m%dT%H%M%SZ}",
                f"DTSTART:{starts:%Y%m%dT%H%M%S}",
                f"DTEND:{ends:%Y%m%dT%H%M%S}",
                f"SUMMARY:{_text(f'{names.get(one.who, one.who)}: {one.task.words}')}",
                f"DESCRIPTION:{_text(' '.join(part for part in (job + '.', one.task.how) if part))}",
                f"CATEGORIES:{_text(one.task.phase)}",
                "END:VEVENT",
            ]
    lines.append("END:VCALENDAR")
    return "".join(f"{part}\r\n" for line in lines for part in _folded(line)).encode()


def services_ics(rows: tuple[Vehicle, ...], made: datetime) -> bytes:
    """Every service of every vehicle as an event of a whole day; one that was never done stands on the day it is made.

    Source: RFC 5545.
    """
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Weighty Axle//Services//EN", "CALSCALE:GREGORIAN"]
    for row in rows:
        for one in row.services:
            on = date.fromisoformat(one.on) if one.on else made.date()
            lines += [
                "BEGIN:VEVENT",
                f"UID:{sha256(f'{row.path} {one.name}'.encode()).hexdigest()[:24]}@weighty-axle.invalid",
                f"DTSTAMP:{made:%Y%m%dT%H%M%SZ}",
                f"DTSTART;VALUE=DATE:{on:%Y%m%d}",
                f"DTEND;VALUE=DATE:{on + timedelta(days=1):%Y%m%d}",
                f"SUMMARY:{_text(f'{row.name}: {one.name}')}",
                f"DESCRIPTION:{_text(' '.join(part for part in (row.customer, *one.about) if part))}",
                "TRANSP:TRANSPARENT",
                "END:VEVENT",
            ]
    lines.append("END:VCALENDAR")
    return "".join(f"{part}\r\n" for line in lines for part in _folded(line)).encode()


def _text(words: str) -> str:
    """Words as the format escapes them."""
    flat = "".join(sign if sign >= " " else " " for sign in words)
    return flat.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,")


def _folded(line: str) -> Iterator[str]:
    """A line in pieces of at most 75 octets, never within a letter; pieces after the first begin with a space."""
    piece = ""
    for sign in line:
        if len((piece + sign).encode()) > _LINE_OCTETS:
            yield piece
            piece = " "
        piece += sign
    yield piece
