"""Power cuts: the real program is killed in the middle of edits and saves, and nothing that was done is lost."""

from __future__ import annotations

import os
import subprocess
import sys
import time

import pytest
from msgspec.structs import replace

from tests.attacks.kills import kill
from weighty_axle.desk.work.keeping import Keeper, KeptState
from weighty_axle.job.files import journal, store


@pytest.mark.parametrize("seed", range(2))
@pytest.mark.skipif(os.environ.get("QT_QPA_PLATFORM") == "xcb", reason="killing a client says nothing more under Xvfb")
def test_kill_minus_9_tears_loses_and_leaves_nothing(tmp_path, clinic, seed):
    """Twelve kills a seed while the real window edits, saves in the background and starts: the next start finds the
    newest edit, and nothing stale.
    """
    path = tmp_path / "job.axle"
    store.save(clinic, path)
    tally = kill(path, tmp_path / "journal", 12, seed)
    assert (tally.torn, tally.lost, tally.stale, tally.strays) == (0, 0, 0, 0), tally
    assert tally.kills == 12 and tally.edits >= 12


LAUNCH = """
import sys
from PySide6.QtCore import QTimer
from weighty_axle.desk.frame import window as module
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
    done = subprocess.run(
        [sys.executable, "-c", LAUNCH, *arguments], capture_output=True, text=True, timeout=60, check=True
    )
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


def test_steps_that_follow_one_another_closely_are_written_as_first_and_last(tmp_path, puppet):
    """A drag is not written step by step, yet what it came to is on the disk soon after the last step."""
    keeper = Keeper(tmp_path)
    lines, deadline = [], time.monotonic() + 5
    for step in range(40):
        job = replace(puppet, name=f"Step {step}")
        keeper.keep(KeptState(job=job, header=journal.Header("", step, f"Step {step}", time.time()), in_file=()))
        time.sleep(0.01)
    while b"Step 39" not in b"".join(lines) and time.monotonic() < deadline:
        time.sleep(0.05)
        lines = [line for file in tmp_path.rglob("*") if file.is_file() for line in file.read_bytes().splitlines()]
    kept = [line for line in lines if b'"Step' in line]
    assert b"Step 0" in kept[0] and b"Step 39" in kept[-1] and len(kept) <= 6
    keeper.close()
