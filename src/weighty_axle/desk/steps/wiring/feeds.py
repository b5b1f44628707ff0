"""Feeds: cables of converters beside the main runs: shared ones, the leads that leave them, and those to fed bars."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.wiring.choices import choice_name
from weighty_axle.design.wiring.feeds import FeedRun
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, of_whole, set_value
from weighty_axle.units import CURRENT, FRACTION, LENGTH, QuantityError, System, conductor_words


def _length_field(feed: FeedRun) -> str:
    """The field that states how long a feed is: of a lead from a shared cable, of that cable, or of an output."""
    first = feed.converters[0]
    if feed.tag == f"{first} branch":
        return f"converters[{first}].branch_m"
    return f"converters[{first}].{'lead_m' if feed.start == first else 'feed_m'}"


def _set_length(feed: FeedRun, value: float) -> Edit:
    return of_whole(set_value(_length_field(feed), value, f"Length of {feed.tag}: {value:g} m"))


def _set_fuse(feed: FeedRun, value: Any) -> Edit:
    """A fuse that is fitted: only one that is stated already can be another."""
    if feed.fitted is None:
        raise QuantityError(
            tr("State what is fitted on its sheet first: Fitted protection, in {tag}.").format(tag=feed.tag)
        )
    return of_whole(set_value(f"fitted[{feed.fitted.tag}].amps", value, f"Fuse in {feed.tag}: {value:g} A"))


_COLUMNS = (
    Column("Feed", lambda feed: feed.tag, None),
    Column("From", lambda feed: feed.start, None),
    Column("To", lambda feed: feed.end, None),
    Column("One way", lambda feed: feed.length_m.value if feed.length_m else None, LENGTH, _set_length),
    Column("Carries", lambda feed: feed.current_a.value, CURRENT),
    Column("Fuse", lambda feed: feed.fuse_a.value, CURRENT, _set_fuse),
    Column("Fused at", lambda feed: " and ".join(feed.fused_at), None),
    Column("Wire", lambda feed: conductor_words(choice_name(feed.chosen)) if feed.chosen else "–", None),
    Column("Drop", lambda feed: feed.drop_share.value if feed.drop_share else None, FRACTION),
)


class FeedsLeaf(Leaf):
    """The table with the figures of the row chosen."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Feeds of converters"), wide=2)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.figures = self.figure_row()

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(*self.model.record(row).converters)
            self._tell(self.model.record(row))

    def _tell(self, feed: FeedRun) -> None:
        more = tuple(one for one in (feed.length_m, feed.drop_share) if one is not None)
        self.figures.put((feed.current_a, feed.fuse_a, *more))

    def show_shown(self, shown: Shown) -> None:
        found = shown.design.feeds_in
        self.model.put(found)
        row = self.table.currentIndex().row()
        self.said.setText("" if found else tr("No converter has a cable beside the main runs."))
        if found:
            self._tell(found[row] if 0 <= row < len(found) else found[0])
        else:
            self.figures.put(())
