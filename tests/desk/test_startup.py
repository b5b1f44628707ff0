"""What the first screen pays for."""

from __future__ import annotations

import os
import subprocess
import sys

SCRIPT = """
import sys, time
from PySide6.QtCore import QEvent, QObject
from weighty_axle.desk.app import make_application
from weighty_axle.desk.work.preferences import Preferences
from weighty_axle.desk.kit.theme import apply_look
from weighty_axle.desk.frame.window import Window
application = make_application()
apply_look(application, "light", 1.0)
class AtFirstPaint(QObject):
    told = False
    def eventFilter(self, watched, event):
        if event.type() == QEvent.Type.Paint and type(watched).__name__ == "Silhouette" and not self.told:
            self.told = True
            heavy = ("numpy", "scipy", "reportlab", "jsonschema", "PIL")
            print(*sorted(name for name in sys.modules if name.partition(".")[0] in heavy
                  or name.startswith("weighty_axle.desk.steps.") and name.endswith(".view")))
        return False
watch = AtFirstPaint()
application.installEventFilter(watch)
window = Window(Preferences(safety_read=True), None)
window.open_name("demo:eye-clinic")
# However slow the machine, nothing may be fetched before the paint.
time.sleep(0.5)
window.show()
application.processEvents()
application.removeEventFilter(watch)
"""


def test_nothing_heavy_is_imported_before_the_first_paint():
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT],
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )
    assert done.stdout.split() == ["weighty_axle.desk.steps.brief.view"]
    assert not done.stderr.strip()


def test_qt_calls_leave_none_alone():
    """A Qt binding that hands out None without counting it aborts the interpreter after some thousand calls."""
    from PySide6.QtCore import QObject

    thing = QObject()
    before = sys.getrefcount(None)
    for _ in range(500):
        thing.setObjectName("x")
    assert abs(sys.getrefcount(None) - before) < 100
