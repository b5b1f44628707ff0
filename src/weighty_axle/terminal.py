"""The terminal the program was started from: what it can show, and whether there is a display for a window."""

from __future__ import annotations

import codecs
import io
import os
import socket
import sys
import unicodedata
from pathlib import Path

_AS_ASCII = {
    "–": "-",
    "—": "-",
    "−": "-",
    "…": "...",
    "×": "x",
    "·": "-",
    "Ω": "ohm",
    "°": "deg ",
    "²": "2",
    "³": "3",
    "µ": "u",
    "“": '"',
    "”": '"',
    "’": "'",
    "\u00a0": " ",
    "\u202f": " ",
    "≤": "<=",
    "≥": ">=",
    "→": "->",
    "√": "sqrt",
    "Δ": "d",
}


def _readable(error: UnicodeError) -> tuple[str, int]:
    """What stands for letters that the terminal's encoding does not have: the nearest plain ones, or a question
    mark.
    """
    assert isinstance(error, UnicodeEncodeError)
    found = []
    for letter in error.object[error.start : error.end]:
        plain = _AS_ASCII.get(letter) or unicodedata.normalize("NFKD", letter).encode("ascii", "ignore").decode()
        found.append(plain or "?")
    return "".join(found), error.end


codecs.register_error("readable", _readable)


def make_readable() -> None:
    """Let what is printed never fail for want of a letter."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="readable")


def print_utf8(text: str) -> None:
    """Print open data: UTF-8 whatever the terminal's encoding is."""
    raw = getattr(sys.stdout, "buffer", None)
    if raw is None:
        print(text)
    else:
        sys.stdout.flush()
        raw.write(text.encode("utf-8", "replace") + b"\n")
        raw.flush()


def has_display() -> bool:
    """Whether a window can be shown: a platform without a display was asked for, or a display answers."""
    if os.environ.get("QT_QPA_PLATFORM", "").partition(":")[0] in ("offscreen", "minimal", "vnc", "linuxfb", "eglfs"):
        return True
    return _wayland() or _x11(os.environ.get("DISPLAY", ""))


def _wayland() -> bool:
    name = os.environ.get("WAYLAND_DISPLAY", "")
    return bool(name) and _answers(socket.AF_UNIX, str(Path(os.environ.get("XDG_RUNTIME_DIR", "/run/user/0")) / name))


def _x11(display: str) -> bool:
    host, _, number = display.rpartition(":")
    number = number.partition(".")[0]
    if not number.isdigit():
        return False
    if host in ("", "unix") or host.startswith("/"):
        return any(_answers(socket.AF_UNIX, f"{start}/tmp/.X11-unix/X{number}") for start in ("", "\0"))
    return _answers(socket.AF_INET, (host, 6000 + int(number)))


def _answers(family: socket.AddressFamily, address: str | tuple[str, int]) -> bool:
    with socket.socket(family, socket.SOCK_STREAM) as probe:
        probe.settimeout(3)
        try:
            probe.connect(address)
        except (OSError, OverflowError):
            return False
    return True
