"""A job looked at in a second program beside this one: a file of its own in the user's cache, so that nothing of the
open job can be touched.
"""

from __future__ import annotations

import os
import re
import sys
from collections.abc import Callable
from pathlib import Path

from weighty_axle.job.files.store import save
from weighty_axle.job.models.document import Job

FOLDER = "looked-at"


def write_beside(job: Job, name: str, progress: Callable[[float, str], None]) -> Path:
    """Write a job into the cache under a name. Raises OSError."""
    progress(0.5, name)
    base = os.environ.get("XDG_CACHE_HOME", "")
    folder = (Path(base) if base.startswith("/") else Path.home() / ".cache") / "weighty-axle" / FOLDER
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{re.sub(r'[^A-Za-z0-9 _-]', '', name).strip()[:60] or 'state'}.axle"
    save(job, path)
    return path


def open_beside(path: Path) -> bool:
    """Open a job file in a second program; whether it could be started."""
    from PySide6.QtCore import QProcess

    started, _ = QProcess.startDetached(sys.executable, ["-m", "weighty_axle", str(path)])
    return bool(started)
