"""What the program remembers between runs: a small JSON file of its own under the configuration folder."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

import msgspec

from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing
from weighty_axle.units import System


class Preferences(msgspec.Struct, frozen=True):
    """Remembered choices."""

    look: str = "light"
    text_scale: float = 1.0
    units: System = "metric"
    recent: tuple[str, ...] = ()
    safety_read: bool = False


def _folder(variable: str, fallback: str) -> Path:
    return Path(os.environ.get(variable) or home() / fallback) / "weighty-axle"


def home() -> Path:
    """The user's home; the folder of temporary files where there is none."""
    try:
        return Path.home()
    except (RuntimeError, KeyError):
        return Path(tempfile.gettempdir())


def state_folder() -> Path:
    """Where journals live (XDG state directory)."""
    return _folder("XDG_STATE_HOME", ".local/state")


def own_appliances_file() -> Path:
    """Where an installer's own appliances are kept for later jobs (XDG data directory)."""
    return _folder("XDG_DATA_HOME", ".local/share") / "appliances.json"


def own_types_file() -> Path:
    """Datasheets kept for later jobs, of every kind of part."""
    return _folder("XDG_DATA_HOME", ".local/share") / "types.json"


def _file() -> Path:
    return _folder("XDG_CONFIG_HOME", ".config") / "preferences.json"


def load() -> Preferences:
    """Remembered choices; a missing or damaged file gives the defaults."""
    try:
        kept = msgspec.json.decode(read_whole(_file(), limits.OWN_FILE_BYTES, "the preferences"), type=Preferences)
    except (UnreadableError, msgspec.MsgspecError, UnicodeDecodeError, RecursionError):
        return Preferences()
    return kept if kept.look in ("light", "dark") and 0.7 <= kept.text_scale <= 2.0 else Preferences()


def keep(preferences: Preferences) -> None:
    """Remember choices; a folder that cannot be written is no reason to stop."""
    path = _file()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with replacing(path, follow=True) as file:
            file.write(msgspec.json.format(msgspec.json.encode(preferences)))
    except OSError:
        return
