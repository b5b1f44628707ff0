"""The owner's page: how to live with this system."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.answers.proving.lesson import lesson
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import PackPages, Pages, write_pdf
from weighty_axle.units import System


def pages(on: PackPages) -> list[Any]:
    """The lesson in the pack."""
    return [on.text("Living with it: the owner's page", on.head), *_chapters(on, on.design, on.system)]


def _chapters(on: Pages, design: Design, system: System) -> list[Any]:
    flow: list[Any] = []
    for chapter in lesson(design, system):
        flow.append(on.text(chapter.title, on.head))
        flow += [on.text(f"– {line}") for line in chapter.lines]
    return flow


def write_lesson(design: Design, path: Path, *, today: date, system: System) -> Path:
    """Write the owner's page by itself, in larger letters. Raises OSError."""

    def story(width: float) -> list[Any]:
        on = Pages(width)
        on.body.fontSize, on.body.leading = 11, 15.5
        return [on.text(f"Living with {design.whole.name}", on.title), *_chapters(on, design, system)]

    foot = f"{design.whole.name} · {today.isoformat()}"
    write_pdf(path, f"{design.whole.name}: the owner's page", foot, design.whole.practice, story)
    return path
