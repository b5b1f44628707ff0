"""Commands from first power to handover: settings, cards, tests, handover, diagnose."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import msgspec

from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.trials import trials
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.derive import derive
from weighty_axle.design.table import Design
from weighty_axle.exports.data.handover import cards_data, checks_data, settings_data
from weighty_axle.exports.handover import write_handover
from weighty_axle.exports.pages.first_power import write_cards
from weighty_axle.exports.pages.proving import write_tests
from weighty_axle.exports.pages.settings import write_settings
from weighty_axle.exports.tables.reading import TableError
from weighty_axle.exports.tables.readings import (
    ReadingsRead,
    everything,
    read_readings,
    readings_csv,
    settings_csv,
    take_readings,
)
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.files.disk import replacing
from weighty_axle.rules.registry import Finding
from weighty_axle.terminal import print_utf8

Print = Callable[[Design, Path], object]


def _settings_pdf(design: Design, path: Path) -> object:
    return write_settings(design, path, today=date.today())


def _cards_pdf(design: Design, path: Path) -> object:
    return write_cards(design, path, today=date.today(), system="metric")


def _tests_pdf(design: Design, path: Path) -> object:
    return write_tests(design, path, today=date.today(), system="metric")


_PDF: dict[str, Print] = {"settings": _settings_pdf, "cards": _cards_pdf, "tests": _tests_pdf}
_CSV: dict[str, Callable[[Design], bytes]] = {
    "settings": lambda design: settings_csv(all_settings(design)),
    "tests": lambda design: readings_csv((*checks(design), *trials(design))),
}
_DATA: dict[str, Callable[[Design], Any]] = {
    "settings": settings_data,
    "cards": cards_data,
    "tests": lambda design: {"checks": checks_data(checks(design)), "tests": checks_data(trials(design))},
}


def hand_over(options: argparse.Namespace, design: Design, findings: tuple[Finding, ...]) -> int:
    """Run one of the commands; returns the exit status.

    Raises: OSError; RuntimeError with a sentence.
    """
    if options.command == "diagnose":
        return _diagnose(options, design)
    if options.command == "handover":
        if options.output is None:
            raise RuntimeError("Say where to write with -o DIR.")
        for path in write_handover(design, findings, options.output, today=date.today(), system="metric"):
            print(path)
        return 0
    if options.json:
        _print_json(_DATA[options.command](design))
    elif options.output is None:
        raise RuntimeError("Say where to write with -o FILE, or ask for --json.")
    if options.output is not None:
        _write(options.command, design, options.output)
        if not options.json:
            print(options.output)
    return 0


def _print_json(data: object) -> None:
    print_utf8(msgspec.json.format(msgspec.json.encode(data), indent=2).decode())


def _write(command: str, design: Design, path: Path) -> None:
    ending = path.suffix.lower()
    if ending == ".pdf":
        _PDF[command](design, path)
    elif ending == ".csv" and command in _CSV:
        with replacing(path) as file:
            file.write(_CSV[command](design))
    else:
        kinds = ".pdf or .csv" if command in _CSV else ".pdf"
        raise RuntimeError(f"{path.name}: {command} are written as {kinds}.")


def _diagnose(options: argparse.Namespace, design: Design) -> int:
    """Verdict and diagnosis of every reading of a table: 0 all good, 1 something is not."""
    known = everything(design)
    try:
        found: ReadingsRead = read_readings(options.readings, known)
    except TableError as error:
        raise RuntimeError(str(error)) from error
    if found.problems or found.unknown:
        said = [*found.problems, *(f"{key}: nothing here has this key." for key in found.unknown)]
        raise RuntimeError("Nothing was judged. " + " ".join(said[:8]))
    job = take_readings(found, design, "", "").on(design.whole)
    wrong = problems(job)
    if wrong:
        raise RuntimeError("Nothing was judged. " + " ".join(str(one) for one in wrong[:8]))
    told = everything(derive(job))
    answers = [told[one.key] for one in found.read]
    if options.json:
        _print_json(
            [
                {"key": one.key, "read": read.said, "verdict": one.verdict, "says": one.says}
                for one, read in zip(answers, found.read, strict=True)
            ]
        )
    else:
        for one, read in zip(answers, found.read, strict=True):
            print(f"{one.verdict:5} {one.key}: {one.says or read.said}")
    return 0 if all(one.done for one in answers) else 1
