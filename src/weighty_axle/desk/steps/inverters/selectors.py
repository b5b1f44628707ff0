"""Selectors: contacts by position, what each position asks of the inverters, and the safe order of change."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout

from weighty_axle.design.inverters.ac_wiring import terminals
from weighty_axle.design.inverters.selectors import bypass_selector, change_order, stacking_selector
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.records import SaidLine
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.edits.inverters import STACKING_WORDS, add_selector, remove_part
from weighty_axle.job.models.inverters import Contact, Position, Selector
from weighty_axle.job.tags import next_tag
from weighty_axle.units import CURRENT, System

_ROW, _HEAD, _NAMES = 24.0, 46.0, 210.0


class ContactChart(Canvas):
    """Rows are contacts, columns positions; a filled cell is closed.

    Press a cell, or move with the arrows and press Space, to change it.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.tag = ""
        self.cell = (0, 0)
        self.setMinimumHeight(90)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Contacts by position"))

    @property
    def selector(self) -> Selector | None:
        """The selector on show."""
        return next((one for one in self._session.shown.job.ac.selectors if one.tag == self.tag), None)

    @staticmethod
    def contacts(selector: Selector) -> list[Contact]:
        """Every contact any position closes."""
        return list(dict.fromkeys(contact for position in selector.positions for contact in position.contacts))

    def draw(self, painter: QPainter) -> None:
        now, selector = look(), self.selector
        if selector is None:
            text = tr(
                "No selector: inlet, inverters and panels are joined for good. Add a usual one, or one of your own."
            )
            words(painter, QRectF(8, 8, self.width() - 16, 40), text, size=9.5, colour=now.muted, wrap=True)
            return
        contacts = self.contacts(selector)
        wide = min(170.0, (self.width() - _NAMES - 8) / len(selector.positions))
        row = min(_ROW, (self.height() - _HEAD) / max(1, len(contacts)))
        for column, position in enumerate(selector.positions):
            x = _NAMES + column * wide
            here = position.name == selector.now
            if here:
                painter.fillRect(QRectF(x, 0, wide - 4, _HEAD + row * len(contacts)), QColor(now.live_soft))
            words(
                painter,
                QRectF(x, 2, wide - 4, 18),
                position.name + (f" · {tr('now')}" if here else ""),
                size=9.5,
                bold=True,
                align=CENTRE,
            )
            asked = (
                STACKING_WORDS[position.stacking]
                if position.stacking
                else tr("all open")
                if not position.contacts
                else tr("any setting")
            )
            words(painter, QRectF(x, 20, wide - 4, 16), asked, size=8, colour=now.muted, align=CENTRE)
            self.areas.append((QRectF(x, 0, wide - 4, _HEAD - 6), f"head {column}"))
        for at, contact in enumerate(contacts):
            y = _HEAD + at * row
            words(painter, QRectF(8, y, _NAMES - 12, row), f"{contact.start} – {contact.end}", size=9)
            painter.setPen(QPen(QColor(now.line), 0.7))
            painter.drawLine(QPointF(8, y + row), QPointF(_NAMES + wide * len(selector.positions) - 4, y + row))
            for column, position in enumerate(selector.positions):
                self._cell(
                    painter,
                    QRectF(_NAMES + column * wide, y, wide - 4, row),
                    contact in position.contacts,
                    (at, column),
                )

    def _cell(self, painter: QPainter, box: QRectF, closed: bool, at: tuple[int, int]) -> None:
        """A closed contact is a bar from terminal to terminal, an open one two stubs."""
        now, y = look(), box.center().y()
        left, right = box.center().x() - 34, box.center().x() + 34
        painter.setPen(QPen(QColor(now.ink if closed else now.muted), 2.4 if closed else 1.4))
        if closed:
            painter.drawLine(QPointF(left, y), QPointF(right, y))
        else:
            painter.drawLine(QPointF(left, y), QPointF(left + 20, y))
            painter.drawLine(QPointF(left + 20, y), QPointF(right - 22, y - 7))
            painter.drawLine(QPointF(right - 18, y), QPointF(right, y))
        painter.setBrush(QColor(now.ink if closed else now.paper))
        for x in (left, right):
            painter.drawEllipse(QPointF(x, y), 2.6, 2.6)
        if self.hasFocus() and at == self.cell:
            painter.setPen(QPen(QColor(now.live), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box.adjusted(2, 2, -2, -2))
        self.areas.append((box, f"{at[0]} {at[1]}"))

    def toggle(self, at: int, column: int) -> None:
        """Close or open a contact in a position."""
        selector = self.selector
        if selector is None:
            return
        contact, position = self.contacts(selector)[at], selector.positions[column]
        closed = contact in position.contacts
        kept = tuple(one for one in position.contacts if one != contact) if closed else (*position.contacts, contact)
        positions = tuple(
            replace(one, contacts=kept) if index == column else one for index, one in enumerate(selector.positions)
        )
        label = f"{selector.name}, {position.name}: {contact.start} – {contact.end} {'open' if closed else 'closed'}"
        self._session.apply(set_value(f"ac.selectors[{selector.tag}].positions", positions, label))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        name, selector = self.area_at(event.position()), self.selector
        if selector is None or not name:
            return
        if name.startswith("head "):
            position = selector.positions[int(name.split()[1])]
            self._session.apply(
                set_value(f"ac.selectors[{selector.tag}].now", position.name, f"{selector.name} to {position.name}")
            )
            return
        at, column = map(int, name.split())
        self.cell = (at, column)
        self.toggle(at, column)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        selector = self.selector
        if selector is None or not self.contacts(selector):
            super().keyPressEvent(event)
        elif event.key() in steps:
            down, right = steps[Qt.Key(event.key())]
            self.cell = (
                (self.cell[0] + down) % len(self.contacts(selector)),
                (self.cell[1] + right) % len(selector.positions),
            )
            self.update()
        elif event.key() == Qt.Key.Key_Space:
            self.toggle(
                min(self.cell[0], len(self.contacts(selector)) - 1), min(self.cell[1], len(selector.positions) - 1)
            )
        else:
            super().keyPressEvent(event)


FIELDS = (
    Field("Selector", "ac.selectors[{tag}].name", str, wide=3),
    Field("Rated", "ac.selectors[{tag}].amps", CURRENT),
    Field("Switches the neutral", "ac.selectors[{tag}].switches_neutral", bool),
    Field("Interlocked with the inverters", "ac.selectors[{tag}].interlocked", bool, wide=2),
)


class SelectorsLeaf(Leaf):
    """Which selector, its fields, chart, and how to change from here to there."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Selector"))
        self.which.activated.connect(lambda _index: self._turn())
        self.add = QComboBox()
        self.add.setAccessibleName(tr("Add a selector"))
        self.add.addItems([tr("add a selector…"), *(tr(text) for text in self._usual())])
        self.add.activated.connect(self._add)
        for box in (self.which, self.add):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(10)
        self.row_of(
            self.which,
            self.add,
            ("Remove selector", self._remove),
            ("Print its card", lambda: self.wants.emit("selector card")),
        )
        self.fields = Fields(session, system, FIELDS, len(FIELDS))
        self.column.addWidget(self.fields)
        self.chart = ContactChart(session)
        self.column.addWidget(self.chart)
        self._said = SaidLine()
        self.column.addWidget(self._said)
        self.start, self.end = QComboBox(), QComboBox()
        for choice, name in ((self.start, tr("Contact from")), (self.end, tr("Contact to"))):
            choice.setAccessibleName(name)
        self.row_of(
            self.start, self.end, ("Add this contact", self._add_contact), ("Add a position", self._add_position)
        )
        self.asks = QComboBox()
        self.asks.setAccessibleName(tr("Where it stands asks for"))
        self.asks.addItem(tr("where it stands asks for any setting"), None)
        for stacking, word in STACKING_WORDS.items():
            self.asks.addItem(tr("where it stands asks for {word}").format(word=word), stacking)
        self.asks.activated.connect(self._ask)
        self.asks.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.asks.setMinimumContentsLength(12)
        order = QHBoxLayout()
        self.to = QComboBox()
        self.to.setAccessibleName(tr("Change to"))
        self.to.activated.connect(lambda _index: self._tell())
        order.addWidget(Label(tr("Safe order of change to")))
        order.addWidget(self.to)
        order.addWidget(self.asks, 1)
        self.column.addLayout(order)
        self.order = Label()
        self.order.setWordWrap(True)
        self.order.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        self.column.addWidget(self.order, 1)

    # ---- doing ----

    def _usual(self) -> dict[str, Callable[[], None]]:
        """What can be added, and how."""
        return {
            "a stacking selector": self._add_stacking,
            "a bypass selector": self._add_bypass,
            "one of my own": self._add_own,
        }

    def _add(self, index: int) -> None:
        if index > 0:
            list(self._usual().values())[index - 1]()
            self.add.setCurrentIndex(0)

    def _apply(self, edit: Edit | None, refusal: str = "") -> None:
        self._said.setText((self.session.apply(edit) or "") if edit is not None else refusal)

    def _add_stacking(self) -> None:
        shown = self.session.shown
        refusal = tr("It needs two or more inverters of one line, set split-phase or with both legs in phase.")
        self._apply(stacking_selector(shown.job, shown.design.ac), refusal)

    def _add_bypass(self) -> None:
        self._apply(bypass_selector(self.session.shown.job, self.session.shown.design.ac))

    def _add_own(self) -> None:
        positions = (Position(name="1"), Position(name="Off"), Position(name="2"))
        made = Selector(
            tag=next_tag(self.session.shown.whole, "selector"), name="Selector", positions=positions, now="Off"
        )
        self._apply(add_selector(made, feeds_inverters=False))

    def _remove(self) -> None:
        if self.chart.selector is not None:
            self._apply(remove_part(self.chart.selector.tag))

    def _change(self, positions: tuple[Position, ...], label: str) -> None:
        if self.chart.selector is not None:
            self._apply(set_value(f"ac.selectors[{self.chart.selector.tag}].positions", positions, label))

    def _add_contact(self) -> None:
        selector = self.chart.selector
        if selector is None:
            return
        contact = Contact(self.start.currentText(), self.end.currentText())
        if contact.start == contact.end or contact in self.chart.contacts(selector):
            self._said.setText(tr("Choose two terminals that are not joined by a contact yet."))
            return
        positions = tuple(
            replace(position, contacts=(*position.contacts, contact)) if position.name == selector.now else position
            for position in selector.positions
        )
        self._change(positions, f"{selector.name}: contact {contact.start} – {contact.end}")

    def _add_position(self) -> None:
        selector = self.chart.selector
        if selector is not None:
            names = {position.name for position in selector.positions}
            name = next(str(number) for number in range(1, 20) if str(number) not in names)
            self._change((*selector.positions, Position(name=name)), f"{selector.name}: position {name}")

    def _ask(self, index: int) -> None:
        selector = self.chart.selector
        if selector is not None:
            wanted = self.asks.itemData(index)
            positions = tuple(
                replace(position, stacking=wanted) if position.name == selector.now else position
                for position in selector.positions
            )
            self._change(
                positions, f"{selector.name}, {selector.now}: {STACKING_WORDS[wanted] if wanted else 'any setting'}"
            )

    # ---- showing ----

    def _turn(self) -> None:
        self.chart.tag = self.which.currentData() or ""
        self.show_shown(self.session.shown)

    def _tell(self) -> None:
        selector = self.chart.selector
        if selector is None or self.to.currentIndex() < 0:
            self.order.setText("")
            return
        steps = change_order(selector, self.to.currentText(), self.session.shown.job.inverters)
        self.order.setText("\n".join(f"{number}. {step}" for number, step in enumerate(steps, 1)))

    def show_shown(self, shown: Shown) -> None:
        selectors = shown.job.ac.selectors
        self.which.clear()
        for one in selectors:
            self.which.addItem(one.name, one.tag)
        if self.chart.selector is None:
            self.chart.tag = selectors[-1].tag if selectors else ""
        self.which.setCurrentIndex(next((at for at, one in enumerate(selectors) if one.tag == self.chart.tag), -1))
        selector = self.chart.selector
        for part in (self.which, self.fields, self.start, self.end, self.asks, self.to):
            part.setEnabled(selector is not None)
        for name in ("Remove selector", "Print its card", "Add this contact", "Add a position"):
            self.presses[name].setEnabled(selector is not None)
        self.fields.show_shown(shown, self.chart.tag)
        kept = self.start.currentText(), self.end.currentText(), self.to.currentText()
        names = terminals(shown.design.ac, shown.job.inverters)
        for choice, text in ((self.start, kept[0]), (self.end, kept[1])):
            choice.clear()
            choice.addItems(names)
            choice.setCurrentText(text)
        self.to.clear()
        if selector is not None:
            self.to.addItems([position.name for position in selector.positions if position.name != selector.now])
            self.to.setCurrentText(kept[2])
            now = next(position for position in selector.positions if position.name == selector.now)
            self.asks.setCurrentIndex(self.asks.findData(now.stacking))
        self._tell()
        rows = len(self.chart.contacts(selector)) if selector is not None else 1
        self.chart.setFixedHeight(int(_HEAD + _ROW * min(rows, 10) + 6))
        self.chart.update()

    def commands(self) -> list[Command]:
        found = [
            Command(tr("Add a stacking selector"), "", self._add_stacking),
            Command(tr("Add a bypass selector"), "", self._add_bypass),
        ]
        if self.chart.selector is not None:
            found.append(
                Command(tr("Print the selector's card…"), "", partial(self.wants.emit, "selector card"), "print")
            )
        return found
