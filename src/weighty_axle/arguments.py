"""What the commands of the command line take."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path

from weighty_axle import __version__

_EPILOG = """\
JOB is a job file (.axle or .json) or demo:NAME.
exit status of check: 0 nothing at Stop, 1 Stop findings, 2 unreadable input

A help for competent people. Local codes, makers' manuals and licensed trades outrank it."""


_BUILD = {
    "parts": ".csv or .xlsx",
    "cuts": ".csv",
    "plan": ".csv or .ics",
    "labels": ".pdf or .svg",
    "board": ".svg, .dxf or .pdf",
}
"""Commands of the build with the endings they write."""

HAND_OVER = {
    "settings": "a file, .pdf or .csv",
    "cards": "a file, .pdf",
    "tests": "a file, .pdf or .csv",
    "handover": "a folder",
    "diagnose": "",
}
"""Commands from first power to handover with what they write."""


def parser(commands: dict[str, str]) -> argparse.ArgumentParser:
    """What every command takes, by its name with its words."""
    made = argparse.ArgumentParser(
        prog="weighty-axle",
        description=(
            "Design 24 V and 48 V vehicle power systems. Without a command: open the window, with FILE if given."
        ),
        usage="weighty-axle [FILE] | weighty-axle COMMAND ...",
        epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    made.add_argument("--version", action="version", version=f"weighty-axle {__version__}")
    added = made.add_subparsers(dest="command", metavar="COMMAND")
    for name, words in commands.items():
        command = added.add_parser(name, help=words, description=words)
        if name in ("derive", "check", "pack", "fill", "precharge", "year"):
            command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
        if name in ("derive", "check", "fill", "precharge", "year"):
            command.add_argument("--json", action="store_true", help="open data instead of text")
        if name in _OWN:
            _OWN[name](command)
        if name == "compare":
            command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
            command.add_argument("variant", nargs="*", metavar="VARIANT", help="names of designs; none: all")
            command.add_argument("--json", action="store_true", help="open data instead of text")
        if name == "propose":
            command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
            command.add_argument("-o", "--output", type=Path, required=True, metavar="DIR", help="folder to write into")
        if name == "sweep":
            command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
            command.add_argument("-o", "--output", type=Path, required=True, metavar="CSV", help="file to write")
        if name in _BUILD:
            command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
            command.add_argument("-o", "--output", type=Path, metavar="FILE", help=f"file to write: {_BUILD[name]}")
            command.add_argument("--json", action="store_true", help="open data on the standard output")
            command.add_argument("--stock", type=Path, metavar="FILE", help="stock of the shop; none: the user's own")
        if name in HAND_OVER:
            _handing_over(command, name)
        if name == "demo":
            command.add_argument("name", nargs="?", default="eye-clinic", help="name of a demo job")
        if name == "pack":
            command.add_argument("-o", "--output", type=Path, required=True, metavar="DIR", help="folder to write into")
            command.add_argument("--over", action="store_true", help="write over another job's files that are there")
        if name == "survey":
            command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
            command.add_argument("-o", "--output", type=Path, required=True, metavar="PDF", help="file to write")
            command.add_argument(
                "--blank", action="store_true", help="lines to fill in by hand instead of what is known"
            )
        if name == "shots":
            command.add_argument("output", type=Path, metavar="DIR", help="folder to write into")
    return made


def _handing_over(command: argparse.ArgumentParser, name: str) -> None:
    """Arguments of a command from first power to handover."""
    command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
    if name == "diagnose":
        command.add_argument("readings", type=Path, metavar="READINGS", help="table with columns key and read")
    else:
        command.add_argument("-o", "--output", type=Path, metavar="PATH", help=f"to write: {HAND_OVER[name]}")
    if name != "handover":
        command.add_argument("--json", action="store_true", help="open data on the standard output")


def _card(command: argparse.ArgumentParser) -> None:
    """Arguments of a card for a door or the owner."""
    command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
    command.add_argument("-o", "--output", type=Path, required=True, metavar="PDF", help="file to write")
    command.add_argument("--lesson", action="store_true", help="the owner's page: how to live with it")
    command.add_argument("--selector", action="store_true", help="the selectors' card instead of the inlet door's")


def _fill(command: argparse.ArgumentParser) -> None:
    """Arguments of a filling."""
    command.add_argument("--from", dest="start", default="20%", metavar="SHARE", help="as 20%%")
    command.add_argument("--to", dest="end", default="100%", metavar="SHARE", help="as 100%%")
    command.add_argument("--mix", metavar="NAME", help="state of the sources: 'sun, P50'; none: all")
    command.add_argument("--loads", action="store_true", help="with the mean loads of the design day")
    command.add_argument("--system", default="", metavar="TAG", help="bank of another bar, by its tag")


def _year(command: argparse.ArgumentParser) -> None:
    """Arguments of a year."""
    command.add_argument("--seed", metavar="N", help="names the draw of the weather; as the job says")
    command.add_argument("--step", type=int, default=15, choices=(15, 30, 60), metavar="MIN", help="15, 30 or 60")
    command.add_argument("--weather", type=Path, metavar="FILE", help="hours of an EPW or TMY3 file instead")
    command.add_argument("--years", type=int, default=0, metavar="N", help="so many years, for percentiles")
    command.add_argument("--system", default="", metavar="TAG", help="bank of another bar, by its tag")


def _plant(command: argparse.ArgumentParser) -> None:
    """Arguments of the simulated plant."""
    command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
    command.add_argument("--port", type=int, default=5020, metavar="N", help="0: any that is free")
    command.add_argument("--fault", action="append", default=[], metavar="NAME", help="plant a fault: 'bad joint'")
    command.add_argument("--speed", type=float, default=1.0, metavar="N", help="seconds of the plant in one of ours")
    command.add_argument("--readings", type=Path, metavar="CSV", help="write what its meters show in the tests instead")
    command.add_argument("--seconds", type=float, metavar="S", help="end after so long")
    command.add_argument(
        "--year", type=Path, metavar="CSV", help="write a year of its meters with three drifts instead"
    )
    command.add_argument("--seed", metavar="WORDS", help="names the draw of clouds and loads of that year")


def _diff(command: argparse.ArgumentParser) -> None:
    """Arguments of a comparison of two job files."""
    command.add_argument("job", metavar="JOB-A", help="job file, or demo:NAME")
    command.add_argument("other", metavar="JOB-B", help="the later state of it")
    command.add_argument("--json", action="store_true", help="open data instead of text")


def _fleet(command: argparse.ArgumentParser) -> None:
    """Arguments of a fleet."""
    command.add_argument("folder", type=Path, metavar="DIR", help="folder of job files")
    command.add_argument(
        "--ask", default="", metavar="WORDS", help="only those with: a type, 'state:fault', 'due:2027-06'"
    )
    command.add_argument("--ics", type=Path, metavar="FILE", help="write service dates for calendars")
    command.add_argument("-o", "--output", type=Path, metavar="PDF", help="write a page per vehicle")
    command.add_argument("--json", action="store_true", help="open data instead of text")


def _read_log(command: argparse.ArgumentParser) -> None:
    """Arguments of a recording."""
    command.add_argument("job", metavar="JOB", help="job file, or demo:NAME")
    command.add_argument("recording", type=Path, metavar="CSV", help="recorded data, of any layout")
    command.add_argument("--map", type=Path, metavar="FILE", help="what its columns are; none: remembered or guessed")
    command.add_argument("--write-map", type=Path, metavar="FILE", help="write what was taken for what, to be changed")
    command.add_argument("--zone", metavar="NAME", help="time zone of its clock: Europe/Oslo, +02:00")
    command.add_argument("--system", default="", metavar="TAG", help="bank of another bar, by its tag")
    command.add_argument("--json", action="store_true", help="open data instead of text")


def _rescue(command: argparse.ArgumentParser) -> None:
    """Arguments of a rescue."""
    command.add_argument("damaged", type=Path, metavar="FILE", help="damaged job file; it is left as it is")
    command.add_argument("-o", "--output", type=Path, required=True, metavar="FILE", help="file to write")


_OWN: dict[str, Callable[[argparse.ArgumentParser], None]] = {
    "card": _card,
    "diff": _diff,
    "fill": _fill,
    "fleet": _fleet,
    "read-log": _read_log,
    "rescue": _rescue,
    "plant": _plant,
    "year": _year,
}
"""Commands with arguments of their own."""
