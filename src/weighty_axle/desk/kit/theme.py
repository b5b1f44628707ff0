"""Two looks, workshop and night, with their colours, fonts and style sheet."""

from __future__ import annotations

from pathlib import Path

from msgspec import Struct
from msgspec.structs import asdict
from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

from weighty_axle.rules.registry import Severity


class Look(Struct, frozen=True):
    """Colours by what they mean. Text colours keep 4.5:1 on paper, panel and rail."""

    paper: str
    panel: str
    rail: str
    ink: str
    muted: str
    line: str
    track: str
    live: str
    live_soft: str
    check: str
    check_soft: str
    stop: str
    stop_soft: str
    note: str
    note_soft: str
    steel: str


LOOKS: dict[str, Look] = {
    "light": Look(
        paper="#fffef9",
        panel="#f7f4ec",
        rail="#ede7dc",
        ink="#1c1f22",
        muted="#5d5a52",
        line="#d3ccbd",
        track="#e6e0d1",
        live="#1f6b52",
        live_soft="#d9ebe2",
        check="#855500",
        check_soft="#f4e8c8",
        stop="#a02c1f",
        stop_soft="#f6dcd5",
        note="#5d5a52",
        note_soft="#e6e0d1",
        steel="#5a6675",
    ),
    "dark": Look(
        paper="#202427",
        panel="#1a1c1e",
        rail="#141617",
        ink="#efece4",
        muted="#a9a79f",
        line="#3a4046",
        track="#2d3236",
        live="#7cc7a8",
        live_soft="#24473a",
        check="#e8b44c",
        check_soft="#3a3020",
        stop="#ff9a84",
        stop_soft="#45251f",
        note="#a9a79f",
        note_soft="#2e3439",
        steel="#94a6b8",
    ),
}


class _InForce(Struct):
    """Look and fonts of the whole application; asked for hundreds of times in one repaint."""

    look: Look
    fonts: dict[tuple[float, bool], QFont]


_in_force = _InForce(LOOKS["light"], {})


def look() -> Look:
    """The look in force."""
    return _in_force.look


def severity_colours(severity: Severity) -> tuple[str, str]:
    """Text and ground colour of a severity."""
    now = look()
    return {"stop": (now.stop, now.stop_soft), "check": (now.check, now.check_soft), "note": (now.note, now.note_soft)}[
        severity
    ]


def load_fonts() -> None:
    """Register the shipped fonts with Qt."""
    for name in ("B612-Regular.ttf", "B612-Bold.ttf", "NotoSans-Regular.ttf", "NotoSans-Bold.ttf"):
        QFontDatabase.addApplicationFont(str(Path(__file__).parents[2] / "assets" / "fonts" / name))


def apply_look(application: QApplication, name: str, text_scale: float) -> None:
    """Put a look and a text size in force. What is on show is dressed by its window: see `sheet`."""
    _in_force.look = LOOKS[name]
    _in_force.fonts.clear()
    font = QFont("B612")
    font.setFamilies(["B612", "Noto Sans"])  # the second for letters the first has not
    font.setPointSizeF(9.5 * text_scale)
    application.setFont(font)
    colours = LOOKS[name]
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, colours.panel),
        (QPalette.ColorRole.Base, colours.paper),
        (QPalette.ColorRole.Text, colours.ink),
        (QPalette.ColorRole.WindowText, colours.ink),
        (QPalette.ColorRole.ButtonText, colours.ink),
        (QPalette.ColorRole.Button, colours.track),
        (QPalette.ColorRole.Highlight, colours.live),
        (QPalette.ColorRole.HighlightedText, colours.paper),
        (QPalette.ColorRole.PlaceholderText, colours.muted),
        (QPalette.ColorRole.ToolTipBase, colours.paper),
        (QPalette.ColorRole.ToolTipText, colours.ink),
    ):
        palette.setColor(role, QColor(colour))
    application.setPalette(palette)


def sheet() -> str:
    """Style sheet of the look in force, for a window.

    It is set on the window, not on the application: so what is built apart and put in whole is dressed once, not again
    with every part it is put together from.
    """
    return _SHEET % asdict(_in_force.look)


_SIZES = (6.5, 7.5, 8.5, 9.5, 11.0, 12.5, 14.0, 24.0)


def scaled(points: float, *, bold: bool = False) -> QFont:
    """Font of the nearest of a few sizes, relative to the text size in force (9.5 is body text)."""
    kept = _in_force.fonts.get((points, bold))
    if kept is None:
        nearest = min(_SIZES, key=lambda size: abs(size - points))
        kept = QFont(QApplication.font())
        kept.setPointSizeF(nearest / 9.5 * kept.pointSizeF())
        kept.setBold(bold)
        _in_force.fonts[points, bold] = kept
    return kept


_SHEET = """
QLabel#muted { color: %(muted)s; } QLabel#stop { color: %(stop)s; }
QPushButton#plain { text-align: left; padding: 5px 8px; }
QToolTip { color: %(ink)s; background: %(paper)s; border: 1px solid %(line)s; padding: 3px; }
QLineEdit, QComboBox { background: %(paper)s; border: 1px solid %(line)s; border-radius: 3px; padding: 3px 6px;
  color: %(ink)s; selection-background-color: %(live)s; selection-color: %(paper)s; }
QLineEdit:focus, QComboBox:focus { border: 2px solid %(live)s; padding: 2px 5px; }
QLineEdit#wrong { border: 2px solid %(stop)s; padding: 2px 5px; }
QComboBox QAbstractItemView { background: %(paper)s; color: %(ink)s; border: 1px solid %(line)s;
  selection-background-color: %(live_soft)s; selection-color: %(ink)s; }
QPushButton { background: transparent; color: %(live)s; border: 1px solid transparent; border-radius: 3px;
  padding: 3px 8px; text-align: center; }
QPushButton:hover { background: %(live_soft)s; }
QPushButton:focus { border: 1px solid %(live)s; }
QPushButton:disabled { color: %(muted)s; }
QPushButton#narrow { padding: 3px 3px; }
QPushButton#firm { background: %(live_soft)s; font-weight: bold; }
QPushButton:checked { background: %(live_soft)s; font-weight: bold; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QScrollBar:vertical { width: 10px; background: transparent; } QScrollBar::handle:vertical { background: %(line)s;
  border-radius: 4px; min-height: 24px; }
QScrollBar:horizontal { height: 10px; background: transparent; }
  QScrollBar::handle:horizontal { background: %(line)s; border-radius: 4px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QTableView { background: %(paper)s; border: 1px solid %(line)s; gridline-color: %(line)s;
  selection-background-color: %(live_soft)s; selection-color: %(ink)s; }
QHeaderView::section { background: %(panel)s; color: %(muted)s; border: none; border-bottom: 1px solid %(line)s;
  padding: 3px 6px; }
QListView { background: %(paper)s; border: 1px solid %(line)s; outline: none; }
QListView::item { padding: 5px 8px; } QListView::item:selected { background: %(live_soft)s; color: %(ink)s; }
QProgressBar { border: 1px solid %(line)s; border-radius: 3px; background: %(track)s; text-align: center; }
  QProgressBar::chunk { background: %(live)s; }
"""
