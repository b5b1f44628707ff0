"""Files of the build pack: parts, cuts, plan, labels, boards, each also asked for by itself."""

from __future__ import annotations

import functools
from collections.abc import Callable
from datetime import date, datetime
from pathlib import Path
from typing import Any

from weighty_axle.answers.cuts.labels import labels
from weighty_axle.answers.cuts.reels import CutState, KindCut, Progress, nest, states
from weighty_axle.answers.parts.listing import PartsList, parts_list
from weighty_axle.answers.plan.board import board_plans
from weighty_axle.answers.plan.plan import Plan, plan
from weighty_axle.answers.plan.tools import tools
from weighty_axle.design.table import Design
from weighty_axle.exports.data.build import boards_data, cuts_data, labels_data, parts_data, plan_data
from weighty_axle.exports.data.calendar import plan_ics
from weighty_axle.exports.drawings.board import board_sheet
from weighty_axle.exports.drawings.labels import label_sheets_of
from weighty_axle.exports.drawings.marks import Sheet
from weighty_axle.exports.drawings.sheet_files import sheets_dxf, sheets_svg
from weighty_axle.exports.drawings.sheet_pdf import true_size_pdf
from weighty_axle.exports.tables.cells import xlsx_bytes
from weighty_axle.exports.tables.cuts import cuts_csv, reels_csv
from weighty_axle.exports.tables.parts import HEADER, part_rows, parts_csv
from weighty_axle.exports.tables.plan import plan_csv
from weighty_axle.job.files.stock import Stock

QUICK_S = 1.0
"""Time a plan or a nesting of a whole pack may take: what it falls short by is told in it."""

_MARGIN_MM = 15.0


def build_names(design: Design) -> tuple[str, ...]:
    """Files of the build pack."""
    boards = ("board.svg", "board.dxf", "board.pdf") if design.whole.assemblies else ()
    return (
        "parts.csv",
        "parts.xlsx",
        "cuts.csv",
        "reels.csv",
        "plan.csv",
        "plan.ics",
        "labels.pdf",
        "labels.svg",
        *boards,
    )


class BuildPack:
    """What the build pack of a design is made from: each answer is worked out once, when it is first asked for."""

    def __init__(self, design: Design, today: date, stock: Stock | None = None, longest_s: float | None = None) -> None:
        self.design, self.today, self.stock = design, today, stock or Stock()
        self.longest_s = longest_s if longest_s is not None else QUICK_S

    @functools.cached_property
    def listed(self) -> PartsList:
        """All parts."""
        return parts_list(self.design, self.today)

    @functools.cached_property
    def states(self) -> tuple[CutState, ...]:
        """All conductors."""
        return states(self.design)

    @functools.cached_property
    def reels(self) -> tuple[KindCut, ...]:
        """What comes off which reel."""
        return nest(self.design, self.stock, longest_s=self.longest_s)

    @functools.cached_property
    def planned(self) -> Plan:
        """The plan."""
        return plan(self.design, self.today, longest_s=self.longest_s)

    @functools.cached_property
    def label_pages(self) -> tuple[Sheet, ...]:
        """Pages of labels."""
        return label_sheets_of(self.design, tuple(one.cut for one in self.states))

    @functools.cached_property
    def boards(self) -> tuple[Sheet, ...]:
        """Boards at true size."""
        return tuple(board_sheet(one) for one in board_plans(self.design))

    def files(self) -> dict[str, Callable[[], bytes]]:
        """Makers of every file, by name; nothing is made before it is asked for."""
        job = self.design.whole.name
        noon = datetime(self.today.year, self.today.month, self.today.day, 12)
        made: dict[str, Callable[[], bytes]] = {
            "parts.csv": lambda: parts_csv(self.listed),
            "parts.xlsx": lambda: xlsx_bytes(HEADER, part_rows(self.listed), "Parts"),
            "cuts.csv": lambda: cuts_csv(self.states, self.reels),
            "reels.csv": lambda: reels_csv(self.reels),
            "plan.csv": lambda: plan_csv(self.planned),
            "plan.ics": lambda: plan_ics(self.planned, job, noon),
            "labels.pdf": lambda: true_size_pdf(self.label_pages, f"{job}: labels"),
            "labels.svg": lambda: sheets_svg(self.label_pages, f"{job}: labels"),
            "board.svg": lambda: sheets_svg(self.boards, f"{job}: boards"),
            "board.dxf": lambda: sheets_dxf(self.boards),
            "board.pdf": lambda: true_size_pdf(self.boards, f"{job}: boards", _MARGIN_MM),
        }
        return {name: made[name] for name in build_names(self.design)}


DATA: dict[str, Callable[[Design, date, Stock, Progress], Any]] = {
    "parts": lambda design, today, _stock, _tell: parts_data(parts_list(design, today)),
    "cuts": lambda design, _today, stock, tell: cuts_data(states(design), nest(design, stock, tell)),
    "plan": lambda design, today, _stock, tell: plan_data(plan(design, today, progress=tell), tools(design)),
    "labels": lambda design, _today, _stock, _tell: labels_data(labels(design)),
    "board": lambda design, _today, _stock, _tell: boards_data(board_plans(design)),
}
"""Open data by the name of the command."""


class NoSuchFileError(RuntimeError):
    """A file of an ending nothing is written in; the message is a sentence."""


def one_file(design: Design, word: str, path: Path, today: date, stock: Stock) -> bytes:
    """The file of a command (parts, cuts, plan, labels, board) in the form its name asks for.

    Raises: NoSuchFileError.
    """
    makers = BuildPack(design, today, stock, longest_s=4.0).files()
    wanted = f"{word}{path.suffix.lower()}"
    if wanted not in makers:
        endings = [name.removeprefix(word) for name in makers if name.startswith(f"{word}.")]
        if not endings:
            raise NoSuchFileError("No board built on the bench is stated in this job. Nothing was written.")
        raise NoSuchFileError(f"{path.name}: {word} are written as {', '.join(endings)}. Nothing was written.")
    return makers[wanted]()
