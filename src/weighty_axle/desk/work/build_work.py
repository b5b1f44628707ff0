"""Files of the build, written and taken in by the background: parts, cuts, plan, labels, boards, one person's day."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import NamedTuple

from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import today
from weighty_axle.desk.work.session import Shown
from weighty_axle.job.edits.edit import Edit

Progress = Callable[[float, str], None]


class WorkFile(NamedTuple):
    """A file of the work: what is asked for, the words of the question, its usual name, the endings it has, and what
    writes it (the path, or the sentence of why not).
    """

    word: str
    title: str
    name: str
    endings: tuple[str, ...]
    write: Callable[[Shown, str, Path, Progress], Path | str]

    @property
    def kinds(self) -> str:
        """As the question for a file says them."""
        return f"{tr('Files')} ({' '.join(f'*{one}' for one in self.endings)})"


class Taken(NamedTuple):
    """What a table of parts holds: the edit that takes it in (None: something is wrong), and the sentence of it."""

    edit: Edit | None
    words: str


def write_build_file(shown: Shown, word: str, path: Path, progress: Progress) -> Path | str:
    """Write a file of the build; the sentence of why where it cannot be."""
    from weighty_axle.exports.build_pack import NoSuchFileError, one_file
    from weighty_axle.job.files.disk import UnreadableError, replacing
    from weighty_axle.job.files.stock import StockError, read_stock, stock_file

    progress(0.1, tr("Working it out"))
    try:
        made = one_file(shown.house, word, path, today(), read_stock(stock_file()))
    except (NoSuchFileError, StockError, UnreadableError) as error:
        return str(error)
    progress(0.9, tr("Writing"))
    with replacing(path) as target:
        target.write(made)
    return path


BUILD_FILES = {
    "parts out": WorkFile("parts", "Write the parts as a table", "parts.xlsx", (".xlsx", ".csv"), write_build_file),
    "cuts out": WorkFile("cuts", "Write the cut list as a table", "cuts.csv", (".csv",), write_build_file),
    "plan out": WorkFile("plan", "Write the work plan", "plan.ics", (".ics", ".csv"), write_build_file),
    "labels out": WorkFile("labels", "Print the labels", "labels.pdf", (".pdf", ".svg"), write_build_file),
    "board out": WorkFile(
        "board", "Write the drawing of the boards", "board.pdf", (".pdf", ".svg", ".dxf"), write_build_file
    ),
}
"""Files of the build by what leaves want."""


def write_day(shown: Shown, who: str, day: date, path: Path, progress: Progress) -> Path:
    """Write one person's list for a day."""
    from weighty_axle.answers.plan.plan import plan
    from weighty_axle.exports.pages.plan import write_today

    progress(0.1, tr("The plan"))
    return write_today(shown.house, plan(shown.house, today(), progress=progress), who, day, path)


def read_parts_table(path: Path, shown: Shown, progress: Progress) -> Taken:
    """What a table of parts says: all of it, or every bad cell."""
    from weighty_axle.answers.parts.listing import parts_list
    from weighty_axle.exports.tables.parts import read_parts, take_parts
    from weighty_axle.exports.tables.reading import TableError

    progress(0.2, tr("Rows"))
    try:
        found = read_parts(path, shown.whole, parts_list(shown.house, today()))
    except TableError as error:
        return Taken(None, str(error))
    if found.problems:
        first = " ".join(one.words for one in found.problems[:6])
        more = tr(" and {n} more").format(n=len(found.problems) - 6) if len(found.problems) > 6 else ""
        return Taken(None, tr("Nothing was taken in. {problems}{more}").format(problems=first, more=more))
    passed = (
        tr(" {count} names are of no part here: {names}.").format(
            count=len(found.unknown), names=", ".join(found.unknown[:5])
        )
        if found.unknown
        else ""
    )
    said = tr("{prices} prices and {states} states were taken in.").format(
        prices=len(found.prices), states=len(found.states)
    )
    return Taken(take_parts(found), said + passed)
