"""Power cuts: the real program is killed in the middle of edits and saves, and nothing that was done is lost."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time

import pytest

from weighty_axle.job import journal, store

DRIVER = """
import sys
from pathlib import Path
from PySide6.QtCore import QTimer
from weighty_axle import demos
from weighty_axle.desk.app import make_application
from weighty_axle.desk.preferences import Preferences
from weighty_axle.desk.theme import apply_look
from weighty_axle.desk.window import Window
from weighty_axle.job import store
from weighty_axle.job.edits import set_value

path, root, start = Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3])
application = make_application()
apply_look(application, "light", 1.0)
window = Window(Preferences(safety_read=True), root)
window.start(store.load(path), path)
window.show()
n = start

def edit():
    global n
    n += 1
    window.session.apply(set_value("notes", f"edit {n}", f"Edit {n}"))
    if n % 4 == 0:
        window.session.save(path)
        print(f"saved {n}", flush=True)
    elif n % 3 == 0:
        window.session.flush()
        print(f"kept {n}", flush=True)

timer = QTimer()
timer.timeout.connect(edit)
timer.start(1)
application.exec()
"""


def _number(text: str) -> int:
    return int(text.split()[-1]) if text else 0


@pytest.mark.parametrize("seed", range(3))
@pytest.mark.skipif(os.environ.get("QT_QPA_PLATFORM") == "xcb", reason="killing a client says nothing more under Xvfb")
def test_kill_minus_9_loses_nothing_that_was_acknowledged(tmp_path, clinic, seed):
    """Ten kills a seed at random moments: the file is always whole, and file or journal holds the last acknowledged edit."""
    dice = random.Random(seed)
    path, root = tmp_path / "job.axle", tmp_path / "journal"
    store.save(clinic, path)
    reached = 0
    for _ in range(10):
        process = subprocess.Popen(
            [sys.executable, "-c", DRIVER, str(path), str(root), str(reached)],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
        )
        assert process.stdout is not None
        first = process.stdout.readline()
        time.sleep(dice.uniform(0, 0.12))
        process.send_signal(signal.SIGKILL)
        lines = [first, *process.stdout.read().splitlines()]
        process.wait()
        process.stdout.close()
        acknowledged = max(_number(line) for line in lines if line.strip())
        saved = max((_number(line) for line in lines if line.startswith("saved")), default=0)
        notes = store.load(path).notes
        in_file = _number(notes) if notes.startswith("edit ") else 0
        assert in_file >= saved, "the file is whole and at least as new as the last save that returned"
        found = journal.left_behind(root)
        newest = max([in_file] + [_number(one.job.notes) for one in found])
        assert newest >= acknowledged, (newest, acknowledged)
        for one in found:
            journal.discard(one.folder)
        reached = newest
    assert reached >= 10, "an edit at least between two kills"


LAUNCH = """
import sys
from PySide6.QtCore import QTimer
from weighty_axle.desk import window as module
show = module.Window.showEvent
def shown(self, event):
    show(self, event)
    def tell():
        name = self.session.shown.job.name if self.session else "no job"
        print(name, "|", self.notice.text.text() if self.notice.isVisible() else "", flush=True)
        if self.session:
            self.session._saved_job = self.session.shown.job
        self.close()
    QTimer.singleShot(50, tell)
module.Window.showEvent = shown
from weighty_axle.cli import main
sys.exit(main(sys.argv[1:]))
"""


def _launch(*arguments: str) -> str:
    done = subprocess.run([sys.executable, "-c", LAUNCH, *arguments], capture_output=True, text=True, timeout=60, check=True)
    assert "Traceback" not in done.stderr, done.stderr
    return done.stdout.strip()


def test_the_program_starts_with_nothing_a_demo_a_file_and_a_wrong_name(tmp_path, puppet):
    path = tmp_path / "theatre.axle"
    store.save(puppet, path)
    assert _launch() == "no job |"
    assert _launch("demo") == "Harebell Eye Clinic |"
    assert _launch("demo", "puppet-theatre") == "Thistledown Puppet Theatre |"
    assert _launch(str(path)) == "Thistledown Puppet Theatre |"
    assert "cannot be opened" in _launch(str(tmp_path / "gone.axle"))


def test_the_next_start_offers_what_a_crash_left(tmp_path, puppet):
    """A journal whose program is gone is offered; one whose program still runs is left alone."""
    root = tmp_path / "state" / "weighty-axle" / "journal"
    left = journal.Journal(root)
    left.record(puppet, journal.Header("", 4, "Move DB1", time.time()))
    assert _launch() == "no job |", "its program still runs"
    left._let_go()
    assert "4 edits" in _launch() and "Move DB1" in _launch()
    assert "Unsaved work on Thistledown" in _launch("demo")
