"""Everything that can be found or done in the window, for find-or-do and the Job menu."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from weighty_axle import demos
from weighty_axle.desk.commands import Command
from weighty_axle.desk.text import tr
from weighty_axle.desk.widgets.rail import TITLES
from weighty_axle.reference.vehicle_types import vehicle_types

if TYPE_CHECKING:
    from weighty_axle.desk.window import Window


_GROUPS = ("job", "recent", "print", "tables", "look", "units", "demos", "undo")


def all_commands(window: Window) -> list[Command]:
    """Everything that can be found or done."""
    first = Command(tr("Open a job…"), "Ctrl+O", window.jobs.browse, "job")
    found = [
        Command(tr("Look: workshop (light)"), "", partial(window.set_look, "light"), "look"),
        Command(tr("Look: night (dark)"), "", partial(window.set_look, "dark"), "look"),
        Command(tr("Text larger"), "", partial(window.set_text_scale, window.preferences.text_scale + 0.1), "look"),
        Command(tr("Text smaller"), "", partial(window.set_text_scale, window.preferences.text_scale - 0.1), "look"),
        Command(tr("Units: metric"), "", partial(window.set_units, "metric"), "units"),
        Command(tr("Units: US"), "", partial(window.set_units, "us"), "units"),
    ]
    found += [Command(tr("Open demo {name}").format(name=name), "", partial(window.open_name, f"demo:{name}"), "demos") for name in demos.names()]
    found += [
        Command(tr("New job from a {title}").format(title=kind.title), "", partial(window.jobs.new_from_type, kind.key))
        for kind in vehicle_types().rows
    ]
    found += [Command(tr("New job like {name}").format(name=name), "", partial(window.jobs.new_like, name)) for name in demos.names()]
    found += [Command(tr("Open {path}").format(path=path), "", partial(window.open_name, path), "recent") for path in window.preferences.recent]
    return [first, *(_job_commands(window) if window.session is not None else ()), *found]


def _job_commands(window: Window) -> list[Command]:
    assert window.session is not None and window.bench is not None
    session, bench = window.session, window.bench
    found = [Command(tr("Go to {step}").format(step=TITLES[step]), str(index + 1), partial(window.go, step)) for index, step in enumerate(TITLES)]
    if session.undo_label:
        found.append(Command(tr("Undo: {label}").format(label=session.undo_label), "Ctrl+Z", window.undo))
    if session.redo_label:
        found.append(Command(tr("Redo: {label}").format(label=session.redo_label), "Ctrl+Shift+Z", window.redo))
    found += [
        Command(tr("Save"), "Ctrl+S", window.save, "job"),
        Command(tr("Save as…"), "Ctrl+Shift+S", window.jobs.save_as, "job"),
        Command(tr("Print the pack…"), "Ctrl+P", window.print_pack, "print"),
        Command(tr("Print a blank survey sheet…"), "", partial(window.files.do, "survey blank"), "print"),
        Command(tr("Print the survey sheet as filled so far…"), "", partial(window.files.do, "survey filled"), "print"),
        Command(tr("Take in loads from a table…"), "", partial(window.files.do, "loads in"), "tables"),
        Command(tr("Write the loads as a table…"), "", partial(window.files.do, "loads out"), "tables"),
        Command(tr("Show or fold the long section"), "F9", window.toggle_strip, "look"),
    ]
    found += bench.view(bench.step).commands()
    for one in session.shown.findings:
        for remedy in one.remedies:
            found.append(Command(tr("Put right: {label}").format(label=remedy.label), "", partial(window.apply, remedy)))
    found += [
        Command(tr("Find {tag}: {name}").format(tag=item.tag, name=item.name), "", partial(session.select, item.tag))
        for item in session.shown.design.items
    ]
    found += [
        Command(tr("Workings: {name}").format(name=figure.name), "", partial(bench.open_figure, figure))
        for _, figure in session.shown.design.figures()
    ]
    return found


def menu_commands(window: Window) -> list[Command]:
    """Commands of the Job menu, group by group; a step of the undo list takes back everything after it too."""
    undone = window.session.undo_steps() if window.session is not None else ()
    undo = [
        Command(tr("Undo: {label}").format(label=label), "", partial(window.undo_times, index + 1), "undo") for index, label in enumerate(undone[:12])
    ]
    return sorted((one for one in all_commands(window) + undo if one.menu), key=lambda one: _GROUPS.index(one.menu))
