"""Commands for the time after the handover: fleet, read-log, rescue."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from datetime import UTC, date, datetime
from pathlib import Path

import msgspec

from weighty_axle.design.table import Design
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import ColumnMap
from weighty_axle.terminal import print_utf8

SOME = 60
"""From so many files on they are looked into by several processes."""


def _print_json(data: object) -> None:
    print_utf8(msgspec.json.format(msgspec.json.encode(data), indent=2).decode())


def run(options: argparse.Namespace, read_job: Callable[[str], Job]) -> int:
    """Run one of the commands; returns the exit status. Raises OSError, JobError; RuntimeError with a sentence."""
    if options.command == "read-log":
        from weighty_axle.design.derive import derive

        own = derive(read_job(options.job)).of_system(options.system)
        if own is None:
            raise RuntimeError(f"There is no system {options.system}.")
        return read_log(options, own)
    return fleet(options) if options.command == "fleet" else rescued(options)


def fleet(options: argparse.Namespace) -> int:
    """Print a folder of job files as a fleet; write its services as ICS, or a page per vehicle."""
    from weighty_axle.exports.data.calendar import services_ics
    from weighty_axle.exports.pages.fleet import write_fleet
    from weighty_axle.job.files.disk import replacing
    from weighty_axle.studies.fleet import Fleet, asked, fleet_data, fleet_lines

    own = Fleet(options.folder)
    for _ in own.refresh(apart=len(own.found()) > SOME):
        pass
    rows = asked(own.found(), options.ask)
    if options.ics is not None:
        with replacing(options.ics) as file:
            file.write(services_ics(rows, datetime.now(UTC)))
        print(options.ics)
    if options.output is not None:
        print(write_fleet(rows, options.output, today=date.today()))
    if options.json:
        _print_json(fleet_data(rows))
    elif options.ics is None and options.output is None:
        print(*fleet_lines(rows), sep="\n")
    return 0


def read_log(options: argparse.Namespace, design: Design) -> int:
    """Read a recording, and tell what drifts and since when; 0 nothing drifts, 1 something does."""
    from weighty_axle.answers.log.beside import beside_model
    from weighty_axle.answers.log.layout import RecordingError, look_at
    from weighty_axle.answers.log.mapping import column_map, wrong_map
    from weighty_axle.answers.log.recording import read_recording
    from weighty_axle.exports.data.log import beside_data, beside_lines

    try:
        layout = look_at(options.recording)
        columns = _map_in(options.map) if options.map is not None else column_map(design, layout)
        if options.zone is not None:
            columns = msgspec.structs.replace(columns, zone=options.zone)
        wrong = wrong_map(design, columns)
        if wrong:
            raise RuntimeError("Nothing was read. " + " ".join(wrong[:8]))
        if options.write_map is not None:
            options.write_map.write_bytes(msgspec.json.format(msgspec.json.encode(columns), indent=2) + b"\n")
        found = beside_model(design, read_recording(options.recording, layout, columns), columns)
    except RecordingError as error:
        raise RuntimeError(str(error)) from error
    if options.json:
        _print_json(beside_data(found))
    else:
        print(*beside_lines(found), sep="\n")
    return int(bool(found.drifts))


def _map_in(path: Path) -> ColumnMap:
    """A map of columns in a file. Raises RuntimeError with a sentence."""
    from weighty_axle.job.files.disk import UnreadableError, read_whole
    from weighty_axle.job.limits import TABLE_BYTES

    try:
        return msgspec.json.decode(read_whole(path, TABLE_BYTES, "a map of columns"), type=ColumnMap)
    except (msgspec.DecodeError, UnreadableError) as error:
        raise RuntimeError(f"{path.name} is no map of columns: {error}") from error


def rescued(options: argparse.Namespace) -> int:
    """Save what can be saved of a damaged file into another."""
    from weighty_axle.job.files.store import save
    from weighty_axle.studies.rescue import RescueError, rescue

    if options.output.exists() and options.output.resolve() == options.damaged.resolve():
        raise RuntimeError("The damaged file is never written over: give -o another name.")
    try:
        found = rescue(options.damaged)
    except RescueError as error:
        raise RuntimeError(str(error)) from error
    carry = options.damaged if options.output.suffix != ".json" else None
    save(found.job, options.output, carry_from=carry)
    print(*(found.told or ("Nothing was lost.",)), sep="\n", file=sys.stderr)
    print(options.output)
    return 1 if found.told else 0
