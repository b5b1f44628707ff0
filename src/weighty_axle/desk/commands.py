"""Commands: what can be found or done, apart from how it is shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from msgspec import Struct


class Command(Struct, frozen=True):
    """Something that can be done: what it is called, its key where it has one, the doing, and its group in the Job menu where it stands there."""

    words: str
    key: str
    do: Callable[[], None]
    menu: Literal["", "job", "recent", "print", "tables", "look", "units", "demos", "undo"] = ""


def matches(typed: str, commands: list[Command]) -> list[Command]:
    """Commands whose words hold all typed parts, those that start with them first."""
    parts = typed.lower().split()
    found = [one for one in commands if all(part in one.words.lower() for part in parts)]
    return sorted(found, key=lambda one: not one.words.lower().startswith(typed.lower().strip()))
