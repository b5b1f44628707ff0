"""Pictures of the main views, made from the demo jobs by one command."""

from __future__ import annotations

import os
from pathlib import Path
from time import monotonic

from weighty_axle.steps import STEPS

SIZE = (1280, 800)
SETTLING_S = 2.0
LONGEST_S = 60.0
"""So long at most for what a view works out by itself: the first year on a machine waits for compiled code."""
# Demo, step, leaf of the step ('' for the first), look: the first leaf of every step, and the leaves that are
# instruments of their own.
VIEWS = (
    *(("eye-clinic", step.key, "", "light") for step in STEPS),
    ("library-bus", "wiring", "Protection", "dark"),
    ("puppet-theatre", "settings", "Sheets", "dark"),
    ("eye-clinic", "first_power", "Rehearse", "dark"),
)


def take_all(folder: Path) -> int:
    """Write one PNG per main view into a folder. Without a display the offscreen platform is used."""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    import numpy  # noqa: F401  # so that honest peaks are in the first picture

    from weighty_axle.desk.app import make_application
    from weighty_axle.desk.frame.window import Window
    from weighty_axle.desk.kit.theme import apply_look
    from weighty_axle.desk.work.preferences import Preferences

    application = make_application()
    folder.mkdir(parents=True, exist_ok=True)
    for demo, step, leaf, colours in VIEWS:
        apply_look(application, colours, 1.0)
        window = Window(Preferences(look=colours, safety_read=True), None)
        window.resize(*SIZE)
        window.open_name(f"demo:{demo}")
        window.go(step)
        window.show()
        assert window.bench is not None
        window.bench.turn_to(leaf)
        if step == "bank":
            assert window.session is not None
            window.bench.open_figure(window.session.shown.design.bank.days)
        # Words of more lines than usual ask for another go at the layout; quiet answers arrive a moment later.
        shown, on_show = monotonic(), window.bench.view(step).leaf
        answered = shown
        while monotonic() - answered < SETTLING_S:
            application.processEvents()
            if not on_show.settled and monotonic() - shown < LONGEST_S:
                answered = monotonic()
        name = "-".join((demo, step, *leaf.lower().split(), colours))
        window.grab().save(str(folder / f"{name}.png"))
        window.close()
    return 0
