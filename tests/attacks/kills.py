"""Power cuts: the real window is killed in the middle of edits, savings and starts, and the next start finds everything
and nothing stale.
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

from msgspec import Struct

from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.files import journal, store
from weighty_axle.job.files.disk import tidy

DRIVER = """
import sys
from pathlib import Path
from PySide6.QtCore import QTimer
from weighty_axle.desk.app import make_application
from weighty_axle.desk.work.preferences import Preferences
from weighty_axle.desk.kit.theme import apply_look
from weighty_axle.desk.frame.window import Window
from weighty_axle.job.files import journal, store
from weighty_axle.job.edits.edit import set_value

path, root, n = Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3])
application = make_application()
apply_look(application, "light", 1.0)
window = Window(Preferences(safety_read=True), root)
found = journal.left_behind(root)
if found:
    window.jobs.offer_recovery(found)
    window.jobs._keep_recovered()
else:
    window.jobs.open_file(path)
window.show()
print("begun", flush=True)

def edit():
    global n
    n += 1
    window.session.apply(set_value("notes", f"edit {n}", f"Edit {n}"))
    print(f"made {n}", flush=True)
    if n % 7 == 0:
        window.jobs.wait()
        window.session.save(path)
        print(f"saved {n}", flush=True)
    elif n % 5 == 0:
        window.save()
    elif n % 3 == 0:
        window.session.flush()
        print(f"kept {n}", flush=True)
    elif n % 23 == 0:
        window.jobs.wait()
        window.session.save(path)
        window.session.close()
        print(f"saved {n}", flush=True)
        application.quit()

timer = QTimer()
timer.timeout.connect(edit)
timer.start(3)
application.exec()
"""


class Tally(Struct):
    """What some kills came to. Edits lost are those older than two seconds, or that were said to be safe."""

    kills: int = 0
    edits: int = 0
    torn: int = 0
    lost: int = 0
    stale: int = 0
    strays: int = 0
    not_begun: int = 0


def kill(path: Path, root: Path, kills: int, seed: int) -> Tally:
    """Kill the program so many times at random moments; `path` holds a job whose notes count its edits."""
    dice, tally, reached = random.Random(seed), Tally(), 0
    for _ in range(kills):
        with subprocess.Popen(
            [sys.executable, "-c", DRIVER, str(path), str(root), str(reached)],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
        ) as process:
            assert process.stdout is not None
            # Some while it starts; the others after so many lines, on a slow machine too, and a little later.
            begun = [process.stdout.readline() for _ in range(dice.randrange(1, 25))] if dice.random() < 0.85 else []
            time.sleep(dice.uniform(0, 0.02) if begun else dice.uniform(0, 0.9))
            killed = time.monotonic()
            process.send_signal(signal.SIGKILL)
            lines = [*(line.strip() for line in begun), *process.stdout.read().splitlines()]
        tally.kills += 1
        tally.not_begun += not any(lines)
        safe = max([_number(line) for line in lines if line.startswith(("saved", "kept"))], default=reached)
        made = max([_number(line) for line in lines if line.startswith("made")], default=reached)
        tally.edits += max(0, made - reached)
        reached = _next_start(path, root, safe, tally)
        assert time.monotonic() - killed < 60
    return tally


def _next_start(path: Path, root: Path, safe: int, tally: Tally) -> int:
    """What the next start would find; returns the newest edit there is."""
    try:
        in_file = _number(store.load(path).notes)
    except JobError:
        tally.torn += 1
        return safe
    found = journal.left_behind(root)
    offered = [_number(one.job.notes) for one in found if not one.stale]
    tally.stale += sum(number <= in_file for number in offered) + sum(one.stale for one in found)
    if offered and offered[0] != max(offered):
        tally.stale += 1
    newest = max([in_file, *offered])
    tally.lost += newest < safe
    tidy(path.parent)
    tally.strays += sum(
        one.name.startswith(".weighty-axle-")
        for folder in (path.parent, root, *(one.folder for one in found))
        if folder.is_dir()
        for one in folder.iterdir()
    )
    return newest


def _number(text: str) -> int:
    word = text.split()[-1] if text else ""
    return int(word) if word.isdigit() else 0
