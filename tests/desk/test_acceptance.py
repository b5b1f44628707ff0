"""The whole job in one sitting, a monkey at every instrument, and the smallest window."""

from __future__ import annotations

import itertools
import math
import random

import pypdf
import pytest
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QPushButton

from tests.desk.driving import area, drag, entry, press, retype
from weighty_axle.design.derive import derive
from weighty_axle.desk.frame.tell_line import tells
from weighty_axle.desk.kit.fields import _Cell
from weighty_axle.desk.kit.figures import NAME_POINTS, FigureButton, FigureRow
from weighty_axle.desk.kit.painting import Canvas
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.steps.brief.ribbons import ROW, TOP
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import move, set_value
from weighty_axle.job.edits.roof import move_on_roof
from weighty_axle.job.files import store
from weighty_axle.rules.judge import judge
from weighty_axle.steps import STEPS
from weighty_axle.units import show

KEY, CTRL = Qt.Key, Qt.KeyboardModifier.ControlModifier


def test_open_change_fix_undo_save_reopen_and_print(open_window, qtbot, tmp_path, monkeypatch):
    """A new user changes the roof, the bank and its place, watches the figures, fixes a Stop, undoes it, saves,
    reopens, prints.
    """
    window = open_window("demo:eye-clinic")
    session = window.session

    def told():
        return [cell.figure.value for cell in tells(session.shown.design)]

    start = told()
    QTest.keyClick(window, "5")
    plan = window.bench.view("roof").leaf.plan
    drag(plan, area(plan, "PV12"), area(plan, "PV12") + QPointF(-90, 0))
    assert "roof.clash" in {one.rule.id for one in session.shown.findings}
    QTest.keyClick(window, KEY.Key_Z, CTRL)
    session.apply(set_value("roof.modules[PV12]", None, "Take PV12 off"))
    session.select("PV1")
    press(window.bench.view("roof").leaf, "Add a module")
    assert "roof.unequal-strings" in {one.rule.id for one in session.shown.findings}

    QTest.keyClick(window, "3")
    press(window.bench.view("bank"), "One pack more")
    assert told()[1] > start[1], "the bank lasts longer"

    QTest.keyClick(window, "7")
    drawing = window.bench.view("place").leaf.drawing
    scale = drawing.panes()[0].scale
    before, drop = told(), session.shown.design.wiring.worst_drop_share.value
    drag(drawing, area(drawing, "side BP1"), area(drawing, "side BP1") + QPointF(-0.8 * scale, 0))
    assert told()[5] < before[5], "the front axle has less left"
    assert session.shown.design.wiring.worst_drop_share.value != drop, "cables follow the bank"

    QTest.keyClick(window, "6")
    QTest.keyClick(window, "8")
    stops = [one for one in session.shown.findings if one.rule.severity == "stop" and one.rule.step == "wiring"]
    card = window.bench.findings.cards()[0]
    assert card.finding.rule.id == stops[0].rule.id == "wiring.fuse-breaking"
    press(card, card.finding.remedy.label)
    assert not [one for one in session.shown.findings if one.rule.id == "wiring.fuse-breaking"]
    QTest.keyClick(window, KEY.Key_Z, CTRL)
    assert [one for one in session.shown.findings if one.rule.id == "wiring.fuse-breaking"]

    path = tmp_path / "mine.axle"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    QTest.keyClick(window, KEY.Key_S, CTRL)
    saved = session.shown.job
    window.open_name("demo:puppet-theatre")
    window.open_name(str(path))
    assert window.session.shown.job == saved == store.load(path)
    assert [one.sentence() for one in window.session.shown.findings] == [one.sentence() for one in judge(derive(saved))]

    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path / "pack"))
    QTest.keyClick(window, KEY.Key_P, CTRL)
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    text = "".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / "pack" / "pack.pdf").pages)
    assert "Harebell Eye Clinic" in text and "STOP" in text


def _rattle(canvas: Canvas, dice: random.Random) -> None:
    """One random thing a hand can do to an instrument."""
    point = QPointF(dice.uniform(0, canvas.width()), dice.uniform(0, canvas.height()))
    kind = dice.randrange(4)
    if kind == 0:
        drag(
            canvas,
            point,
            point + QPointF(dice.uniform(-120, 120), dice.uniform(-60, 60)),
            dice.choice([Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton]),
            steps=3,
        )
    elif kind == 1:
        QTest.mouseClick(
            canvas, Qt.MouseButton.LeftButton, dice.choice([Qt.KeyboardModifier.NoModifier, CTRL]), point.toPoint()
        )
    else:
        keys = [
            KEY.Key_Left,
            KEY.Key_Right,
            KEY.Key_Up,
            KEY.Key_Down,
            KEY.Key_Space,
            KEY.Key_Return,
            KEY.Key_Plus,
            KEY.Key_Minus,
            KEY.Key_N,
            KEY.Key_P,
            KEY.Key_T,
            KEY.Key_PageUp,
        ]
        QTest.keyClick(
            canvas, dice.choice(keys), dice.choice([Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier])
        )


@pytest.mark.parametrize("name", ["demo:eye-clinic", "demo:puppet-theatre"])
@pytest.mark.parametrize("seed", range(2))
def test_a_monkey_breaks_nothing_and_can_be_undone(open_window, name, seed):
    window = open_window(name)
    dice, start = random.Random(seed), window.session.shown.job
    for step in (one.key for one in STEPS):
        window.go(step)
        view = window.bench.view(step)
        for canvas in [window.bench.strip, window.bench.tell, *view.findChildren(Canvas)]:
            if not canvas.isVisible():
                continue
            canvas.setFocus()
            canvas.grab()
            for _ in range(12):
                _rattle(canvas, dice)
        assert problems(window.session.shown.job) == []
    steps = len(window.session.undo_steps())
    assert steps >= 3
    fresh = derive(window.session.shown.job)
    assert [(path, figure.value) for path, figure in window.session.shown.design.figures()] == [
        (path, figure.value) for path, figure in fresh.figures()
    ], "kept results equal fresh ones"
    for _ in range(steps):
        window.session.undo()
    assert window.session.shown.job == start


@pytest.mark.parametrize("scale", [1.0, 1.3])
def test_the_smallest_window_cuts_no_button_and_overlaps_nothing(open_window, qapp, scale):
    window = open_window("demo:eye-clinic", text_scale=scale)
    window.set_text_scale(scale)
    QApplication.processEvents()
    window.resize(1024, 700)
    for step in (one.key for one in STEPS):
        window.go(step)
        qapp.processEvents()
        view = window.bench.view(step)
        for button in view.findChildren(QPushButton):
            if button.isVisible() and button.text():
                assert button.fontMetrics().horizontalAdvance(button.text()) <= button.width() + 4, (
                    step,
                    button.text(),
                )
        shown = [
            child
            for child in view.children()
            if hasattr(child, "isVisible")
            and not isinstance(child, QLabel)
            and child.isWidgetType()
            and child.isVisible()
        ]
        for index, one in enumerate(shown):
            for other in shown[index + 1 :]:
                assert not one.geometry().intersects(other.geometry()), (step, one, other)
        assert window.width() == 1024, step
        for leaf in view.leaf_names:
            view.turn_to(leaf)
            qapp.processEvents()
            assert view.minimumSizeHint().width() <= window.bench._areas[step].viewport().width() or scale > 1, (
                step,
                leaf,
                "is cut at the right",
            )
            for cell in view.leaf.findChildren(_Cell):
                assert cell.words_px <= cell.width() or not cell.isVisible() or cell.parent()._columns == 1, (
                    step,
                    leaf,
                    cell.entry.accessibleName(),
                    "cut",
                )
        assert view.minimumSizeHint().width() <= window.bench._areas[step].viewport().width() or scale > 1, (
            step,
            "is cut at the right",
        )


def test_every_figure_on_every_step_opens_its_workings(window):
    for step in (one.key for one in STEPS):
        window.go(step)
        for leaf in window.bench.view(step).leaf_names:
            window.bench.view(step).turn_to(leaf)
        for row in window.bench.view(step).findChildren(FigureRow):
            for button in row._buttons:
                if not button.isVisible():
                    continue
                QTest.mouseClick(button, Qt.MouseButton.LeftButton)
                text = window.bench.workings._text.toPlainText().replace("\u00a0", " ")
                assert (
                    button.figure.name.replace("\u00a0", " ") in text
                    and button.figure.formula[:12] in text
                    and "Source" in text
                )


@pytest.mark.parametrize("name", ["demo:eye-clinic", "demo:puppet-theatre"])
def test_figures_in_the_instruments_open_by_double_click(open_window, name):
    window = open_window(name)
    opened = 0
    for step in (one.key for one in STEPS):
        window.go(step)
        for canvas in [window.bench.strip, *window.bench.view(step).findChildren(Canvas)]:
            canvas.grab()
            for rect, figure in list(canvas.figures):
                if canvas.figure_at(rect.center()) is figure and canvas.isVisible():
                    QTest.mouseDClick(
                        canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, rect.center().toPoint()
                    )
                    assert figure.name in window.bench.workings._text.toPlainText()
                    opened += 1
    assert opened > 20


def test_findings_of_all_steps_and_of_this_one(window):
    panel = window.bench.findings
    window.go("bank")
    assert {card.finding.rule.step for card in panel.cards()} == {"bank"}
    press(panel, f"all {len(window.session.shown.findings)}")
    assert len(panel.cards()) == len(window.session.shown.findings)
    assert [card.finding.rule.severity for card in panel.cards()] == sorted(
        (card.finding.rule.severity for card in panel.cards()), key=("stop", "check", "note").index
    )
    card = panel.cards()[0]
    press(card, "Workings")
    text = window.bench.workings._text.toPlainText().replace("\u00a0", " ")
    assert card.finding.sentence().replace("\u00a0", " ") in text and card.finding.rule.source in text


def test_the_keyboard_alone_can_do_a_days_work(open_window, tmp_path, monkeypatch):
    """No mouse: choose a demo, paint, change a field, go to a step, put a Stop right, undo, save."""
    window = open_window("demo:eye-clinic")
    ribbons = window.bench.view("brief").day.ribbons
    ribbons.setFocus()
    QTest.keyClick(ribbons, KEY.Key_Down)
    QTest.keyClick(ribbons, KEY.Key_Right)
    QTest.keyClick(ribbons, KEY.Key_Space)
    assert window.session.undo_label.startswith(("Paint", "Wipe"))
    QTest.keyClick(window, KEY.Key_K, CTRL)
    QTest.keyClicks(window.palette_list._entry, "go to charging")
    QTest.keyClick(window.palette_list._entry, KEY.Key_Return)
    retype(entry(window.bench.view("charging"), "System charge limit"), "0.28 kA")
    assert window.session.shown.job.charging.system_limit_a == 280
    QTest.keyClick(window, KEY.Key_K, CTRL)
    QTest.keyClicks(window.palette_list._entry, "undo")
    QTest.keyClick(window.palette_list._entry, KEY.Key_Return)
    assert window.session.shown.job.charging.system_limit_a is None
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "keys.axle"), ""))
    QTest.keyClick(window, KEY.Key_S, CTRL)
    window.jobs.wait()
    assert (tmp_path / "keys.axle").exists()


def test_the_wheel_changes_the_level_of_the_chosen_load_and_with_ctrl_looks_closer(window, qapp):
    from PySide6.QtCore import QPoint
    from PySide6.QtGui import QWheelEvent

    ribbons = window.bench.view("brief").day.ribbons
    point = QPointF(ribbons._x(10 * 60), TOP + ROW * 0.5)

    def wheel(modifier, turn):
        qapp.sendEvent(
            ribbons,
            QWheelEvent(
                point,
                ribbons.mapToGlobal(point),
                QPoint(),
                QPoint(0, turn),
                Qt.MouseButton.NoButton,
                modifier,
                Qt.ScrollPhase.NoScrollPhase,
                False,
            ),
        )

    def level():
        return window.session.shown.job.loads[0].patterns["CLINIC"][0].level

    wheel(Qt.KeyboardModifier.NoModifier, -120)
    assert level() == 1.0, "a load that is not chosen is only scrolled past"
    window.session.select("LD1")
    wheel(Qt.KeyboardModifier.NoModifier, -120)
    assert level() == 0.9
    wheel(CTRL, 120)
    assert ribbons.hours.last_min - ribbons.hours.first_min == pytest.approx(1152)
    assert ribbons.hours.minute(point.x()) == pytest.approx(600), "what is under the pointer stays there"
    assert level() == 0.9
    QTest.keyClick(ribbons, KEY.Key_Home)
    assert (ribbons.hours.first_min, ribbons.hours.last_min) == (0, 1440)


def test_a_module_goes_to_another_or_a_new_string(window):
    window.go("roof")
    view = window.bench.view("roof").leaf
    window.session.select("PV4")
    combo = view._string
    assert combo.currentData() == "S2"
    for data, expected in (("S3", "S3"), ("", ""), ("new CC2", "S5")):
        index = combo.findData(data)
        combo.activated.emit(index)
        assert next(one.string for one in window.session.shown.job.roof.modules if one.tag == "PV4") == expected
    assert window.session.shown.job.roof.strings[-1].controller == "CC2"


@pytest.mark.parametrize("name", ["demo:eye-clinic", "demo:puppet-theatre", "demo:library-bus"])
def test_nothing_scrolls_or_is_cut_at_the_size_it_is_designed_for(open_window, qapp, name):
    """1280 x 800: every leaf with its figures is on one screen, and every word over a field or a figure is whole."""
    window = open_window(name)
    small = QFontMetricsF(scaled(NAME_POINTS))
    for step in (one.key for one in STEPS):
        window.go(step)
        view = window.bench.view(step)
        for leaf in view.leaf_names:
            if leaf:
                view.turn_to(leaf)
            qapp.processEvents()
            assert window.bench._areas[step].verticalScrollBar().maximum() == 0, (step, leaf)
            for label in view.findChildren(QLabel):
                if label.isVisible() and not label.wordWrap():
                    assert label.fontMetrics().horizontalAdvance(label.text()) <= label.width() + 1, (
                        step,
                        leaf,
                        label.text(),
                    )
            for shown in view.findChildren(FigureButton):
                if shown.isVisible() and shown.figure is not None:
                    room = QRectF(0, 0, shown.width() - 8, shown.height() - 19)
                    needed = small.boundingRect(room, int(Qt.TextFlag.TextWordWrap), shown.figure.name)
                    assert (
                        shown.height() == shown.parentWidget().height()
                        and shown.parentWidget().geometry().bottom() <= view.height()
                    )
                    assert needed.height() <= room.height() and needed.width() <= room.width() + 1, (
                        step,
                        leaf,
                        shown.figure.name,
                    )


@pytest.mark.parametrize("seed", range(3))
def test_the_findings_stand_in_order_one_under_another(open_window, qapp, seed):
    """Whatever comes and goes: a card for each, in their order, whole, none on another; nothing else takes room."""
    dice = random.Random(seed)
    window = open_window("demo:eye-clinic")
    panel, session = window.bench.findings, window.session
    panel._which.setChecked(True)
    faults = [
        set_value("site.record_low_c", -44.0, ""),
        set_value("roof.cable", "18 AWG", ""),
        set_value("bank.spec.fuse_a", None, ""),
        set_value("inverters.neutral_a", 5.0, ""),
        set_value("wiring.main_lead_m", 9.0, ""),
        set_value("roof.losses.shade", 1.0, ""),
        set_value("vehicle.axles[A1].limit_kg", 5000.0, ""),
        set_value("roof.modules[PV3].x_m", 1.2, ""),
    ]
    for _ in range(12):
        deed = dice.choice(
            [*(lambda fault=fault: session.apply(fault) for fault in faults), session.undo, session.undo]
        )
        deed()
        for _ in range(5):
            qapp.processEvents()
        cards = panel.cards()
        assert [card.finding for card in cards] == list(session.shown.findings)
        assert [card._sentence.text() for card in cards] == [one.sentence() for one in session.shown.findings]
        tops = [card.geometry() for card in cards]
        assert all(above.bottom() < below.top() for above, below in itertools.pairwise(tops))
        for card in cards:
            assert card.height() >= card._sentence.y() + card._sentence.heightForWidth(card._sentence.width())
            assert sum(one.isVisible() for one in card._remedies) == min(
                3, len(card.finding.remedies)
            ) and card._advice.isVisible() == bool(card.finding.rule.advice)
        assert panel._holder.height() >= (tops[-1].bottom() if tops else 0)


@pytest.mark.parametrize("colours", ["light", "dark"])
def test_selecting_shows_on_the_strip_and_in_the_instruments(open_window, colours):
    """A selected item is drawn differently wherever it is drawn."""
    window = open_window("demo:eye-clinic", look=colours)
    for step, tag in (
        ("place", "DB1"),
        ("bank", "BP2"),
        ("roof", "PV3"),
        ("brief", "LD4"),
        ("inverters", "LD4"),
        ("wiring", "W-CC1"),
    ):
        window.go(step)
        canvases = [canvas for canvas in window.bench.view(step).findChildren(Canvas) if canvas.isVisible()]
        window.session.select()
        before = [canvas.grab().toImage() for canvas in canvases]
        window.session.select(tag)
        after = [canvas.grab().toImage() for canvas in canvases]
        assert any(one != other for one, other in zip(before, after, strict=True)), (step, tag)


def test_what_is_wrong_is_drawn_wrong(window, qapp):
    """Clashing modules, items and cables too thin look different from sound ones."""
    for step, edit in (
        ("roof", move_on_roof("PV1", 3.0, -0.577)),
        ("place", move(("INV1",), dx_m=0.3)),
        ("wiring", set_value("wiring.conductors[W-INV1]", "10 AWG", "Thin")),
        ("charging", set_value("bank.spec.charge_a", 20.0, "Less")),
        ("vehicle", set_value("vehicle.axles[A1].limit_kg", 6000.0, "Lower plate")),
        ("settings", set_value("settings.own_values[float_v]", 57.0, "High float")),
    ):
        window.go(step)
        canvases = [one for one in window.bench.view(step).findChildren(Canvas) if one.isVisible()]
        stop = QColor(look().stop)

        def red(canvases=canvases, stop=stop):
            """Pixels of about the Stop colour (edges of slanted lines are blended), once everything has its size."""
            for _ in range(5):
                qapp.processEvents()
            images = [canvas.grab().toImage() for canvas in canvases]
            pixels = (
                image.pixelColor(x, y)
                for image in images
                for x in range(image.width())
                for y in range(0, image.height(), 2)
            )
            return sum(
                abs(one.red() - stop.red()) + abs(one.green() - stop.green()) + abs(one.blue() - stop.blue()) < 60
                for one in pixels
            )

        before = red()
        assert window.session.apply(edit) is None
        assert red() > before, step
        window.session.undo()


def test_metric_and_us_show_the_same_job(open_window):
    """Every length and mass on the pack and the tell line is the same quantity in either system."""
    window = open_window("demo:eye-clinic")
    design = window.session.shown.design
    for _, figure in design.figures():
        if figure.unit in ("kg", "m") and math.isfinite(figure.value):
            metric, us = show(figure.value, figure.unit, "metric"), show(figure.value, figure.unit, "us")
            number = float(us.split("\u00a0lb")[0].split("\u00a0ft")[0].replace("\u00a0", "").replace("−", "-"))
            factor = 0.45359237 if figure.unit == "kg" else 0.3048
            assert number * factor == pytest.approx(figure.value, rel=0.01, abs=0.3), (metric, us)
    window.set_units("us")
    QApplication.processEvents()
    assert window.bench.tell.system == "us" and window.bench.strip.system == "us"
