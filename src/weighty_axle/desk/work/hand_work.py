"""Files from first power to handover, written and taken in by the background: settings, tests, readings, handover."""

from __future__ import annotations

from pathlib import Path

from weighty_axle.desk.text import tr
from weighty_axle.desk.work.build_work import Progress, Taken, WorkFile
from weighty_axle.desk.work.days import signed, today
from weighty_axle.desk.work.session import Shown
from weighty_axle.units import System


def _write(shown: Shown, word: str, path: Path, progress: Progress) -> Path | str:
    """Write settings or tests as print or table."""
    from weighty_axle.exports.pages.proving import write_tests
    from weighty_axle.exports.pages.settings import write_settings
    from weighty_axle.exports.tables.design import TABLES
    from weighty_axle.job.files.disk import replacing

    progress(0.2, tr("Writing"))
    house = shown.house
    if path.suffix.lower() == ".csv":
        with replacing(path) as target:
            target.write(TABLES["settings.csv" if word == "settings" else "readings.csv"](house))
    elif word == "settings":
        write_settings(house, path, today=today())
    else:
        write_tests(house, path, today=today(), system="metric")
    return path


def _write_services(shown: Shown, word: str, path: Path, progress: Progress) -> Path | str:
    """Write the services of the open job for calendars."""
    from datetime import UTC, datetime

    from weighty_axle.exports.data.calendar import services_ics
    from weighty_axle.job.files.disk import replacing
    from weighty_axle.studies.fleet import Vehicle, summary

    progress(0.2, tr("Writing"))
    row = summary(shown.whole, Vehicle(path=f"{word} {shown.whole.name}", size=0, time_ns=0))
    with replacing(path) as target:
        target.write(services_ics((row,), datetime.now(UTC)))
    return path


def _write_log(shown: Shown, word: str, path: Path, progress: Progress) -> Path | str:
    """Write the log as print or table."""
    from weighty_axle.answers.log.timeline import happened
    from weighty_axle.exports.pages.log import write_log
    from weighty_axle.exports.tables.cells import csv_bytes
    from weighty_axle.job.files.disk import replacing

    progress(0.2, tr("Writing"))
    if path.suffix.lower() != ".csv":
        return write_log(shown.house, path, today=today())
    rows: list[tuple[object, ...]] = [
        (one.on, one.kind, " ".join(one.about), one.words, one.by) for one in happened(shown.whole)
    ]
    with replacing(path) as target:
        target.write(csv_bytes(("on", "kind", "about", word, "by"), rows))
    return path


HAND_FILES = {
    "log out": WorkFile("happened", "Write the log", "log.pdf", (".pdf", ".csv"), _write_log),
    "services out": WorkFile(
        "services", "Write service dates for calendars", "services.ics", (".ics",), _write_services
    ),
    "settings out": WorkFile("settings", "Write the settings sheets", "settings.pdf", (".pdf", ".csv"), _write),
    "tests out": WorkFile("tests", "Write checks and tests", "tests.pdf", (".pdf", ".csv"), _write),
}
"""Files from first power to handover by what leaves want."""


def read_readings_table(path: Path, shown: Shown, progress: Progress) -> Taken:
    """What a table of readings says: all of it, or every bad cell."""
    from weighty_axle.exports.tables.reading import TableError
    from weighty_axle.exports.tables.readings import everything, read_readings, take_readings

    progress(0.2, tr("Rows"))
    try:
        found = read_readings(path, everything(shown.house))
    except TableError as error:
        return Taken(None, str(error))
    wrong = [*found.problems, *(tr("{key}: nothing here has this key.").format(key=key) for key in found.unknown)]
    if wrong:
        more = tr(" and {n} more").format(n=len(wrong) - 6) if len(wrong) > 6 else ""
        return Taken(None, tr("Nothing was taken in. {problems}{more}").format(problems=" ".join(wrong[:6]), more=more))
    on, by = signed()
    return Taken(take_readings(found, shown.house, on, by), tr("{n} readings were taken in.").format(n=len(found.read)))


def write_handover_folder(shown: Shown, folder: Path, units: System, progress: Progress) -> Path:
    """Write the handover with its data into a folder."""
    from weighty_axle.exports.handover import write_handover

    progress(0.2, tr("Pages"))
    return write_handover(shown.house, shown.findings, folder, today=today(), system=units)[0]
