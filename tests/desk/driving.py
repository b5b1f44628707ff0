"""Hands for the window: areas of canvases, drags, fields, presses, leaves."""

from __future__ import annotations

import numpy  # noqa: F401  # there from the start, so that what is shown does not depend on when its import ends
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton, QWidget

from weighty_axle.desk.kit.fields import Entry

KEY = Qt.Key


def area(canvas, name: str) -> QPointF:
    """Centre of a named area of a painted widget."""
    canvas.grab()
    return next(rect.center() for rect, tag in reversed(canvas.areas) if tag == name)


def send_move(widget, point: QPointF, button) -> None:
    """Moves with a button held do not arrive through QTest on every platform; send them."""
    from PySide6.QtCore import QEvent
    from PySide6.QtGui import QMouseEvent

    event = QMouseEvent(
        QEvent.Type.MouseMove,
        point,
        widget.mapToGlobal(point),
        Qt.MouseButton.NoButton,
        button,
        Qt.KeyboardModifier.NoModifier,
    )
    QApplication.sendEvent(widget, event)


def drag(widget, start: QPointF, end: QPointF, button=Qt.MouseButton.LeftButton, steps: int = 6) -> None:
    """A real drag: press, several moves, release."""
    QTest.mousePress(widget, button, Qt.KeyboardModifier.NoModifier, start.toPoint())
    for step in range(1, steps + 1):
        point = start + (end - start) * step / steps
        QTest.mouseMove(widget, QPoint(round(point.x()), round(point.y())))
        send_move(widget, point, button)
    QTest.mouseRelease(widget, button, Qt.KeyboardModifier.NoModifier, end.toPoint())


def press(view: QWidget, words: str) -> None:
    button = next(one for one in view.findChildren(QPushButton) if one.text() == words)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def retype(line: Entry, text: str) -> None:
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)
    QTest.keyClick(line, KEY.Key_Return)


def entry(view: QWidget, name: str) -> Entry:
    return next(one for one in view.findChildren(Entry) if one.accessibleName() == name)


def choose(parent, name, entry):
    """Choose an entry of a combo box by what it stands for, or by its words."""
    box = next(one for one in parent.findChildren(QComboBox) if one.accessibleName() == name)
    index = box.findData(entry)
    index = index if index >= 0 else box.findText(str(entry))
    assert index >= 0, (name, entry, [box.itemText(at) for at in range(box.count())])
    box.setCurrentIndex(index)
    box.activated.emit(index)


def leaf(window, step, name):
    window.go(step)
    QApplication.processEvents()  # a bench that was just built comes on show with the next turn of the loop
    view = window.bench.view(step)
    button = next(one for one in view._presses.buttons() if one.text() == name)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert view.leaf_name == name
    return view.leaf
