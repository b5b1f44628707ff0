"""Random use of the real window: clicks, drags, keys, wheel, fields, choices, undo, looks, steps, leaves, the long way
round.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLineEdit, QTableView, QWidget

from weighty_axle import demos
from weighty_axle.desk.frame.window import Window
from weighty_axle.desk.kit.painting import Canvas
from weighty_axle.reference.vehicle_types import vehicle_types
from weighty_axle.steps import STEPS

TYPED = (
    "0",
    "1",
    "-1",
    "12",
    "1e9",
    "1e-9",
    "abc",
    "",
    "50%",
    "3 m",
    "12 V",
    "2*3.5",
    "100",
    "=1",
    "<b>x</b>",
    "Żółw",
    "0.5",
    "400",
    "L1",
    "10 AWG",
    "70 mm2",
)
LEFT_ALONE = (
    "Print",
    "Save",
    "Save as…",
    "Job",
    "Find or do…",
    "A job file…",
    "Take in",
    "Write",
    "table",
    "Card",
    "card",
    "Read",
    "weather",
    "Open",
    "Cancel",
)
"""Words of presses that ask for a file or leave the job."""


class Hands:
    """Uses a window at random; the same way for the same seed.

    `held` is, for each action, what the window's thread worked, what passed in all [s], and its name.
    """

    def __init__(self, window: Window, seed: int) -> None:
        self.window, self.dice = window, random.Random(seed)
        self.done: list[str] = []
        self.held: list[tuple[float, float, str]] = []
        self._pressed: tuple[Canvas, QPointF] | None = None
        self._actions: list[tuple[int, Callable[[], str]]] = [
            (10, self._canvas),
            (4, self._drag_begins),
            (8, self._drag_goes_on),
            (3, self._drag_ends),
            (12, self._field),
            (8, self._choice),
            (8, self._press),
            (6, self._key),
            (5, self._cell),
            (4, self._wheel),
            (6, self._step),
            (8, self._leaf),
            (6, self._undo),
            (3, self._redo),
            (4, self._remedy),
            (1, self._look),
            (1, self._text),
            (1, self._units),
            (1, self._job),
            (2, self._size),
            (3, self._select),
            (2, self._figure),
        ]

    def go(self, seconds: float = 1e9, actions: int = 10**9) -> None:
        """Act until the time is up or so many actions are done."""
        began = time.monotonic()
        weights = [weight for weight, _ in self._actions]
        while time.monotonic() - began < seconds and len(self.done) < actions:
            (_, action), *_ = self.dice.choices(self._actions, weights)
            started, worked = time.monotonic(), time.thread_time()
            name = action()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # as the event loop of the program does
            QApplication.processEvents()
            self.done.append(name)
            self.held.append((time.thread_time() - worked, time.monotonic() - started, name))
        if self._pressed is not None:
            self._drag_ends()

    # ---- what there is ----

    def _all(self, kind: type) -> list:
        bench = self.window.bench
        assert bench is not None
        return [
            one
            for one in bench.findChildren(kind)
            if one.isVisible() and one.isEnabled() and not one.visibleRegion().isEmpty()
        ]

    def _canvases(self) -> list[Canvas]:
        return self._all(Canvas)

    def _point(self, widget: QWidget) -> QPointF:
        if isinstance(widget, Canvas) and widget.areas and self.dice.random() < 0.7:
            rect = self.dice.choice(widget.areas)[0]
            return QPointF(self.dice.uniform(rect.left(), rect.right()), self.dice.uniform(rect.top(), rect.bottom()))
        return QPointF(self.dice.uniform(-5, widget.width() + 5), self.dice.uniform(-5, widget.height() + 5))

    def _send(
        self, widget: QWidget, kind: QEvent.Type, point: QPointF, button: Qt.MouseButton, held: Qt.MouseButton
    ) -> None:
        modifiers = self.dice.choice(
            (Qt.KeyboardModifier.NoModifier,) * 4
            + (Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier)
        )
        QApplication.sendEvent(widget, QMouseEvent(kind, point, widget.mapToGlobal(point), button, held, modifiers))

    # ---- actions; each says what it did ----

    def _canvas(self) -> str:
        found = self._canvases()
        if not found:
            return "nothing"
        widget = self.dice.choice(found)
        point, button = (
            self._point(widget),
            self.dice.choice((Qt.MouseButton.LeftButton,) * 4 + (Qt.MouseButton.RightButton,)),
        )
        self._send(widget, QEvent.Type.MouseButtonPress, point, button, button)
        self._send(widget, QEvent.Type.MouseButtonRelease, point, button, Qt.MouseButton.NoButton)
        if self.dice.random() < 0.2:
            self._send(widget, QEvent.Type.MouseButtonDblClick, point, button, button)
            self._send(widget, QEvent.Type.MouseButtonRelease, point, button, Qt.MouseButton.NoButton)
        return f"click {type(widget).__name__}"

    def _drag_begins(self) -> str:
        found = self._canvases()
        if not found or self._pressed is not None:
            return "nothing"
        widget = self.dice.choice(found)
        point = self._point(widget)
        self._send(widget, QEvent.Type.MouseButtonPress, point, Qt.MouseButton.LeftButton, Qt.MouseButton.LeftButton)
        self._pressed = (widget, point)
        return f"hold {type(widget).__name__}"

    def _drag_goes_on(self) -> str:
        return self._drag(QEvent.Type.MouseMove)

    def _drag_ends(self) -> str:
        return self._drag(QEvent.Type.MouseButtonRelease)

    def _drag(self, kind: QEvent.Type) -> str:
        if self._pressed is None or self._pressed[0] not in self._canvases():
            self._pressed = None
            return "nothing"
        widget, point = self._pressed
        to = QPointF(point.x() + self.dice.uniform(-200, 200), point.y() + self.dice.uniform(-60, 60))
        if kind == QEvent.Type.MouseMove:
            self._send(widget, kind, to, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
        else:
            self._send(widget, kind, to, Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton)
            self._pressed = None
        return f"{'drag' if kind == QEvent.Type.MouseMove else 'let go'} {type(widget).__name__}"

    def _field(self) -> str:
        found = self._all(QLineEdit)
        if not found:
            return "nothing"
        entry = self.dice.choice(found)
        name = entry.accessibleName()
        old = entry.text()
        text = self.dice.choice((*TYPED, old + "0", "-" + old, old[:-1], "0." + old))
        entry.setText(text)
        entry.editingFinished.emit()
        return f"type {text!r} into {name}"

    def _choice(self) -> str:
        found = [one for one in self._all(QComboBox) if one.count()]
        if not found:
            return "nothing"
        box = self.dice.choice(found)
        index = self.dice.randrange(box.count())
        words = f"choose {box.itemText(index)!r} in {box.accessibleName()}"
        box.setCurrentIndex(index)
        box.activated.emit(index)
        return words

    def _press(self) -> str:
        found = [one for one in self._all(QAbstractButton) if not any(words in one.text() for words in LEFT_ALONE)]
        if not found:
            return "nothing"
        button = self.dice.choice(found)
        words = f"press {button.text() or button.accessibleName()!r}"
        button.click()
        return words

    def _key(self) -> str:
        widget = QApplication.focusWidget() or self.window
        if self.dice.random() < 0.5 and (found := self._canvases()):
            widget = self.dice.choice(found)
            widget.setFocus()
        keys = Qt.Key
        key = self.dice.choice(
            (
                keys.Key_Left,
                keys.Key_Right,
                keys.Key_Up,
                keys.Key_Down,
                keys.Key_Delete,
                keys.Key_Return,
                keys.Key_Escape,
                keys.Key_Tab,
                keys.Key_Space,
                keys.Key_PageUp,
                keys.Key_N,
                keys.Key_P,
                keys.Key_T,
                keys.Key_R,
                keys.Key_L,
                keys.Key_F9,
                keys.Key_Plus,
                keys.Key_Minus,
                keys.Key_C,
                keys.Key_M,
                keys.Key_Home,
            )
        )
        QTest.keyClick(
            widget, key, self.dice.choice((Qt.KeyboardModifier.NoModifier,) * 4 + (Qt.KeyboardModifier.ShiftModifier,))
        )
        return f"key {key.name} on {type(widget).__name__}"

    def _cell(self) -> str:
        found = [one for one in self._all(QTableView) if one.model() is not None and one.model().rowCount()]
        if not found:
            return "nothing"
        table = self.dice.choice(found)
        model = table.model()
        index = model.index(self.dice.randrange(model.rowCount()), self.dice.randrange(model.columnCount()))
        table.setCurrentIndex(index)
        if model.flags(index) & Qt.ItemFlag.ItemIsEditable:
            model.setData(index, self.dice.choice(TYPED))
        return f"cell of {table.accessibleName()}"

    def _wheel(self) -> str:
        found = self._canvases()
        if not found:
            return "nothing"
        widget = self.dice.choice(found)
        point = self._point(widget)
        modifiers = self.dice.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier))
        turn = QPoint(0, self.dice.choice((120, -120)))
        event = QWheelEvent(
            point,
            widget.mapToGlobal(point),
            QPoint(),
            turn,
            Qt.MouseButton.NoButton,
            modifiers,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(widget, event)
        return f"wheel {type(widget).__name__}"

    def _step(self) -> str:
        step = self.dice.choice(STEPS).key
        self.window.go(step)
        return f"go {step}"

    def _leaf(self) -> str:
        bench = self.window.bench
        assert bench is not None
        view = bench.view(bench.step)
        name = self.dice.choice(view.leaf_names)
        view.turn_to(name)
        return f"leaf {bench.step} {name}"

    def _undo(self) -> str:
        count = self.dice.choice((1, 1, 1, 2, 10))
        self.window.undo_times(count)
        return f"undo {count}"

    def _redo(self) -> str:
        self.window.redo()
        return "redo"

    def _remedy(self) -> str:
        assert self.window.session is not None
        remedies = [remedy for finding in self.window.session.shown.findings for remedy in finding.remedies]
        if not remedies:
            return "nothing"
        remedy = self.dice.choice(remedies)
        self.window.apply(remedy)
        return f"remedy {remedy.label}"

    def _look(self) -> str:
        self._pressed = None
        self.window.set_look(self.dice.choice(("light", "dark")))
        return "look"

    def _text(self) -> str:
        self._pressed = None
        self.window.set_text_scale(self.dice.choice((0.8, 1.0, 1.3, 1.6)))
        return "text size"

    def _units(self) -> str:
        self._pressed = None
        self.window.set_units(self.dice.choice(("metric", "us")))
        return "units"

    def _job(self) -> str:
        """Another job, the one that is open being left as it is."""
        self._pressed = None
        assert self.window.session is not None
        self.window.session._saved_job = self.window.session.shown.job
        if self.dice.random() < 0.5:
            self.window.open_name(f"demo:{self.dice.choice(demos.names())}")
        else:
            self.window.jobs.new_from_type(self.dice.choice(vehicle_types().rows).key)
        return "another job"

    def _size(self) -> str:
        self.window.resize(
            self.dice.choice(((1024, 700), (1280, 800), (1600, 1000), (1100, 720))).__getitem__(0),
            self.dice.choice((700, 800, 1000)),
        )
        return "size"

    def _select(self) -> str:
        assert self.window.session is not None
        tags = [item.tag for item in self.window.session.shown.design.items]
        self.window.session.select(*self.dice.sample(tags, min(len(tags), self.dice.choice((0, 1, 2)))))
        return "select"

    def _figure(self) -> str:
        assert self.window.session is not None and self.window.bench is not None
        figures = [figure for _, figure in self.window.session.shown.design.figures()]
        self.window.bench.open_figure(self.dice.choice(figures))
        return "workings"
