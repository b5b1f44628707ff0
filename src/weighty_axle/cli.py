"""Command line: the same work without a window, and the way into the window."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Callable
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from weighty_axle.arguments import parser
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.models.document import Job
from weighty_axle.terminal import has_display, make_readable, print_utf8

if TYPE_CHECKING:
    from weighty_axle.answers.year.lived import Lived
    from weighty_axle.design.table import Design
    from weighty_axle.rules.registry import Finding


def main(argv: list[str] | None = None) -> int:
    """Run the program; returns the exit status."""
    make_readable()
    arguments = sys.argv[1:] if argv is None else argv
    if (arguments and arguments[0] in _COMMANDS) or any(one in ("-h", "--help", "--version") for one in arguments):
        return _command(arguments)
    if not _could_be_opened(arguments):
        return _unknown(arguments)
    return _window(arguments)


def _could_be_opened(arguments: list[str]) -> bool:
    """Whether the arguments name at most one file: one that is there, or that is written as a file is."""
    if not arguments:
        return True
    name = arguments[0]
    written_so = name.startswith("demo:") or "/" in name or name.lower().endswith((".axle", ".json"))
    return len(arguments) == 1 and not name.startswith("-") and (written_so or os.path.lexists(name))


def _unknown(arguments: list[str]) -> int:
    """Say that there is no such command, and which is meant perhaps."""
    import difflib

    words = " ".join(arguments)
    near = difflib.get_close_matches(arguments[0], _COMMANDS, n=1)
    meant = f" Did you mean {near[0]!r}?" if near else ""
    print(f"weighty-axle: there is no command or file {words[:80]!r}.{meant} See weighty-axle --help.", file=sys.stderr)
    return 2


def _command(arguments: list[str]) -> int:
    options = parser({name: words for name, (words, _) in _COMMANDS.items()}).parse_args(arguments)
    run = _COMMANDS[options.command][1]
    try:
        return run(options)
    except JobError as error:
        print(
            f"weighty-axle: {getattr(options, 'job', '')} cannot be used:", *error.problems, sep="\n  ", file=sys.stderr
        )
        return 2
    except BrokenPipeError:
        # The reader (head, less) has seen enough; Python must not complain about it at exit either.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except OSError as error:
        print(f"weighty-axle: {error.filename or ''}: {error.strerror or error}", file=sys.stderr)
        return 2
    except RuntimeError as error:  # a sentence of an export
        print(f"weighty-axle: {error}", file=sys.stderr)
        return 2


def read_job(name: str) -> Job:
    """Job from a file name or `demo:NAME`. Raises JobError."""
    from weighty_axle import demos
    from weighty_axle.job.files.store import load

    if not name.startswith("demo:"):
        return load(Path(name))
    return demos.demo(_known_demo(name.removeprefix("demo:")))


def _known_demo(name: str) -> str:
    """The name of a demo. Raises JobError when there is none of that name."""
    from weighty_axle import demos
    from weighty_axle.job.checks.problem import Problem

    if name not in demos.names():
        raise JobError([Problem("", f"There is no demo job {name!r}; there are {', '.join(demos.names())}.")])
    return name


def _judged(name: str) -> tuple[Design, tuple[Finding, ...]]:
    from weighty_axle.design.derive import derive
    from weighty_axle.rules.judge import judge

    design = derive(read_job(name))
    return design, judge(design)


def _print_json(data: object) -> None:
    print_utf8(msgspec.json.format(msgspec.json.encode(data), indent=2).decode())


def _demos(_options: argparse.Namespace) -> int:
    from weighty_axle.demos import names

    print(*names(), sep="\n")
    return 0


def _derive(options: argparse.Namespace) -> int:
    from weighty_axle.design.derive import derive
    from weighty_axle.exports.data.figures import all_figures, design_data
    from weighty_axle.units import show

    design = derive(read_job(options.job))
    if options.json:
        _print_json(design_data(design))
    else:
        for one in (design, *design.others):
            if one.system.key:
                print(f"\n{one.system.key} {one.system.name}")
            for path, figure in all_figures(one):
                print(f"{path:52} {show(figure.value, figure.unit):>14}  {figure.name}")
    return 0


def _check(options: argparse.Namespace) -> int:
    from weighty_axle.exports.data.figures import findings_data

    _, findings = _judged(options.job)
    if options.json:
        _print_json(findings_data(findings, "metric"))
    else:
        for finding in findings:
            print(
                f"{finding.rule.severity.upper():6} {finding.sentence()}"
                + "".join(f"  [{remedy.label}]" for remedy in finding.remedies)
            )
    return int(any(one.rule.severity == "stop" for one in findings))


def _fill(options: argparse.Namespace) -> int:
    from weighty_axle.design.derive import derive
    from weighty_axle.exports.data.filling import fill_data, fill_lines

    design = derive(read_job(options.job))
    own = _system(design, options.system)
    asked = (options.start, options.end, options.mix, options.loads)
    if options.json:
        _print_json(fill_data(own, *asked))
    else:
        print(*fill_lines(own, *asked), sep="\n")
    return 0


def _system(design: Design, key: str) -> Design:
    """The design of one system. Raises RuntimeError where there is none of that tag."""
    own = design.of_system(key)
    if own is None:
        raise RuntimeError(f"There is no system {key}.")
    return own


def _year(options: argparse.Namespace) -> int:
    from msgspec.structs import replace

    from weighty_axle.answers.year.lived import live
    from weighty_axle.answers.year.weathers import weathers
    from weighty_axle.design.derive import derive
    from weighty_axle.exports.data.year import year_data, year_lines

    job = read_job(options.job)
    if options.seed:
        job = replace(job, year=replace(job.year, seed=options.seed[:80]))
    own = _system(derive(job), options.system)
    year = _measured(own, options) if options.weather is not None else live(own, step_min=options.step)
    many = weathers(own, years=min(options.years, 1000), step_min=options.step) if options.years > 0 else None
    if options.json:
        _print_json(year_data(year, many))
    else:
        print(*year_lines(year, many), sep="\n")
    return 0


def _measured(design: Design, options: argparse.Namespace) -> Lived:
    """A year in the hours of a weather file; what of it is told goes to the error stream."""
    from weighty_axle.answers.year.lived import live_measured
    from weighty_axle.answers.year.sky import far_words
    from weighty_axle.reference.importers.weather_file import WeatherFileError, read_hours

    try:
        hours = read_hours(options.weather)
    except WeatherFileError as error:
        raise RuntimeError(str(error)) from error
    for words in (*hours.told, far_words(design, hours)):
        if words:
            print(f"weighty-axle: {words}", file=sys.stderr)
    return live_measured(design, hours, step_min=options.step)


def _sweep(options: argparse.Namespace) -> int:
    from weighty_axle.answers.year.sweep import begin, points, sweep, usual_axes
    from weighty_axle.design.derive import derive
    from weighty_axle.exports.tables.sweep import sweep_csv
    from weighty_axle.job.files.disk import replacing

    design = derive(read_job(options.job))
    found = points(design, sweep(design, begin(usual_axes(design))))
    with replacing(options.output) as file:
        file.write(sweep_csv(found))
    print(f"{options.output}: {len(found)} designs, {sum(one.efficient for one in found)} of them efficient")
    return 0


def _compare(options: argparse.Namespace) -> int:
    from weighty_axle.exports.data.compare import compare, compare_data, compare_lines

    found = compare(read_job(options.job), tuple(options.variant))
    if options.json:
        _print_json(compare_data(found))
    else:
        print(*compare_lines(found), sep="\n")
    return 0


def _propose(options: argparse.Namespace) -> int:
    from weighty_axle.exports.data.proposals import proposal_lines, write_proposal
    from weighty_axle.job.edits.edit import EditRefusedError
    from weighty_axle.studies.propose import propose

    try:
        for one in propose(read_job(options.job)):
            print(write_proposal(one, options.output))
            print(*(f"  {line}" for line in proposal_lines(one)), sep="\n")
    except EditRefusedError as error:
        raise RuntimeError(str(error)) from error
    return 0


def _precharge(options: argparse.Namespace) -> int:
    from weighty_axle.design.derive import derive
    from weighty_axle.exports.data.precharge import precharge_data, precharge_lines

    design = derive(read_job(options.job))
    if options.json:
        _print_json(precharge_data(design))
    else:
        print(*precharge_lines(design), sep="\n")
    return 0


def _pack(options: argparse.Namespace) -> int:
    from datetime import date

    from weighty_axle.exports.pack import write_pack

    design, findings = _judged(options.job)
    for path in write_pack(design, findings, options.output, today=date.today(), system="metric", over=options.over):
        print(path)
    return _printed(design.job)


def _printed(job: Job) -> int:
    """Say what of a job no font could print."""
    from weighty_axle.exports.letters import unprintable_words

    missing = unprintable_words(job)
    if missing:
        print(f"weighty-axle: {missing}", file=sys.stderr)
    return 0


def _survey(options: argparse.Namespace) -> int:
    from datetime import date

    from weighty_axle.design.derive import derive
    from weighty_axle.exports.pages.survey_sheet import write_survey_sheet

    design = derive(read_job(options.job))
    print(write_survey_sheet(design, options.output, blank=options.blank, today=date.today(), system="metric"))
    return _printed(design.job)


def _card(options: argparse.Namespace) -> int:
    from datetime import date

    from weighty_axle.design.derive import derive
    from weighty_axle.exports.pages.cards import write_inlet_card, write_selector_cards

    design = derive(read_job(options.job))
    if options.lesson:
        from weighty_axle.exports.pages.lesson import write_lesson

        print(write_lesson(design, options.output, today=date.today(), system="metric"))
        return _printed(design.job)
    card = (
        write_selector_cards(design, options.output, today=date.today())
        if options.selector
        else write_inlet_card(design, options.output, today=date.today(), system="metric")
    )
    print(card)
    return _printed(design.job)


def _hand_over(options: argparse.Namespace) -> int:
    from weighty_axle.handing_over import hand_over

    design, findings = _judged(options.job)
    return hand_over(options, design, findings) or _printed(design.job)


def _diff(options: argparse.Namespace) -> int:
    from weighty_axle.studies.changes import difference, difference_data, difference_lines

    found = difference(read_job(options.job), read_job(options.other))
    if options.json:
        _print_json(difference_data(found))
    else:
        print(*difference_lines(found), sep="\n")
    return 0 if found.nothing else 1


def _looking_after(options: argparse.Namespace) -> int:
    from weighty_axle.looking_after import run

    return run(options, read_job)


def _plant(options: argparse.Namespace) -> int:
    from weighty_axle.design.derive import derive
    from weighty_axle.plant.recording import write_demo_year
    from weighty_axle.plant.serving import serve, write_readings

    design = derive(read_job(options.job))
    if options.year is not None:
        print(write_demo_year(design, options.seed, options.year))
    elif options.readings is not None:
        print(write_readings(design, options.fault, options.readings))
    if options.year is not None or options.readings is not None:
        return 0
    return serve(design, options.port, options.fault, options.speed, options.seconds)


def _build(options: argparse.Namespace) -> int:
    from datetime import date

    from weighty_axle.design.derive import derive
    from weighty_axle.exports.build_pack import DATA, one_file
    from weighty_axle.job.files.disk import UnreadableError, replacing
    from weighty_axle.job.files.stock import StockError, read_stock, stock_file

    if not options.json and options.output is None:
        raise RuntimeError("Say where to write with -o FILE, or ask for --json.")
    design = derive(read_job(options.job))
    try:
        stock = read_stock(options.stock or stock_file())
    except (StockError, UnreadableError) as error:
        raise RuntimeError(str(error)) from error
    today = date.today()
    if options.json:
        _print_json(DATA[options.command](design, today, stock, lambda _share, _words: None))
    if options.output is not None:
        made = one_file(design, options.command, options.output, today, stock)
        with replacing(options.output) as file:
            file.write(made)
        if not options.json:
            print(options.output)
    return _printed(design.job) if options.command == "labels" else 0


def _shots(options: argparse.Namespace) -> int:
    from weighty_axle.desk.shots import take_all

    return take_all(options.output)


def _schema(_options: argparse.Namespace) -> int:
    from weighty_axle.job.files.store import schema

    _print_json(schema())
    return 0


def import_before_qt() -> None:
    """Import what the first screen needs besides Qt: once Qt is there, it reads the source of every module that comes.

    Collecting garbage among imports costs a tenth of the start and finds none: it stops until the window stands.
    """
    gc.disable()
    for name in ("rules.judge", "job.files.journal", "exports.drawings.long_section", "answers.brief.peaks"):
        import_module(f"weighty_axle.{name}")


def _window(arguments: list[str]) -> int:
    if not has_display():
        print(
            "weighty-axle: there is no display to open a window on. Without one: weighty-axle --help.", file=sys.stderr
        )
        return 2
    import_before_qt()
    from weighty_axle.desk.app import run

    return run(arguments[0] if arguments else None)


def _demo(options: argparse.Namespace) -> int:
    return _window([f"demo:{_known_demo(options.name)}"])


_COMMANDS: dict[str, tuple[str, Callable[[argparse.Namespace], int]]] = {
    "demo": ("open the window with a demo job", _demo),
    "demos": ("list the demo jobs", _demos),
    "derive": ("print every computed figure", _derive),
    "check": ("print the findings", _check),
    "fill": ("tell how long the bank takes to fill: current, voltage and charge against time", _fill),
    "precharge": ("tell how the inverters' capacitors fill before the main switch closes", _precharge),
    "year": ("live a year: what is missing, what the sun gives, when the generator runs", _year),
    "sweep": ("live a year with thousands of mixes of modules, packs, inverters and chargers", _sweep),
    "compare": ("show the designs of a job side by side", _compare),
    "propose": ("propose whole designs at three levels, a job file for each", _propose),
    "pack": ("write the pack: PDF, tables and open data", _pack),
    "parts": ("write the parts list, or print it as open data", _build),
    "cuts": ("write the cut list with its reels, or print it as open data", _build),
    "plan": ("write the work plan, also for calendars, or print it as open data", _build),
    "labels": ("write the labels at true size, or print them as open data", _build),
    "board": ("write the boards built on the bench at true size, or print them as open data", _build),
    "survey": ("write the survey sheet, blank or filled, as PDF", _survey),
    "card": ("write the card for the inlet door, or for the selectors, as PDF", _card),
    "settings": ("write the settings of every unit, or print them as open data", _hand_over),
    "cards": ("write the cards for starting up, shutting down, storage and emergency", _hand_over),
    "tests": ("write checks and tests with their bands and readings", _hand_over),
    "diagnose": ("judge readings: of tests, checks, and what units say they are set to", _hand_over),
    "handover": ("write the handover with lines to sign, and open data beside it", _hand_over),
    "diff": ("tell in what two job files differ: stated, figures, findings; exit 0 the same, 1 not", _diff),
    "read-log": ("read a recording beside the model: drifts with dates; exit 0 none, 1 some", _looking_after),
    "fleet": ("print a folder of job files: state, services, open faults, findings", _looking_after),
    "rescue": ("save what can be saved of a damaged job file into another", _looking_after),
    "plant": ("run the simulated plant of a design on Modbus TCP, on loopback, until it is stopped", _plant),
    "shots": ("write the pictures of the main views", _shots),
    "schema": ("print the JSON Schema of the job document", _schema),
}
