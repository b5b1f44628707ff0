"""Where errors nobody expected are written down."""

from __future__ import annotations

import sys
import traceback
from pathlib import Path

from weighty_axle.desk.work.preferences import state_folder

_ENOUGH_BYTES = 4 * 1024 * 1024


def log_error(error: BaseException) -> Path:
    """Add an error with its trace to the log, or to the terminal where there can be none; returns where the log is."""
    path = state_folder() / "errors.log"
    try:
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        anew = path.exists() and path.stat().st_size > _ENOUGH_BYTES
        with path.open("w" if anew else "a", encoding="utf-8", errors="backslashreplace") as log:
            traceback.print_exception(error, file=log)
    except OSError:
        traceback.print_exception(error, file=sys.stderr)
    return path
