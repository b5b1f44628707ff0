"""Commands of how the window looks: colours, size of letters, units."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.units import System


def look_commands(
    set_look: Callable[[str], None],
    set_text_scale: Callable[[float], None],
    set_units: Callable[[System], None],
    scale: float,
) -> list[Command]:
    """What can be done about the look, as it is now."""
    return [
        Command(tr("Look: workshop (light)"), "", partial(set_look, "light"), "look"),
        Command(tr("Look: night (dark)"), "", partial(set_look, "dark"), "look"),
        Command(tr("Text larger"), "", partial(set_text_scale, scale + 0.1), "look"),
        Command(tr("Text smaller"), "", partial(set_text_scale, scale - 0.1), "look"),
        Command(tr("Units: metric"), "", partial(set_units, "metric"), "units"),
        Command(tr("Units: US"), "", partial(set_units, "us"), "units"),
    ]
