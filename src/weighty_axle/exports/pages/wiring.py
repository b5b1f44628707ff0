"""The main DC runs."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.wiring.choices import choice_name
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import conductor_words, show


def pages(on: PackPages) -> list[Any]:
    """Runs with fuse, conductor and drop."""
    rows = [["Run", "From – to", "One way", "Current", "Fuse", "Conductor", "Drop"]]
    for run in on.design.wiring.runs:
        chosen = (
            "none fits"
            if run.chosen is None
            else conductor_words(choice_name(run.chosen)) + (" (own choice)" if run.own_choice else "")
        )
        rows.append(
            [
                run.tag,
                f"{run.start} – {run.end}",
                show(run.length_m.value, "m", on.system),
                show(run.current_a.value, "A"),
                f"{show(run.fuse_a.value, 'A')} {run.fuse_kind.name}",
                chosen,
                show(run.drop_share.value, "1"),
            ]
        )
    return [on.text("Main DC runs", on.head), on.table(rows, (0.12, 0.15, 0.11, 0.12, 0.25, 0.16, 0.09))]
