"""Joints: what both ends of every way are made of, how the parts lie on a stud, and the bar with its ways."""

from __future__ import annotations

from typing import Any, NamedTuple

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QHBoxLayout

from weighty_axle.answers.wiring.joints import ENDS, EndName, Joint, WayEnd, joints
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, Canvas, brush, pen, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, of_whole, set_value
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.wiring import FoundStack, StackPart
from weighty_axle.job.tags import next_tag
from weighty_axle.rules.wiring.joints import PART_WORDS
from weighty_axle.units import System, conductor_words, show


class EndRow(NamedTuple):
    """A row: one end of a way."""

    joint: Joint
    name: EndName

    @property
    def end(self) -> WayEnd:
        """The end itself."""
        return self.joint.of(self.name)

    @property
    def key(self) -> str:
        """How its stud is stated."""
        return f"{self.joint.tag} {self.name}"


def _set_stud(row: EndRow, typed: Any) -> Edit:
    """The stud the part really has; emptied, the usual one."""
    size = str(typed).strip().upper() if typed else None
    words = f"Stud of {row.key}: {size}" if size else f"Usual stud at {row.key}"
    return of_whole(set_value(f"wiring.studs[{row.key}]", size, words))


_COLUMNS = (
    Column("Way", lambda row: row.joint.tag if row.name == "start" else "", None),
    Column("End at", lambda row: row.end.at, None),
    Column("On it", lambda row: conductor_words(row.end.fitting), None),
    Column("Stud", lambda row: row.end.stud or "–", None, _set_stud, clears=True),
    Column(
        "Torque",
        lambda row: show(row.end.torque_nm.value, "N m") if row.end.torque_nm is not None else tr("as the part says"),
        None,
    ),
    Column("Shrink", lambda row: row.end.shrink or "–", None),
    Column("Turned", lambda row: row.joint.turn if row.name == "start" else "", None),
)


class StackPicture(Canvas):
    """The parts of one end from the face outwards, as they are put on; the wrong place for a washer is crossed out."""

    smooth = True

    def __init__(self) -> None:
        super().__init__()
        self.row: EndRow | None = None
        self.setMinimumSize(250, 170)
        self.setAccessibleName(tr("Order of the parts on a stud"))

    def draw(self, painter: QPainter) -> None:
        now, row = look(), self.row
        if row is None:
            return
        title = tr("{end}: from the bottom up").format(end=row.key)
        words(painter, QRectF(4, 2, self.width() - 8, 16), title, size=9, bold=True)
        if row.end.stud is None:
            words(painter, QRectF(4, 24, self.width() - 8, 40), row.end.fitting, size=9)
            return
        order = row.end.order
        each = min(24.0, (self.height() - 40) / len(order))
        middle, y = 92.0, self.height() - 12.0
        painter.setPen(pen(now.ink, 1.0))
        painter.setBrush(brush(now.track))
        painter.drawRect(QRectF(middle - 6, y - each * (len(order) + 0.6), 12, each * (len(order) + 0.6)))
        for part in order:
            y -= each
            self._part(painter, part, QRectF(middle, y, 0, each))
            name = PART_WORDS[part]
            if part == "lug" and row.joint.count > 1:
                name = tr("{count} lugs, the one that carries most lowest").format(count=row.joint.count)
            told = tr("{part}: its faces carry") if part in ("bar", "fuse", "lug") else "{part}"
            place = QRectF(middle + 74, y, self.width() - middle - 78, each)
            words(painter, place, told.format(part=name), size=8.5)

    def _part(self, painter: QPainter, part: StackPart, at: QRectF) -> None:
        now = look()
        half, high = {
            "bar": (74, 0.9),
            "fuse": (46, 0.8),
            "lug": (34, 0.5),
            "washer": (26, 0.28),
            "spring_washer": (20, 0.4),
            "nut": (18, 0.9),
        }[part]
        box = QRectF(at.x() - half, at.y() + at.height() * (1 - high), 2 * half, at.height() * high)
        conducts = part in ("bar", "fuse", "lug")
        painter.setPen(pen(now.ink, 1.1))
        painter.setBrush(brush(now.check if conducts else now.steel))
        painter.drawRect(box)
        if part == "spring_washer":
            painter.setPen(pen(now.paper, 2.0))
            painter.drawLine(QPointF(at.x() - 2, box.bottom()), QPointF(at.x() + 2, box.top()))


class BarPicture(Canvas):
    """A bar with its studs in order: what is on each, its fuse, and what stays spare."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.bar = ""
        self.setMinimumHeight(170)
        self.setAccessibleName(tr("The bar with its ways"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        root = next((one for one in design.tree.roots if one.bar == self.bar), None)
        if root is None:
            return
        board = design.job.wiring.board
        own = board.tag == root.bar
        spare = max(board.spare, (board.ways or 0) - (len(root.studs) - 1)) if own else 0
        fuses = {way.tag: way.fuse_a for way in root.ways}
        studs = [*root.studs, *([""] * spare)]
        title = tr("{bar}, stud by stud").format(bar=root.bar)
        words(painter, QRectF(4, 2, self.width() - 8, 16), title, size=9, bold=True)
        step = min(92.0, (self.width() - 16) / max(1, len(studs)))
        y = 64.0
        painter.setPen(pen(now.ink, 1.2))
        painter.setBrush(brush(now.check))
        painter.drawRect(QRectF(8, y, step * len(studs), 16))
        for at, tag in enumerate(studs):
            x = 8 + step * (at + 0.5)
            chosen = tag in self._session.selection
            painter.setPen(pen(now.ink, 1.0))
            painter.setBrush(brush(now.paper))
            painter.drawEllipse(QPointF(x, y + 8), 5, 5)
            words(painter, QRectF(x - step / 2, y - 18, step, 15), str(at + 1), size=8, colour=now.muted, align=CENTRE)
            text = tag or tr("spare")
            box = QRectF(x - step / 2 + 2, y + 22, step - 4, 34)
            words(painter, box, text, size=8.5 if step > 60 else 7, bold=chosen, align=CENTRE, wrap=True)
            if tag:
                fuse = QRectF(x - step / 2, y + 58, step, 15)
                words(painter, fuse, show(fuses[tag], "A"), size=8, colour=now.muted, align=CENTRE)
                self.areas.append((QRectF(x - step / 2, y - 18, step, 92), tag))
        told = tr("the same order on the minus bar; section {mm2} mm², {pitch} mm from stud to stud").format(
            mm2=f"{design.job.bank.links.bar_mm2:g}", pitch=f"{1000 * design.job.bank.links.bar_pitch_m:g}"
        )
        words(painter, QRectF(8, y + 80, self.width() - 16, 15), told, size=8, colour=now.muted)


class JointsLeaf(Leaf):
    """The table of ends, the stack of the one chosen, its bar."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Both ends of every way"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        row = QHBoxLayout()
        self.stack, self.bar = StackPicture(), BarPicture(session)
        row.addWidget(self.stack, 2)
        row.addWidget(self.bar, 3)
        self.column.addLayout(row)
        self.row_of(("Note a stud as found", self.add_found))
        self.follow(self.table, self.model, lambda one: one.joint.tag)

    def add_found(self) -> None:
        """State how the chosen stud was found, and open its sheet."""
        chosen = self._chosen()
        tag = next_tag(self.session.shown.whole, "stud as found")
        made = FoundStack(tag=tag, way="W-MAIN", order=("bar", "lug", "nut"))
        if chosen is not None and chosen.end.order:
            made = FoundStack(tag=tag, way=chosen.joint.tag, end=chosen.name, order=chosen.end.order)
        refused = self.session.apply(of_whole(add_entry("stacks", made, "stacks")))
        self.said.setText(refused or "")
        if not refused:
            self.session.sheet_asked.emit(tag)

    def commands(self) -> list[Command]:
        return [Command(tr("Note a stud as found"), "", self.add_found)]

    def _chosen(self) -> EndRow | None:
        row = self.table.currentIndex().row()
        if not self.model.rowCount():
            return None
        found: EndRow = self.model.record(row if 0 <= row < self.model.rowCount() else 0)
        return found

    def _on_row(self) -> None:
        chosen = self._chosen()
        if chosen is not None and self.table.currentIndex().isValid():
            self.session.select(chosen.joint.tag)
        self._tell()

    def _tell(self) -> None:
        chosen = self._chosen()
        self.stack.row = chosen
        ways = {way.tag: way for way in self.session.shown.design.tree.ways}
        # While the table takes its new rows, one of the old ones may be chosen still.
        way = ways.get(chosen.joint.tag) if chosen is not None else None
        self.bar.bar = way.bar if way is not None else ""
        self.stack.update()
        self.bar.update()

    def show_shown(self, shown: Shown) -> None:
        made = joints(shown.design)
        self.model.put(tuple(EndRow(one, end) for one in made for end in ENDS))
        self._tell()
