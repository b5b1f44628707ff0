"""Where everything stands: the pages of every tag, made once the other pages are."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import Pages
from weighty_axle.job.tags import tagged

_COLUMNS = 3


def tags_in_print(design: Design) -> set[str]:
    """Tags that pages name: of everything stated, and of every way."""
    return {thing.tag for _, thing in tagged(design.whole)} | {cut.way for cut in cuts(design)}


def index_rows(on: Pages, tags: set[str]) -> list[list[str]]:
    """Tags with their pages, in columns."""
    found = sorted((tag, pages) for tag, pages in on.seen.items() if tag in tags)
    cells = [f"{tag}: {', '.join(map(str, pages))}" for tag, pages in found]
    down = -(-len(cells) // _COLUMNS)
    columns = [cells[at * down : (at + 1) * down] for at in range(_COLUMNS)]
    return [[column[row] if row < len(column) else "" for column in columns] for row in range(down)]


def index(on: Pages, design: Design, flow: list[Any]) -> Any:
    """What stands at the end of the flow and puts the index behind it, once all else is drawn."""
    from reportlab.platypus import PageBreak
    from reportlab.platypus.doctemplate import ActionFlowable

    class Index(ActionFlowable):  # type: ignore[misc, unused-ignore]
        """Adds the index when it is reached (reportlab calls `apply`)."""

        def apply(self, doc: Any) -> None:
            """Put the index behind everything."""
            del doc
            rows = index_rows(on, tags_in_print(design))
            if rows:
                heading = on.text("Index: tag, pages", on.head)
                flow.extend([PageBreak(), heading, on.table([["", "", ""], *rows], (0.34, 0.33, 0.33))])

    return Index()
