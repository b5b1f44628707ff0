"""Commands: what can be found or done, and where in the Job menu it stands, apart from how it is shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, get_args

from msgspec import Struct

MenuGroup = Literal["job", "recent", "print", "tables", "look", "units", "demos", "undo"]
"""Groups of the Job menu, in order."""


class Command(Struct, frozen=True):
    """Something that can be done: what it is called, its key where it has one, the doing, and its group in the Job menu
    where it stands there.
    """

    words: str
    key: str
    do: Callable[[], None]
    menu: MenuGroup | None = None


def matches(typed: str, commands: list[Command]) -> list[Command]:
    """Commands whose words hold all typed parts, those that start with them first."""
    parts = typed.lower().split()
    found = [command for command in commands if all(part in command.words.lower() for part in parts)]
    return sorted(found, key=lambda one: not one.words.lower().startswith(typed.lower().strip()))


def in_menu(commands: list[Command]) -> list[Command]:
    """Commands of the Job menu, group by group."""
    order = {group: at for at, group in enumerate(get_args(MenuGroup))}
    placed = [(order[command.menu], command) for command in commands if command.menu is not None]
    return [one for _, one in sorted(placed, key=lambda pair: pair[0])]
