"""The pack: a PDF for the bench and the customer, and tables beside it. Black on white, text selectable."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import msgspec

from weighty_axle.design.table import Design
from weighty_axle.exports.build_pack import BuildPack, build_names
from weighty_axle.exports.data.figures import design_data, findings_data
from weighty_axle.exports.data.handover import handover_data
from weighty_axle.exports.drawings.sheet_files import sheets_dxf, sheets_svg
from weighty_axle.exports.drawings.single_line import single_line as drawn
from weighty_axle.exports.pages import (
    bank,
    brief,
    charging,
    cover,
    cuts,
    first_fix,
    first_power,
    inverters,
    lesson,
    log,
    parts,
    plan,
    proving,
    roof,
    settings,
    single_line,
    summary,
    vehicle,
    wiring,
    year,
)
from weighty_axle.exports.pages import findings as findings_part
from weighty_axle.exports.pages.index import index
from weighty_axle.exports.pages.page import PackPages, write_pdf
from weighty_axle.exports.tables.design import names_of, tables_of
from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing
from weighty_axle.rules.registry import Finding
from weighty_axle.units import System

Progress = Callable[[float, str], None]
"""What long work reports to: how far it is (0 to 1) and what it is at; raises when the user cancels."""


def _silent(_share: float, _words: str) -> None:
    """Progress of work nobody watches."""


def pack_names(design: Design) -> tuple[str, ...]:
    """Files of a pack."""
    return ("pack.pdf", *names_of(design), *_DRAWN, *build_names(design), *_DATA)


_DRAWN = ("single-line.svg", "single-line.dxf")
_DATA = ("design.json", "findings.json", "handover.json")


class InTheWayError(RuntimeError):
    """Files of another job, or of nobody knows whom, are in the folder; the message is a sentence."""


def others_in(folder: Path, design: Design) -> tuple[str, ...]:
    """Files in a folder that a pack of this job would write over and that are not from an earlier pack of it."""
    there = tuple(name for name in pack_names(design) if (folder / name).exists() or (folder / name).is_symlink())
    try:
        was = msgspec.json.decode(read_whole(folder / "design.json", limits.FILE_BYTES, "a table"), type=_Whose)
    except (UnreadableError, msgspec.MsgspecError, RecursionError):
        return there
    job = design.whole
    return () if (was.job, was.vehicle) == (job.name, job.vehicle.description) else there


class _Whose(msgspec.Struct):
    """Whose design.json it is."""

    job: str
    vehicle: str


def write_pack(
    design: Design,
    findings: tuple[Finding, ...],
    folder: Path,
    *,
    today: date,
    system: System,
    over: bool = False,
    progress: Progress = _silent,
) -> list[Path]:
    """Write the pack into a folder (made when missing) and return its files.

    Each file is whole or not there; a link is replaced, not followed.

    Raises: OSError; InTheWayError where it would write over files that are not from an earlier pack of this job, unless
        `over`.
    """
    tell = progress
    others = () if over else others_in(folder, design)
    if others:
        raise InTheWayError(f"{folder} holds {', '.join(others)} of another job. Nothing was written.")
    folder.mkdir(parents=True, exist_ok=True)
    tell(0.05, "Tables")
    sheets = drawn(design, system)
    build = BuildPack(design, today)
    tables = {
        **{name: table() for name, table in tables_of(design)},
        "single-line.svg": sheets_svg(sheets, design.job.name),
        "single-line.dxf": sheets_dxf(sheets),
        **{name: make() for name, make in build.files().items()},
        "design.json": msgspec.json.format(msgspec.json.encode(design_data(design)), indent=2),
        "findings.json": msgspec.json.format(msgspec.json.encode(findings_data(findings, system)), indent=2),
        "handover.json": msgspec.json.format(msgspec.json.encode(handover_data(design)), indent=2),
    }
    for name, raw in tables.items():
        with replacing(folder / name) as file:
            file.write(raw)
    tell(0.2, "Pages")
    pdf = folder / "pack.pdf"
    _write_pdf(build, findings, pdf, system, tell)
    tell(1.0, "Done")
    return [folder / name for name in pack_names(design)]


def _write_pdf(build: BuildPack, findings: tuple[Finding, ...], path: Path, system: System, tell: Progress) -> None:
    design, today = build.design, build.today

    def story(width: float) -> list[Any]:
        from reportlab.platypus import PageBreak

        on = PackPages(design, findings, today, system, width, build)
        flow: list[Any] = []
        for share, title, part, new_page in _PARTS:
            tell(share, title)
            made = part.pages(on)
            flow += [PageBreak(), *made] if new_page and made else made
        for other in design.others:
            own = PackPages(other, findings, today, system, width, build)
            own.seen = on.seen
            flow += [PageBreak(), own.text(f"System {other.system.key}: {other.system.name}", own.title)]
            for part in _parts_of(other):
                flow += part.pages(own)
        flow.append(index(on, design, flow))
        return flow

    write_pdf(path, f"{design.job.name}: pack", f"{design.job.name} · {today.isoformat()}", design.job.practice, story)


def _parts_of(other: Design) -> tuple[Any, ...]:
    """Parts that are printed again for a bank beside the first, and for a group that shares one."""
    ac = (inverters,) if other.job.inverters.units else ()
    return ac if other.system.shares_bank else (bank, *ac, charging, wiring)


_PARTS = (
    (0.3, "Cover", cover, False),
    (0.4, "Vehicle", vehicle, False),
    (0.47, "Brief", brief, True),
    (0.53, "Bank", bank, False),
    (0.54, "AC side", inverters, True),
    (0.545, "Roof", roof, False),
    (0.548, "Charging", charging, False),
    (0.549, "Year", year, True),
    (0.56, "Summary", summary, True),
    (0.7, "Findings", findings_part, True),
    (0.8, "Cables", wiring, False),
    (0.83, "Single-line drawing", single_line, True),
    (0.85, "First fix", first_fix, True),
    (0.86, "Parts", parts, True),
    (0.88, "Cuts", cuts, True),
    (0.9, "Plan", plan, True),
    (0.95, "Settings", settings, True),
    (0.96, "First power", first_power, True),
    (0.98, "Tests", proving, True),
    (0.985, "Log", log, True),
    (0.99, "Lesson", lesson, True),
)
"""Parts of the pack in the order a bench needs them: how far the work is, title, pages, whether they begin a sheet.

Place prints with the vehicle.
"""
