"""The day it is, and who signs: asked in one place, so that tests and pictures can say another."""

from __future__ import annotations

from datetime import date
from typing import ClassVar


def today() -> date:
    """The day it is."""
    return date.today()


class Signing:
    """Whose initials stand under what is ticked off, as long as the program runs."""

    initials: ClassVar[str] = ""


def signed() -> tuple[str, str]:
    """Day and initials of what is ticked off now."""
    return today().isoformat(), Signing.initials
