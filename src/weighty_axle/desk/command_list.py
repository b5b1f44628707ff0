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


def all_commands(window: Window) -> list[Command]:
    """Everything that can be found or done."""
    found = [
        Command(tr("Open a job…"), "Ctrl+O", window.browse),
        Command(tr("Look: workshop (light)"), "", partial(window.set_look, "light")),
        Command(tr("Look: night (dark)"), "", partial(window.set_look, "dark")),
        Command(tr("Text larger"), "", partial(window.set_text_scale, window.preferences.text_scale + 0.1)),
        Command(tr("Text smaller"), "", partial(window.set_text_scale, window.preferences.text_scale - 0.1)),
        Command(tr("Units: metric"), "", partial(window.set_units, "metric")),
        Command(tr("Units: US"), "", partial(window.set_units, "us")),
    ]
    found += [Command(tr("Open demo {name}").format(name=name), "", partial(window.open_name, f"demo:{name}")) for name in demos.names()]
    found += [
        Command(tr("New job from a {title}").format(title=kind.title), "", partial(window.new_from_type, kind.key)) for kind in vehicle_types().rows
    ]
    found += [Command(tr("New job like {name}").format(name=name), "", partial(window.new_like, name)) for name in demos.names()]
    found += [Command(tr("Open {path}").format(path=path), "", partial(window.open_name, path)) for path in window.preferences.recent]
    return _job_commands(window) + found if window.session is not None else found


def _job_commands(window: Window) -> list[Command]:
    assert window.session is not None and window.bench is not None
    session, bench = window.session, window.bench
    found = [Command(tr("Go to {step}").format(step=TITLES[step]), str(index + 1), partial(window.go, step)) for index, step in enumerate(TITLES)]
    if session.undo_label:
        found.append(Command(tr("Undo: {label}").format(label=session.undo_label), "Ctrl+Z", window.undo))
    if session.redo_label:
        found.append(Command(tr("Redo: {label}").format(label=session.redo_label), "Ctrl+Shift+Z", window.redo))
    found += [
        Command(tr("Save"), "Ctrl+S", window.save),
        Command(tr("Save as…"), "Ctrl+Shift+S", window.save_as),
        Command(tr("Print the pack…"), "Ctrl+P", window.print_pack),
        Command(tr("Print a blank survey sheet…"), "", partial(window.files.do, "survey blank")),
        Command(tr("Print the survey sheet as filled so far…"), "", partial(window.files.do, "survey filled")),
        Command(tr("Take in loads from a table…"), "", partial(window.files.do, "loads in")),
        Command(tr("Write the loads as a table…"), "", partial(window.files.do, "loads out")),
        Command(tr("Show or fold the long section"), "F9", window.toggle_strip),
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


_NOT_IN_MENU = tuple(
    tr(words)
    for words in ("Go to ", "Find ", "Workings: ", "Undo: ", "Put right: ", "Turn to ", "Copy ", "New job from ", "Mirror ", "Shift ", "Keep ")
)


def menu_commands(window: Window) -> list[Command]:
    """Commands of the Job menu: files, look, and the undo list; a step of the list takes back everything after it too."""
    undone = window.session.undo_steps() if window.session is not None else ()
    undo = [Command(tr("Undo: {label}").format(label=label), "", partial(window.undo_times, index + 1)) for index, label in enumerate(undone[:12])]
    return [one for one in all_commands(window) if not one.words.startswith(_NOT_IN_MENU)] + undo
