"""Pictures of the main views, made from the demo jobs by one command."""

from __future__ import annotations

import os
from pathlib import Path

SIZE = (1280, 800)
VIEWS = (
    ("eye-clinic", "brief", "light"), ("eye-clinic", "vehicle", "light"), ("eye-clinic", "bank", "light"), ("eye-clinic", "inverters", "light"),
    ("eye-clinic", "roof", "light"), ("eye-clinic", "charging", "light"), ("eye-clinic", "place", "light"), ("eye-clinic", "wiring", "light"),
    ("eye-clinic", "settings", "light"), ("puppet-theatre", "place", "light"), ("eye-clinic", "brief", "dark"), ("eye-clinic", "roof", "dark"),
    ("puppet-theatre", "wiring", "dark"),
)  # fmt: skip


def take_all(folder: Path) -> int:
    """Write one PNG per main view into a folder. Without a display the offscreen platform is used."""
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from weighty_axle.desk.app import make_application
    from weighty_axle.desk.preferences import Preferences
    from weighty_axle.desk.theme import apply_look
    from weighty_axle.desk.window import Window
    from weighty_axle.rules.registry import STEPS

    application = make_application()
    folder.mkdir(parents=True, exist_ok=True)
    for demo, step, colours in VIEWS:
        apply_look(application, colours, 1.0)
        window = Window(Preferences(look=colours, safety_read=True), None)
        window.resize(*SIZE)
        window.open_name(f"demo:{demo}")
        window.go(next(one for one in STEPS if one == step))
        window.show()
        assert window.bench is not None
        if step == "bank":
            window.bench.open_figure(window.session.shown.design.bank.days)  # type: ignore[union-attr]  # the demo is open
        application.processEvents()
        window.grab().save(str(folder / f"{demo}-{step}-{colours}.png"))
        window.close()
    return 0
